<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { count } from '../../lib/format'
import { say } from '../../lib/say'

/** The four accounts as one bar and one sum that adds up, and what came on top. */
const props = defineProps<{ totals: Schemas['Totals'] }>()
const accounts = computed(() =>
  (['arrived', 'changed', 'left_out', 'missing'] as const).map((key) => ({ key, n: props.totals[key] })),
)
/** Widths in percent; an account with anything in it is never too thin to see. */
const widths = computed(() => {
  const least = accounts.value.map((a) =>
    a.n > 0 ? Math.max(1.2, (100 * a.n) / Math.max(1, props.totals.messages)) : 0,
  )
  const sum = least.reduce((a, b) => a + b, 0) || 1
  let at = 0
  return least.map((width) => {
    const bar = { x: at, width: (100 * width) / sum }
    at += bar.width
    return bar
  })
})
</script>

<template>
  <div class="accounts">
    <svg viewBox="0 0 100 10" preserveAspectRatio="none" aria-hidden="true">
      <rect
        v-for="(a, n) in accounts"
        :key="a.key"
        :x="widths[n]!.x"
        :width="widths[n]!.width"
        height="10"
        :class="a.key"
      />
    </svg>
    <p class="sum">
      <template v-for="(a, n) in accounts" :key="a.key">
        <span v-if="n > 0" class="soft"> + </span>
        <span class="account" :class="[a.key, { none: a.n === 0 }]">{{ say(`sum.${a.key}`, { n: count(a.n) }) }}</span>
      </template>
      <span class="soft"> = </span>
      <b>{{ say('sum.all', { n: count(totals.messages) }) }}</b>
      <span v-if="totals.added + totals.added_missing > 0" class="soft">
        · {{ say('sum.made', { n: count(totals.added) })
        }}<template v-if="totals.added_missing > 0"
          >, {{ say('sum.made_missing', { n: count(totals.added_missing) }) }}</template
        ></span
      >
      <span v-if="totals.kept + totals.kept_missing > 0" class="soft">
        · {{ say('sum.kept', { n: count(totals.kept) }) }}</span
      ><span v-if="totals.kept_missing > 0" class="account missing"
        >, {{ say('sum.kept_missing', { n: count(totals.kept_missing) }) }}</span
      >
      <span v-if="totals.extra > 0" class="extra"> · {{ say('sum.extra', { n: count(totals.extra) }) }}</span>
    </p>
  </div>
</template>

<style scoped>
.accounts {
  display: grid;
  gap: 8px;
}
svg {
  display: block;
  width: 100%;
  height: 16px;
  border-radius: 3px;
}
rect.arrived {
  fill: var(--arrived);
}
rect.changed {
  fill: var(--changed);
}
rect.left_out {
  fill: var(--left_out);
}
rect.missing {
  fill: var(--missing);
}
.sum .soft {
  margin: 0 3px;
}
.sum .account {
  gap: 5px;
}
.sum {
  font-size: 1rem;
}
.account.none {
  color: var(--soft);
}
.extra {
  color: var(--extra);
}
</style>
