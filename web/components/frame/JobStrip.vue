<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { HEIGHT, shareOf, STEP, strip } from '../../lib/figures'
import { count, percent } from '../../lib/format'
import { monthWord } from '../../lib/months'
import { say } from '../../lib/say'

/** Jobs that have something in common, as a strip of months and in numbers. */
const props = defineProps<{ months: string[]; name: string; of: Schemas['JobCounts'] }>()
const drawn = computed(() => strip(props.months, props.of))
const width = computed(() => Math.max(1, props.months.length) * STEP)
const words = computed(() => {
  const counts = { jobs: props.of.jobs, right: props.of.right }
  const { amiss } = drawn.value
  return amiss.length === 0
    ? say('figures.strip', counts)
    : say('figures.strip_wrong', { ...counts, months: amiss.slice(0, 12).map(monthWord).join(', ') })
})
const share = computed(() => shareOf(props.of))
</script>

<template>
  <tr :title="words">
    <th scope="row">{{ name }}</th>
    <td class="strip">
      <svg :viewBox="`0 0 ${width} ${HEIGHT}`" preserveAspectRatio="none" role="img" :aria-label="words">
        <path :d="drawn.right" class="right" />
        <path :d="drawn.wrong" class="wrong" />
        <path :d="`M0 ${HEIGHT}h${width}`" class="line" />
      </svg>
    </td>
    <td class="n">{{ count(of.jobs) }}</td>
    <td class="n">{{ share === null ? '–' : percent(share) }}</td>
  </tr>
</template>

<style scoped>
tr th[scope='row'] {
  overflow-wrap: anywhere;
  color: inherit;
  font-weight: 400;
  white-space: normal;
  border-bottom-color: var(--sunk);
}
.strip {
  width: 60%;
  vertical-align: middle;
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
.right {
  fill: color-mix(in srgb, var(--arrived) 62%, var(--surface));
}
.wrong {
  fill: var(--missing);
}
</style>
