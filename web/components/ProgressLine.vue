<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { bytes, count, duration } from '../lib/format'
import { share } from '../lib/shelf'
import { PHASES } from '../lib/words'

/** Phase, items, bytes, speed and time left of long work. */
const props = defineProps<{ progress: Schemas['Progress'] }>()
const part = computed(() => share(props.progress))
const facts = computed(() => {
  const p = props.progress
  const list: string[] = []
  if (p.items_total > 0) list.push(`${count(p.items_done)} of ${count(p.items_total)} items`)
  else if (p.items_done > 0) list.push(`${count(p.items_done)} items`)
  if (p.bytes_total > 0) list.push(`${bytes(p.bytes_done)} of ${bytes(p.bytes_total)}`)
  else if (p.bytes_done > 0) list.push(bytes(p.bytes_done))
  if (p.bytes_per_second !== null) list.push(`${bytes(p.bytes_per_second)} a second`)
  if (p.seconds_left !== null) list.push(`about ${duration(p.seconds_left)} left in this phase`)
  return list
})
</script>

<template>
  <div class="line">
    <div class="words">
      <strong>{{ PHASES[progress.phase] ?? progress.phase }}</strong>
      <span v-if="part !== null" class="soft">{{ Math.floor(part * 100) }} %</span>
    </div>
    <div
      class="track"
      role="progressbar"
      :aria-label="PHASES[progress.phase] ?? 'Progress'"
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
      <span v-if="facts.length === 0">Just begun</span>
    </div>
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
