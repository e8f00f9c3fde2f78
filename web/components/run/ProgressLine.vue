<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { bytes, duration, percent } from '../../lib/format'
import { say, word } from '../../lib/say'
import { share } from '../../lib/shelf'

/** Phase, items, bytes, speed and time left of long work. */
const props = defineProps<{ progress: Schemas['Progress']; isWorking?: boolean }>()
const part = computed(() => share(props.progress))
const phase = computed(() => word('phase', props.progress.phase === '' ? 'none' : props.progress.phase))
const facts = computed(() => {
  const p = props.progress
  const list: string[] = []
  if (p.items_total > 0) list.push(say('progress.items', { done: p.items_done, total: p.items_total }))
  else if (p.items_done > 0) list.push(say('progress.items_only', { done: p.items_done }))
  if (p.bytes_total > 0) list.push(say('progress.bytes', { done: bytes(p.bytes_done), total: bytes(p.bytes_total) }))
  else if (p.bytes_done > 0) list.push(bytes(p.bytes_done))
  if (p.bytes_per_second !== null) list.push(say('progress.speed', { size: bytes(p.bytes_per_second) }))
  // One time at once: until somebody is needed, where that is known.
  if (p.seconds_left !== null && !(props.isWorking && p.job_seconds_left !== null))
    list.push(say('progress.left', { time: duration(p.seconds_left) }))
  return list
})
/** Until a person is needed, which is what the technician plans by. */
const whole = computed(() => {
  if (!props.isWorking) return ''
  const left = props.progress.job_seconds_left
  return left === null ? say('progress.job_unknown') : say('progress.job', { time: duration(left) })
})
</script>

<template>
  <div class="line">
    <div class="words">
      <strong>{{ phase }}</strong>
      <span v-if="part !== null" class="soft">{{ percent(part) }}</span>
    </div>
    <div
      class="track"
      role="progressbar"
      :aria-label="phase"
      :aria-valuenow="part === null ? undefined : Math.floor(part * 100)"
      aria-valuemin="0"
      aria-valuemax="100"
    >
      <svg viewBox="0 0 100 8" preserveAspectRatio="none" aria-hidden="true">
        <rect :width="100 * (part ?? 0)" height="8" />
      </svg>
    </div>
    <div class="facts soft">
      <span v-for="fact in facts" :key="fact">{{ fact }}</span>
      <span v-if="facts.length === 0 && progress.phase !== ''">{{ say('progress.begun') }}</span>
    </div>
    <p v-if="whole !== ''" class="whole">{{ whole }}</p>
  </div>
</template>

<style scoped>
.line {
  display: grid;
  gap: 6px;
}
.words {
  display: flex;
  justify-content: space-between;
}
.track {
  height: 8px;
  background: var(--sunk);
  border-radius: 2px;
  overflow: hidden;
}
.track svg {
  display: block;
  width: 100%;
  height: 100%;
  fill: var(--ribbon);
}
.facts {
  display: flex;
  flex-wrap: wrap;
  gap: 2px var(--gap-4);
  font-size: var(--t-small);
}
</style>
