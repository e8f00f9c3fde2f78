<script setup lang="ts">
import { ref } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { signIn } from '../api/session'
import WordMark from '../components/frame/WordMark.vue'
import { say } from '../lib/say'
import { vBeginHere } from '../lib/focus'

const client = useQueryClient()
const username = ref('')
const password = ref('')
const trouble = ref('')
const busy = ref(false)

async function go(): Promise<void> {
  if (busy.value) return
  busy.value = true
  trouble.value = ''
  try {
    await signIn(client, username.value.trim(), password.value)
  } catch (error) {
    trouble.value = error instanceof Error ? error.message : say('door.failed')
    password.value = ''
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <main id="main" class="door">
    <form class="sheet card" @submit.prevent="go">
      <WordMark />
      <h1>{{ say('door.title') }}</h1>
      <v-text-field v-model="username" v-begin-here :label="say('door.name')" autocomplete="username" />
      <v-text-field v-model="password" :label="say('door.password')" type="password" autocomplete="current-password" />
      <p v-if="trouble" class="trouble" role="alert">{{ trouble }}</p>
      <v-btn class="next" type="submit" :loading="busy" :disabled="username.trim() === '' || password === ''">{{
        say('door.go')
      }}</v-btn>
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
