<script setup lang="ts">
import { ref } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { api, body, setToken } from '../api/client'
import { enter } from '../api/queries'
import WordMark from '../components/WordMark.vue'

const client = useQueryClient()
const username = ref('')
const password = ref('')
const trouble = ref('')
const busy = ref(false)

async function signIn(): Promise<void> {
  busy.value = true
  trouble.value = ''
  try {
    // A fresh token first: this page may have been open since before the last session ended.
    setToken((await body(api.GET('/api/session'))).token)
    enter(
      client,
      await body(api.POST('/api/session', { body: { username: username.value.trim(), password: password.value } })),
    )
  } catch (error) {
    trouble.value = error instanceof Error ? error.message : 'Signing in did not work.'
    password.value = ''
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <main id="main" class="door">
    <form class="sheet card" @submit.prevent="signIn">
      <WordMark />
      <h1>Sign in to the bench</h1>
      <v-text-field v-model="username" label="Name" autocomplete="username" autofocus />
      <v-text-field v-model="password" label="Password" type="password" autocomplete="current-password" />
      <p v-if="trouble" class="trouble" role="alert">{{ trouble }}</p>
      <v-btn class="next" type="submit" :loading="busy" :disabled="username.trim() === '' || password === ''"
        >Sign in</v-btn
      >
    </form>
  </main>
</template>

<style scoped>
.door {
  min-height: 100vh;
  display: grid;
  place-items: center;
  padding: var(--gap-6);
}
.card {
  width: 380px;
  padding: var(--gap-8);
  display: grid;
  gap: var(--gap-4);
  border-top: 8px solid var(--ribbon);
}
</style>
