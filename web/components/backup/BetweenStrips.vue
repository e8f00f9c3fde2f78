<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { ABOVE, before, drawBetween, sumBetween, UNDER } from '../../lib/between'
import { count, phoneNumber } from '../../lib/format'
import { AFTER, axis, BEFORE, STEP } from '../../lib/months'
import { say } from '../../lib/say'

/** By month what two backups have in common, and what went, came and changed: of all, and of each that is not quiet. */
const props = defineProps<{ rows: Schemas['BetweenRow'][]; all: Schemas['BetweenRow'][] }>()
const months = computed(() => axis(props.all))
const width = computed(() => Math.max(1, months.value.length) * STEP)
const strips = computed(() => {
  const sum = sumBetween(props.all)
  const most = (list: { same: number; changed: number; went: number; came: number }[]): number =>
    Math.max(1, ...list.map((m) => Math.max(before(m), m.came)))
  const each = most(props.rows.flatMap((row) => row.months))
  const total = (fate: 'went' | 'came' | 'changed'): number => props.all.reduce((n, row) => n + row[fate], 0)
  return [
    {
      key: -1,
      title: say('check.all_of_them', { count: props.all.length }),
      ...{ went: total('went'), came: total('came'), changed: total('changed') },
      paths: drawBetween(months.value, sum, most(sum)),
    },
    ...props.rows.map((row, key) => ({
      key,
      title: row.title === null ? say('app.untitled') : phoneNumber(row.title),
      ...{ went: row.went, came: row.came, changed: row.changed },
      paths: drawBetween(months.value, row.months, each),
    })),
  ]
})
/** The first month of each year, where there is room for it. */
const years = computed(() => {
  const least = Math.max(4, months.value.length / 12)
  const kept: { n: number; word: string }[] = []
  months.value.forEach((month, n) => {
    const last = kept.at(-1)
    const isFirst = month.endsWith('-01') || n === 0
    if (month !== BEFORE && month !== AFTER && isFirst && (last === undefined || n - last.n >= least))
      kept.push({ n, word: month.slice(0, 4) })
  })
  return kept
})
const signs = (strip: { went: number; came: number; changed: number }): string =>
  [
    ...(strip.went > 0 ? [`−${count(strip.went)}`] : []),
    ...(strip.came > 0 ? [`+${count(strip.came)}`] : []),
    ...(strip.changed > 0 ? [`~${count(strip.changed)}`] : []),
  ].join(' ')
</script>

<template>
  <figure class="sheet strips">
    <svg class="patterns" aria-hidden="true">
      <pattern id="between-hatch" width="4" height="4" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <rect width="2.4" height="4" class="hatch" />
      </pattern>
    </svg>
    <figcaption class="soft small">
      {{ say('against.months') }}: {{ say('against.legend_went') }}, {{ say('against.legend_changed') }},
      {{ say('against.legend_came') }}
    </figcaption>
    <div class="scroll" tabindex="0" role="region" :aria-label="say('against.months')">
      <div class="strip years" aria-hidden="true">
        <span></span>
        <span class="scale"
          ><span v-for="y in years" :key="y.n" class="year" :style="{ left: `${(100 * y.n) / months.length}%` }">{{
            y.word
          }}</span></span
        >
      </div>
      <div v-for="s in strips" :key="s.key" class="strip" :class="{ all: s.key < 0 }">
        <span class="title clip" :title="s.title">{{ s.title }}</span>
        <svg :viewBox="`0 0 ${width} ${ABOVE + UNDER + 1}`" preserveAspectRatio="none" role="img">
          <title>
            {{ say('against.strip', { title: s.title, went: s.went, came: s.came, changed: s.changed }) }}
          </title>
          <path :d="s.paths.same" class="same" />
          <path :d="s.paths.changed" class="changed" />
          <path :d="s.paths.went" class="went" />
          <path :d="`M0 ${ABOVE}h${width}`" class="line" />
          <path :d="s.paths.came" class="came" />
        </svg>
        <span class="n">{{ signs(s) }}</span>
      </div>
    </div>
  </figure>
</template>

<style scoped>
.strips {
  margin: 0;
  overflow: hidden;
}
figcaption {
  padding: var(--gap-2) var(--gap-3) 0;
}
.patterns {
  position: absolute;
  width: 0;
  height: 0;
}
.hatch {
  fill: var(--changed);
}
.scroll {
  max-height: 320px;
  overflow: auto;
  padding: 0 var(--gap-3) var(--gap-2);
}
.strip {
  display: grid;
  grid-template-columns: 168px minmax(0, 1fr) 120px;
  gap: 10px;
  align-items: center;
  min-height: 38px;
  border-top: 1px solid var(--line);
}
.strip.years {
  min-height: 22px;
  border-top: 0;
}
.strip.all .title {
  font-weight: 600;
}
.scale {
  position: relative;
  height: 18px;
}
.year {
  position: absolute;
  font-size: var(--t-small);
  color: var(--soft);
}
.strip svg {
  display: block;
  width: 100%;
  height: 33px;
}
.same {
  fill: var(--soft);
  opacity: 0.55;
}
.changed {
  fill: url(#between-hatch);
  stroke: var(--changed);
  vector-effect: non-scaling-stroke;
}
.went {
  fill: none;
  stroke: var(--missing);
  stroke-width: 1.5;
  vector-effect: non-scaling-stroke;
}
.line {
  stroke: var(--line);
  vector-effect: non-scaling-stroke;
}
.came {
  fill: var(--arrived);
}
.n {
  text-align: right;
  font-variant-numeric: tabular-nums;
  white-space: nowrap;
}
</style>
