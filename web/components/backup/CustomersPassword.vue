<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Schemas } from '../../api/client'
import { useLockBackup, useUnlockBackup } from '../../api/keeping'
import { dateTime } from '../../lib/format'
import { vBeginHere } from '../../lib/focus'
import { say } from '../../lib/say'
import PasswordField from '../people/PasswordField.vue'
import WhyNot from '../run/WhyNot.vue'

/** A backup goes under its customer's own password, or comes back from under it: they type it at the counter. */
const props = defineProps<{ number: number }>()
/** @property the one that is asked about; none while it is closed */
const asked = defineModel<Schemas['Keep'] | null>({ required: true })
const lock = useLockBackup(() => props.number)
const unlock = useUnlockBackup(() => props.number)
const password = ref('')
const again = ref('')
const isLocked = computed(() => asked.value?.state === 'locked')
const act = computed(() => (isLocked.value ? unlock : lock))
const about = computed(() => ({ edition: asked.value?.edition ?? '', at: dateTime(asked.value?.taken_at ?? null) }))
const why = computed(() => {
  if (isLocked.value) return ''
  if ([...password.value].length < 8) return say('keeping.lock_why_short')
  return password.value === again.value ? '' : say('keeping.lock_why_differs')
})
const isOpen = computed({
  get: () => asked.value !== null,
  set: (open: boolean) => {
    if (!open) asked.value = null
  },
})
/** Nothing that was typed stays behind a closed dialog. */
watch(asked, () => {
  password.value = again.value = ''
  lock.reset()
  unlock.reset()
})
function confirm(): void {
  const id = asked.value?.id
  if (id === undefined || why.value !== '' || password.value === '' || act.value.isPending.value) return
  act.value.mutate({ id, password: password.value }, { onSuccess: () => (asked.value = null) })
}
</script>

<template>
  <v-dialog v-model="isOpen" aria-labelledby="customers-password">
    <form v-if="asked" class="sheet pad ask" @submit.prevent="confirm">
      <h2 id="customers-password">{{ say(isLocked ? 'keeping.unlock_title' : 'keeping.lock_title', about) }}</h2>
      <template v-if="isLocked">
        <p>{{ say('keeping.unlock_what') }}</p>
        <PasswordField v-model="password" v-begin-here :label="say('keeping.lock_password')" />
      </template>
      <template v-else>
        <p>{{ say('keeping.lock_what') }}</p>
        <p class="grave">{{ say('keeping.lock_forgotten') }}</p>
        <PasswordField v-model="password" v-begin-here :label="say('keeping.lock_password')" is-new />
        <PasswordField v-model="again" :label="say('keeping.lock_again')" is-new />
      </template>
      <p v-if="act.error.value" class="trouble" role="alert">{{ act.error.value.message }}</p>
      <div class="buttons">
        <v-btn type="submit" :disabled="why !== '' || password === ''" :loading="act.isPending.value">{{
          say(isLocked ? 'keeping.unlock_do' : 'keeping.lock_do')
        }}</v-btn>
        <v-btn variant="text" @click="asked = null">{{ say('tray.cancel_not') }}</v-btn>
      </div>
      <WhyNot :because="why" />
    </form>
  </v-dialog>
</template>

<style scoped>
.ask {
  display: grid;
  gap: var(--gap-3);
  max-width: 560px;
}
.ask .v-text-field {
  width: 100%;
  max-width: 360px;
}
.grave {
  border-left: 4px solid var(--missing);
  padding-left: var(--gap-3);
  font-weight: 600;
}
.buttons {
  display: flex;
  gap: var(--gap-2);
}
</style>
