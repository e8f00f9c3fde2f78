<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { dateTime } from '../lib/format'
import { STAGES, type Stage } from '../lib/words'

/** The eight stages with their evidence: what was done, when, by whom. */
const props = defineProps<{ tray: Schemas['Tray']; shown: Stage }>()

const rows = computed(() =>
  STAGES.map((s, n) => {
    const evidence = props.tray.steps.filter((step) => step.stage === s.stage)
    const isNow = !props.tray.closed && props.tray.stage === s.stage
    const isPast = props.tray.closed || n + 1 < props.tray.stage_place
    return {
      ...s,
      n: n + 1,
      evidence,
      state: isNow ? 'now' : isPast ? 'done' : 'ahead',
      last: evidence[evidence.length - 1],
    }
  }),
)
</script>

<template>
  <nav class="run" aria-label="Run sheet">
    <ol>
      <li v-for="row in rows" :key="row.stage" :class="[row.state, { shown: row.stage === shown }]">
        <RouterLink :to="`/trays/${tray.number}/${row.stage}`" :aria-current="row.stage === shown ? 'step' : undefined">
          <span class="place" aria-hidden="true">{{ row.state === 'done' ? '✓' : row.n }}</span>
          <span class="word"
            >{{ row.word }}<span class="sr">, {{ row.state === 'now' ? 'now' : row.state }}</span></span
          >
        </RouterLink>
        <p v-if="row.last" class="evidence" :title="row.last.text">
          <span class="told">{{ row.last.text }}</span>{{ ' ' }}
          <span class="by"
            >{{ dateTime(row.last.at) }}, {{ row.last.by
            }}<template v-if="row.evidence.length > 1"> · {{ row.evidence.length }} entries</template></span
          >
        </p>
      </li>
    </ol>
  </nav>
</template>

<style scoped>
ol {
  list-style: none;
  padding: 0;
  margin: 0;
}
li {
  position: relative;
  padding: 0 0 8px 34px;
}
li::before {
  content: '';
  position: absolute;
  left: 12px;
  top: 20px;
  bottom: -4px;
  width: 3px;
  background: var(--line);
}
li.done::before {
  background: var(--soft);
}
li:last-child::before {
  display: none;
}
a {
  display: flex;
  align-items: center;
  text-decoration: none;
  color: var(--ink);
  min-height: 26px;
  border-radius: 4px;
}
.place {
  position: absolute;
  left: 1px;
  width: 25px;
  height: 25px;
  border-radius: 50%;
  border: 2px solid var(--line);
  background: var(--background);
  color: var(--soft);
  display: grid;
  place-items: center;
  font-size: var(--t-small);
  font-weight: 650;
}
.done .place {
  background: var(--soft);
  border-color: var(--soft);
  color: var(--background);
}
.now .place {
  background: var(--ribbon);
  border-color: var(--ribbon);
  color: var(--on-ribbon);
}
.ahead .word {
  color: var(--soft);
}
.now .word,
.shown .word {
  font-weight: 700;
}
.shown .word {
  text-decoration: underline;
  text-decoration-thickness: 2px;
  text-underline-offset: 4px;
}
.evidence {
  font-size: var(--t-small);
  line-height: 1.3;
}
.told {
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  overflow: hidden;
}
.by {
  display: block;
  color: var(--soft);
}
</style>
