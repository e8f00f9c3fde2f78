<script setup lang="ts">
import { ref, watch } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { useEndOwnSession, useOwnSessions } from '../../api/people'
import { changePassword, enter } from '../../api/session'
import { say } from '../../lib/say'
import PasswordField from './PasswordField.vue'
import SignInList from './SignInList.vue'
import { vBeginHere } from '../../lib/focus'

/** What a user has of their own: where they are signed in, and their password. */
defineProps<{ name: string }>()
const open = defineModel<boolean>({ required: true })
const client = useQueryClient()
const sessions = useOwnSessions(open)
const end = useEndOwnSession()
const now = ref('')
const another = ref('')
const again = ref('')
const trouble = ref('')
const busy = ref(false)

/** Nothing that was typed stays behind a closed dialog. */
watch(open, () => {
  now.value = another.value = again.value = trouble.value = ''
})

async function change(): Promise<void> {
  if (busy.value) return
  trouble.value = another.value === again.value ? '' : say('password.differs')
  if (trouble.value !== '') return
  busy.value = true
  try {
    const session = await changePassword(now.value, another.value)
    open.value = false
    enter(client, session)
  } catch (error) {
    trouble.value = error instanceof Error ? error.message : ''
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <v-dialog v-model="open" aria-labelledby="password-title">
    <form class="sheet pad own" @submit.prevent="change">
      <h2>{{ say('users.signed_in') }}</h2>
      <p v-if="sessions.error.value ?? end.error.value" class="trouble" role="alert">
        {{ (sessions.error.value ?? end.error.value)?.message }}
      </p>
      <SignInList
        :sessions="sessions.data.value ?? []"
        :name="name"
        :busy="end.isPending.value"
        @end="end.mutate($event)"
      />
      <h2 id="password-title">{{ say('password.title') }}</h2>
      <p>{{ say('password.why') }}</p>
      <PasswordField v-model="now" v-begin-here :label="say('password.now')" />
      <PasswordField v-model="another" :label="say('password.another')" is-new />
      <PasswordField v-model="again" :label="say('password.again')" is-new />
      <p v-if="trouble !== ''" class="trouble" role="alert">{{ trouble }}</p>
      <div class="buttons">
        <v-btn class="next" type="submit" :loading="busy" :disabled="now === '' || another === '' || again === ''">{{
          say('password.go')
        }}</v-btn>
        <v-btn variant="text" @click="open = false">{{ say('password.leave') }}</v-btn>
      </div>
    </form>
  </v-dialog>
</template>

<style scoped>
.own {
  display: grid;
  gap: var(--gap-3);
  max-width: 520px;
}
.buttons {
  display: flex;
  gap: var(--gap-2);
}
</style>
