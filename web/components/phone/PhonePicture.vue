<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'

/** Where on a screen: plain shapes, no system's look. What is said stands beside it. */
const props = defineProps<{ picture: Schemas['GuidePicture'] }>()
const ROWS = 7
const row = computed(() => props.picture.row ?? 1)
const top = (n: number): number => 26 + (n - 1) * 22
/** Lines of text differ in length, as they do. */
const length = (n: number): number => [52, 38, 60, 44, 34, 56, 48][n - 1] ?? 44
const isList = computed(() => ['list', 'switch', 'choice'].includes(props.picture.screen))
</script>

<template>
  <svg viewBox="0 0 112 200" class="picture" aria-hidden="true">
    <rect x="2" y="2" width="108" height="196" rx="10" class="body" />
    <rect x="10" y="12" width="92" height="176" rx="4" class="screen" />
    <template v-if="isList">
      <g v-for="n in ROWS" :key="n">
        <rect v-if="n === row" x="12" :y="top(n) - 9" width="88" height="20" rx="3" class="here" />
        <rect x="18" :y="top(n) - 2" :width="length(n)" height="5" rx="2" :class="n === row ? 'mark' : 'line'" />
        <g v-if="picture.screen === 'switch' && n === row">
          <rect
            x="78"
            :y="top(n) - 5"
            width="18"
            height="11"
            rx="5.5"
            :class="picture.to === 'on' ? 'mark' : 'hollow'"
          />
          <circle :cx="picture.to === 'on' ? 90.5 : 83.5" :cy="top(n) + 0.5" r="4" class="knob" />
        </g>
        <g v-if="picture.screen === 'choice'">
          <circle cx="90" :cy="top(n) + 0.5" r="4.5" class="hollow" />
          <circle v-if="n === row" cx="90" :cy="top(n) + 0.5" r="2.5" class="mark" />
        </g>
        <text v-if="picture.screen === 'list' && n === row && picture.times" x="95" :y="top(n) + 4" class="times">
          {{ picture.times }}×
        </text>
      </g>
    </template>
    <template v-else-if="picture.screen === 'question'">
      <rect x="16" y="66" width="80" height="70" rx="4" class="card" />
      <rect x="24" y="78" width="64" height="5" rx="2" class="line" />
      <rect x="24" y="90" width="44" height="5" rx="2" class="line" />
      <rect x="22" y="110" width="30" height="16" rx="3" :class="picture.answer === 'first' ? 'mark' : 'hollow'" />
      <rect x="60" y="110" width="30" height="16" rx="3" :class="picture.answer === 'second' ? 'mark' : 'hollow'" />
    </template>
    <template v-else>
      <g v-for="n in 4" :key="n"><circle :cx="32 + n * 10" cy="60" r="3" class="mark" /></g>
      <g v-for="n in 9" :key="n">
        <circle :cx="32 + ((n - 1) % 3) * 24" :cy="94 + Math.floor((n - 1) / 3) * 26" r="8" class="hollow" />
      </g>
    </template>
  </svg>
</template>

<style scoped>
.picture {
  width: 112px;
  height: 200px;
  flex: none;
}
.body {
  fill: var(--surface);
  stroke: var(--soft);
  stroke-width: 2;
}
.screen {
  fill: var(--sunk);
}
.card {
  fill: var(--surface);
  stroke: var(--line);
}
.line {
  fill: var(--line);
}
.here {
  fill: var(--surface);
  stroke: var(--ribbon);
  stroke-width: 2;
}
.mark {
  fill: var(--ribbon);
}
.hollow {
  fill: none;
  stroke: var(--soft);
  stroke-width: 1.5;
}
.knob {
  fill: var(--surface);
  stroke: var(--soft);
}
.times {
  font-size: 13px;
  font-weight: 700;
  fill: var(--ribbon);
  text-anchor: end;
}
</style>
