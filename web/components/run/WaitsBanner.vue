<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../../api/client'
import { useGoOn } from '../../api/runs'
import { keyLacks } from '../../lib/keyTold'
import { isOver } from '../../lib/runs'
import { say } from '../../lib/say'
import KeyField from '../backup/KeyField.vue'
import ProgressLine from './ProgressLine.vue'
import RunActs from './RunActs.vue'
import WhyNot from './WhyNot.vue'

/** What an account, or the tray, waits for: the machine, how far; or a person, on which phone, what. */
const props = defineProps<{
  tray: Schemas['Tray']
  move?: Schemas['Move'] | undefined
  /** whether the panel below shows the stage that is waited in, and says it already */
  isHere: boolean
}>()
/** Behind the hand-over a phone may be put back: whose turn it is then is that account. */
const acting = computed(
  () => props.move ?? (props.tray.closed ? props.tray.moves.find((m) => !isOver(m.run)) : undefined),
)
const at = computed(() => ({ number: props.tray.number, place: acting.value?.place ?? 1 }))
const goOn = useGoOn(at)
const key = ref('')
const waits = computed(() => props.move?.waits ?? props.tray.waits)
const run = computed(() => acting.value?.run ?? null)
/** What is taken, where somebody has to tell what opens it. */
const locked = computed(() => {
  const offer = run.value?.offer ?? null
  return offer !== null && offer.lock !== 'open' ? offer : null
})
const needsKey = computed(() => isStopped.value && run.value?.may.includes('go_on') === true && locked.value !== null)
const isStopped = computed(() => ['failed', 'paused'].includes(run.value?.state ?? ''))
const why = computed(() => (needsKey.value ? keyLacks(key.value, locked.value?.lock ?? null) : ''))
const isPaused = computed(() => run.value?.state === 'paused')
const isCancelled = computed(() => run.value?.state === 'cancelled')
const isInterrupted = computed(() => run.value?.state === 'waiting')
/** On its own stage the panel below says it already. */
const isShown = computed(
  () => waits.value.for === 'machine' || isStopped.value || isInterrupted.value || isCancelled.value || !props.isHere,
)
const next = computed(() => `/trays/${props.tray.number}`)

function carryOn(): void {
  if (run.value === null || goOn.isPending.value || why.value !== '') return
  goOn.mutate(
    { id: run.value.id, ...(needsKey.value ? { key: key.value } : {}) },
    { onSuccess: () => (key.value = '') },
  )
}
</script>

<template>
  <section
    v-if="isShown"
    class="sheet banner"
    :class="[waits.for, { hole: (isStopped && !isPaused) || isInterrupted }]"
  >
    <template v-if="waits.for === 'machine'">
      <h2 aria-live="polite">{{ waits.text }}</h2>
      <ProgressLine v-if="waits.progress" :progress="waits.progress" :is-working="run?.state === 'working'" />
      <p class="soft small">{{ say('tray.leave_page') }}</p>
      <div v-if="acting && run" class="buttons"><RunActs :of="at" :run="run" /></div>
    </template>
    <template v-else>
      <h2 aria-live="polite">
        <span v-if="waits.tag" class="on">{{ waits.tag }}</span> {{ waits.text }}
      </h2>
      <p v-if="waits.how">
        {{ waits.how }} <template v-if="isInterrupted">{{ say('tray.goes_on') }}</template>
      </p>
      <p v-if="isCancelled && run" class="soft" role="status">{{ run.trouble }}</p>
      <ProgressLine v-if="(isInterrupted || isPaused) && run" :progress="run.progress" />
      <KeyField
        v-if="needsKey && locked && acting"
        v-model="key"
        :tag="waits.tag ?? ''"
        :edition="acting.edition"
        :made-at="locked.made_at"
        :lock="locked.lock"
      />
      <p v-if="goOn.error.value" class="trouble" role="alert">{{ goOn.error.value.message }}</p>
      <div class="buttons">
        <v-btn
          v-if="run?.may.includes('go_on')"
          class="next"
          :disabled="why !== ''"
          :loading="goOn.isPending.value"
          @click="carryOn"
          >{{ say('tray.continue') }}</v-btn
        >
        <v-btn v-else-if="!isInterrupted && !isHere && !tray.closed" :to="next" :active="false">{{
          say('tray.next')
        }}</v-btn>
        <RunActs v-if="(isStopped || isInterrupted) && acting && run" :of="at" :run="run" />
      </div>
      <WhyNot :because="why" />
    </template>
  </section>
</template>

<style scoped>
.banner {
  padding: var(--gap-3) var(--gap-4);
  display: grid;
  gap: var(--gap-2);
  border-left: 5px solid var(--line);
}
.person,
.machine {
  border-left-color: var(--ribbon);
}
.hole {
  border-left-color: var(--missing);
}
.on {
  border: 2px solid currentcolor;
  border-radius: 3px;
  padding: 0 6px;
  margin-right: 4px;
}
.buttons:empty {
  display: none;
}
</style>
