<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../../api/client'
import { axis, bars, draw, fold, monthWord, mostOf, sumOf, AFTER, BEFORE, BELOW, HEIGHT, STEP } from '../../lib/months'
import type { Month } from '../../lib/months'
import { count, phoneNumber } from '../../lib/format'
import { say } from '../../lib/say'

/**
 * Per conversation a strip of months. What was sent stands as a bar; where it is there the bar is quiet, where it is
 * not the strip is torn open over its full height, and what nobody expected hangs below the line. Where there are
 * many, those of which nothing is missing stand together in one strip, and all of them in the first.
 */
const props = defineProps<{ rows: Schemas['ArrivalRow'][]; picked: number | null }>()
const emit = defineEmits<{ pick: [id: number | null] }>()

const months = computed(() => axis(props.rows))
const most = computed(() => Math.max(1, ...props.rows.map((row) => mostOf(row.months))))
const width = computed(() => Math.max(1, months.value.length) * STEP)
const opened = ref<('quiet' | 'leftOut')[]>([])
const parts = computed(() => fold(props.rows))
const isFolded = computed(() => parts.value.single.length < props.rows.length)

interface Strip {
  key: string
  row: Schemas['ArrivalRow'] | null
  part: 'quiet' | 'leftOut' | null
  title: string
  verdict: string
  label: string
  n: string
  paths: ReturnType<typeof draw>
}

/** What a hole or a piece too much says in words, for it is seen by no colour alone. */
function inWords(list: ReturnType<typeof bars>, missing: number, extra: number, verdict: string): string {
  const at = (which: 'missing' | 'extra'): string =>
    list
      .filter((b) => b[which] > 0)
      .map((b) => monthWord(months.value[b.at] ?? ''))
      .slice(0, 12)
      .join(', ')
  const words = [
    ...(missing > 0 ? [say('check.missing_in', { count: missing, months: at('missing') })] : []),
    ...(extra > 0 ? [say('check.extra_in', { count: extra, months: at('extra') })] : []),
  ]
  if (words.length > 0) return words.join('; ')
  return verdict === 'left_out' ? say('verdict.left_out') : say('check.nothing_missing')
}
const signs = (missing: number, extra: number): string =>
  [...(missing > 0 ? [`−${count(missing)}`] : []), ...(extra > 0 ? [`+${count(extra)}`] : [])].join(' ')

function single(row: Schemas['ArrivalRow']): Strip {
  const list = bars(months.value, row.months, most.value)
  return {
    key: `row-${row.id}`,
    row,
    part: null,
    title: row.title === null ? say('app.untitled') : phoneNumber(row.title),
    verdict: row.verdict,
    label: inWords(list, row.missing, row.extra, row.verdict),
    n: signs(row.missing, row.extra),
    paths: draw(list),
  }
}
function together(rows: Schemas['ArrivalRow'][], part: Strip['part'], title: string, verdict: string): Strip {
  const sums: Month[] = sumOf(rows)
  const list = bars(months.value, sums, mostOf(sums))
  const [missing, extra] = [rows.reduce((n, r) => n + r.missing, 0), rows.reduce((n, r) => n + r.extra, 0)]
  return {
    key: `part-${part ?? 'all'}`,
    row: null,
    part,
    title,
    verdict,
    label: inWords(list, missing, extra, verdict),
    n: signs(missing, extra),
    paths: draw(list),
  }
}

const all = computed(() =>
  isFolded.value ? together(props.rows, null, say('check.all_of_them', { count: props.rows.length }), '') : null,
)
const strips = computed(() => {
  const { single: alone, quiet, leftOut } = parts.value
  return [
    ...alone.map(single),
    ...(quiet.length > 0
      ? [
          together(quiet, 'quiet', say('check.quiet', { count: quiet.length }), 'arrived'),
          ...(opened.value.includes('quiet') ? quiet.map(single) : []),
        ]
      : []),
    ...(leftOut.length > 0
      ? [
          together(leftOut, 'leftOut', say('check.left_out_of_them', { count: leftOut.length }), 'left_out'),
          ...(opened.value.includes('leftOut') ? leftOut.map(single) : []),
        ]
      : []),
  ]
})
function press(strip: Strip): void {
  const { row, part } = strip
  if (row !== null) emit('pick', props.picked === row.id ? null : row.id)
  else if (part !== null)
    opened.value = opened.value.includes(part) ? opened.value.filter((p) => p !== part) : [...opened.value, part]
}
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
      <div class="head">
        <div class="years" aria-hidden="true">
          <span></span>
          <span class="scale"
            ><span v-for="y in spaced" :key="y.n" class="year" :style="{ left: `${(100 * y.n) / months.length}%` }">{{
              y.word
            }}</span></span
          >
        </div>
        <div v-if="all" class="strip all" :title="all.label">
          <span class="title clip">{{ all.title }}</span>
          <svg :viewBox="`0 0 ${width} ${HEIGHT + BELOW}`" preserveAspectRatio="none" aria-hidden="true">
            <path :d="all.paths.there" class="there" />
            <path :d="all.paths.torn" class="torn" />
            <path :d="all.paths.kept" class="kept" />
            <path :d="`M0 ${HEIGHT}h${width}`" class="line" />
            <path :d="all.paths.extra" class="extra" />
          </svg>
          <span class="n">{{ all.n }}</span>
          <span class="sr">{{ all.label }}</span>
        </div>
      </div>
      <button
        v-for="s in strips"
        :key="s.key"
        type="button"
        class="strip"
        :class="[s.verdict, { picked: s.row !== null && picked === s.row.id, part: s.part !== null }]"
        :title="s.label"
        :aria-expanded="s.part === null ? undefined : opened.includes(s.part)"
        @click="press(s)"
      >
        <span class="title clip">{{ s.title }}</span>
        <svg :viewBox="`0 0 ${width} ${HEIGHT + BELOW}`" preserveAspectRatio="none" aria-hidden="true">
          <path :d="s.paths.there" class="there" />
          <path :d="s.paths.torn" class="torn" />
          <path :d="s.paths.kept" class="kept" />
          <path :d="`M0 ${HEIGHT}h${width}`" class="line" />
          <path :d="s.paths.extra" class="extra" />
        </svg>
        <span class="n">{{ s.n }}</span>
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
  max-height: 276px;
  overflow: auto;
  padding: 0 var(--gap-3) var(--gap-2);
}
.years,
.strip {
  display: grid;
  grid-template-columns: 168px minmax(0, 1fr) 56px;
  gap: 10px;
  align-items: center;
}
.head {
  position: sticky;
  top: 0;
  background: var(--surface);
  z-index: 1;
}
.all {
  border-bottom: 1px solid var(--line);
  font-weight: 600;
}
.years {
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
  height: 28px;
  font-size: var(--t-small);
  border-radius: 2px;
}
.part .title {
  text-decoration: underline;
  text-underline-offset: 3px;
}
button.strip:hover,
.strip.picked {
  background: var(--sunk);
}
svg {
  width: 100%;
  height: 24px;
  display: block;
}
.line {
  stroke: var(--line);
  vector-effect: non-scaling-stroke;
}
path.extra {
  fill: var(--extra);
}
.strip.extra .title,
.strip.extra .n {
  color: var(--extra);
  font-weight: 650;
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
  white-space: nowrap;
}
</style>
