<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { axis, bars, BEFORE, AFTER, monthWord } from '../lib/months'
import { count, phoneNumber } from '../lib/format'
import { say } from '../lib/say'

/**
 * Per conversation a strip of months. What was sent stands as a bar; where it is there the bar is quiet, where it is
 * not the strip is torn open: a full-height gap in the colour of what is missing.
 */
const props = defineProps<{ rows: Schemas['ArrivalRow'][]; picked: number | null }>()
const emit = defineEmits<{ pick: [id: number | null] }>()

const HEIGHT = 18
const STEP = 10
const months = computed(() => axis(props.rows))
const most = computed(() => Math.max(1, ...props.rows.flatMap((r) => r.months.map((m) => m.expected))))
const width = computed(() => Math.max(1, months.value.length) * STEP)

const strips = computed(() =>
  props.rows.map((row) => {
    const list = bars(months.value, row.months, most.value).filter((b) => b.expected > 0)
    const there = list
      .map(
        (b) =>
          `M${b.at * STEP} ${HEIGHT}v${-(b.height * HEIGHT).toFixed(1)}h${STEP - 2}v${(b.height * HEIGHT).toFixed(1)}z`,
      )
      .join('')
    const holes = list.filter((b) => b.missing > 0)
    const torn = holes.map((b) => `M${b.at * STEP - 1} 0h${STEP}v${HEIGHT}h${-STEP}z`).join('')
    const kept = holes
      .map(
        (b) =>
          `M${b.at * STEP - 1} ${HEIGHT}v${-(b.there * b.height * HEIGHT).toFixed(1)}h${STEP}v${(b.there * b.height * HEIGHT).toFixed(1)}z`,
      )
      .join('')
    const missing = row.missing
    const tornIn = holes
      .map((h) => monthWord(months.value[h.at] ?? ''))
      .slice(0, 12)
      .join(', ')
    const label =
      missing > 0
        ? say('check.missing_in', { count: missing, months: tornIn })
        : row.verdict === 'left_out'
          ? say('verdict.left_out')
          : say('check.nothing_missing')
    return { row, there, torn, kept, label }
  }),
)
const years = computed(() =>
  months.value.flatMap((m, n) =>
    m === BEFORE || m === AFTER
      ? [{ n, word: m === BEFORE ? say('check.earlier_months') : say('check.later_months') }]
      : m.endsWith('-01') || (n === 0 && !months.value[1]?.endsWith('-01'))
        ? [{ n, word: m.slice(0, 4) }]
        : [],
  ),
)
/** Labels that would lie over each other are left out: at least a twelfth of the scale lies between two. */
const spaced = computed(() => {
  const least = Math.max(4, months.value.length / 12)
  const kept: { n: number; word: string }[] = []
  let last = -Infinity
  for (const year of years.value) {
    if (year.n - last < least) continue
    kept.push(year)
    last = year.n
  }
  return kept
})
</script>

<template>
  <figure class="sheet strips">
    <figcaption class="sr">{{ say('check.strips') }}</figcaption>
    <div class="scroll" tabindex="0" role="region" :aria-label="say('check.months')">
      <div class="years" aria-hidden="true">
        <span></span>
        <span class="scale"
          ><span v-for="y in spaced" :key="y.n" class="year" :style="{ left: `${(100 * y.n) / months.length}%` }">{{
            y.word
          }}</span></span
        >
      </div>
      <button
        v-for="s in strips"
        :key="s.row.id"
        type="button"
        class="strip"
        :class="[s.row.verdict, { picked: picked === s.row.id }]"
        :title="s.label"
        @click="emit('pick', picked === s.row.id ? null : s.row.id)"
      >
        <span class="title clip">{{ s.row.title === null ? say('app.untitled') : phoneNumber(s.row.title) }}</span>
        <svg :viewBox="`0 0 ${width} ${HEIGHT}`" preserveAspectRatio="none" aria-hidden="true">
          <path :d="s.there" class="there" />
          <path :d="s.torn" class="torn" />
          <path :d="s.kept" class="kept" />
        </svg>
        <span class="n">{{ s.row.missing > 0 ? `−${count(s.row.missing)}` : '' }}</span>
        <span class="sr">{{ s.label }}</span>
      </button>
    </div>
  </figure>
</template>

<style scoped>
.strips {
  margin: 0;
  overflow: hidden;
}
.scroll {
  max-height: 248px;
  overflow: auto;
  padding: 0 var(--gap-3) var(--gap-2);
}
.years,
.strip {
  display: grid;
  grid-template-columns: 150px minmax(0, 1fr) 44px;
  gap: 10px;
  align-items: center;
}
.years {
  position: sticky;
  top: 0;
  background: var(--surface);
  z-index: 1;
  height: 22px;
  font-size: 0.75rem;
  color: var(--soft);
}
.scale {
  position: relative;
  height: 16px;
}
.year {
  position: absolute;
  border-left: 1px solid var(--line);
  padding-left: 3px;
  white-space: nowrap;
}
.strip {
  width: 100%;
  text-align: left;
  height: 24px;
  font-size: var(--t-small);
  border-radius: 2px;
}
.strip:hover,
.strip.picked {
  background: var(--sunk);
}
svg {
  width: 100%;
  height: 18px;
  display: block;
  border-bottom: 1px solid var(--line);
}
.there,
.kept {
  fill: color-mix(in srgb, var(--arrived) 62%, var(--surface));
}
.torn {
  fill: var(--missing);
}
.missing .title,
.missing .n {
  color: var(--missing);
  font-weight: 650;
}
.left_out .title {
  color: var(--left_out);
}
.n {
  text-align: right;
}
</style>
