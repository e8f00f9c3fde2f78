<script setup lang="ts">
import { say } from '../lib/say'
import { STAGES, stageWord, type Stage } from '../lib/words'

/** The eight stages as a ribbon with eight folds: done ones filled, the present one marked and named. */
defineProps<{ stage: Stage; place: number; closed: boolean }>()
</script>

<template>
  <span
    class="ribbon"
    role="img"
    :aria-label="closed ? say('stage.all_done') : say('stage.of', { place, stage: stageWord(stage) })"
  >
    <svg viewBox="0 0 128 10" width="128" height="10" aria-hidden="true">
      <path
        v-for="(s, n) in STAGES"
        :key="s"
        :d="`M${n * 16} 1h11l4 4-4 4h-11l4-4z`"
        :class="{ done: closed || n + 1 < place, now: !closed && n + 1 === place }"
      />
    </svg>
    <span class="word">{{ closed ? say('stage.done') : stageWord(stage) }}</span>
  </span>
</template>

<style scoped>
.ribbon {
  display: inline-flex;
  align-items: center;
  gap: 8px;
}
path {
  fill: none;
  stroke: var(--line);
  stroke-width: 1;
}
.done {
  fill: var(--soft);
  stroke: var(--soft);
}
.now {
  fill: var(--ribbon);
  stroke: var(--ribbon);
}
.word {
  font-weight: 600;
}
</style>
