<script setup lang="ts">
import { computed, onUnmounted, ref } from 'vue'
import type { Schemas } from '../../api/client'
import { country, phoneNumber } from '../../lib/format'
import { say } from '../../lib/say'

/** The number that the receiving phone has to be registered with: which, what it waits for, and what that does. */
const props = defineProps<{
  tray: Schemas['Tray']
  move: Schemas['Move']
  /** says nothing before it is begun */
  quiet?: boolean
}>()
const MOST = 3
const on = (role: 'gives' | 'receives') => props.tray.phones.find((p) => p.role === role)
const accountOn = (role: 'gives' | 'receives') => on(role)?.live.accounts?.find((a) => a.app === props.move.app)
const tag = computed(() => on('receives')?.tag ?? '')
const gives = computed(() => on('gives')?.tag ?? '')
const account = computed(() => accountOn('receives'))
const signUp = computed(() => account.value?.sign_up ?? null)
const wanted = computed(() => props.move.number)
const isRegistered = computed(() => wanted.value !== null && account.value?.number === wanted.value)
const isSignedOut = computed(() => accountOn('gives')?.signed_out === true)
const isOther = computed(() => wanted.value !== null && signUp.value !== null && signUp.value.number !== wanted.value)
const isUsedUp = computed(() => signUp.value !== null && signUp.value.texts_left + signUp.value.calls_left === 0)
const isShown = computed(() => {
  if (account.value === undefined || wanted.value === null) return false
  if (signUp.value !== null) return true
  return !props.quiet && (!isRegistered.value || (isSignedOut.value && props.move.arrival === null))
})

const asked = computed(() => say(`sign_up.${signUp.value?.wants ?? 'way'}`, { tag: tag.value, gives: gives.value }))
/** What a code can still be needed for. */
const wantsCode = computed(() => signUp.value !== null && !['pin', 'nothing'].includes(signUp.value.wants))

/** A clock, so that nobody asks too early: what is asked for in vain is lost all the same. */
const now = ref(Date.now())
const ticking = setInterval(() => (now.value = Date.now()), 500)
onUnmounted(() => clearInterval(ticking))
const wait = computed(() => {
  const at = signUp.value?.next_ask_at ?? null
  if (at === null) return null
  const seconds = Math.ceil((Date.parse(at) - now.value) / 1000)
  if (seconds <= 0) return null
  const two = (value: number): string => String(value).padStart(2, '0')
  const clock = `${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}`
  return seconds < 3600 ? clock : `${Math.floor(seconds / 3600)}:${clock}`
})
</script>

<template>
  <section v-if="isShown" class="sheet pad number" :aria-label="say('number.title', { edition: move.edition, tag })">
    <h3>{{ say('number.title', { edition: move.edition, tag }) }}</h3>
    <p class="large">
      <bdi>{{ phoneNumber(wanted) }}</bdi> <span class="soft small">{{ country(wanted) }}</span>
    </p>
    <template v-if="signUp">
      <p v-if="isOther" class="trouble" role="alert">
        {{ say('number.other', { tag, other: phoneNumber(signUp.number) }) }}
      </p>
      <p v-else>{{ asked }}</p>
      <ul v-if="wantsCode" class="left">
        <li>{{ say('number.texts', { left: signUp.texts_left, most: MOST }) }}</li>
        <li>{{ say('number.calls', { left: signUp.calls_left, most: MOST }) }}</li>
        <li v-if="wait && !isUsedUp">
          <span class="clock" role="timer">{{ say('number.wait', { clock: wait }) }}</span>
        </li>
      </ul>
      <p v-if="isUsedUp && wantsCode" class="trouble">{{ say('number.used_up') }}</p>
    </template>
    <p v-else-if="!isRegistered">{{ say('number.begin', { edition: move.edition, tag }) }}</p>
    <p v-if="gives === '' && !isRegistered" class="soft">{{ say('number.registers', { tag }) }}</p>
    <p v-else-if="gives !== '' && isRegistered && isSignedOut">{{ say('number.done', { tag, gives }) }}</p>
    <p v-else-if="gives !== '' && !isRegistered" class="soft">{{ say('number.signs_out', { tag, gives }) }}</p>
  </section>
</template>

<style scoped>
.number {
  display: grid;
  gap: var(--gap-2);
  border-left: 5px solid var(--receives);
}
.large {
  font-size: var(--t-head);
}
.left {
  list-style: none;
  margin: 0;
  padding: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 4px var(--gap-4);
}
.clock {
  font-variant-numeric: tabular-nums;
  font-weight: 650;
}
</style>
