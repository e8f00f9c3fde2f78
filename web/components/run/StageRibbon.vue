<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { say } from '../../lib/say'
import { stagesOf, stageWord, type Stage } from '../../lib/words'

/** The stages of a tray's errand as a ribbon, a fold each: done ones filled, the present one marked and named. */
const props = defineProps<{ stage: Stage; closed: boolean; errand: Schemas['Errand'] }>()
const stages = computed(() => stagesOf(props.errand))
const place = computed(() => stages.value.indexOf(props.stage) + 1)
</script>

<template>
  <span
    class="ribbon"
    role="img"
    :aria-label="
      closed ? say('stage.all_done') : say('stage.of', { place, all: stages.length, stage: stageWord(stage) })
    "
  >
    <svg :viewBox="`0 0 ${stages.length * 16} 10`" :width="stages.length * 16" height="10" aria-hidden="true">
      <path
        v-for="(s, n) in stages"
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
