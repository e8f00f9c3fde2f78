<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { count } from '../../lib/format'
import { say } from '../../lib/say'
import PhoneDamage from '../phone/PhoneDamage.vue'

/** What merging comes to before the fact: only in the backup, on both, only on the phone; and how conflicts end. */
const props = defineProps<{ merge: Schemas['Merge']; gives: string; receives: string }>()
const parts = computed(() => [
  { key: 'brought', n: props.merge.brought, words: say('merge.brought', { count: props.merge.brought }) },
  { key: 'both', n: props.merge.both, words: say('merge.both', { count: props.merge.both }) },
  {
    key: 'there',
    n: props.merge.there,
    words: say('merge.there', { count: props.merge.there, tag: props.receives }),
  },
])
const all = computed(() => parts.value.reduce((sum, part) => sum + part.n, 0))
const bars = computed(() => {
  const least = parts.value.map((part) => (part.n > 0 ? Math.max(1.2, (100 * part.n) / Math.max(1, all.value)) : 0))
  const sum = least.reduce((a, b) => a + b, 0) || 1
  return least.map((width, n) => ({
    x: (100 * least.slice(0, n).reduce((a, b) => a + b, 0)) / sum,
    width: (100 * width) / sum,
  }))
})
const last = computed(() => (props.merge.used_last === 'there' ? props.receives : props.gives))
</script>

<template>
  <section class="sheet merge" :aria-label="say('merge.title', { tag: receives })">
    <div>
      <h2>{{ say('merge.title', { tag: receives }) }}</h2>
      <p class="soft">{{ say('merge.how', { all: count(all), tag: receives }) }}</p>
    </div>
    <svg viewBox="0 0 100 10" preserveAspectRatio="none" aria-hidden="true">
      <g v-for="(part, n) in parts" :key="part.key">
        <rect :x="bars[n]!.x" :width="bars[n]!.width" :y="part.key === 'there' ? 5 : 0" height="5" :class="part.key" />
        <rect v-if="part.key === 'both'" :x="bars[n]!.x" :width="bars[n]!.width" y="5" height="5" class="there" />
      </g>
    </svg>
    <ul class="parts">
      <li v-for="part in parts" :key="part.key" :class="part.key">
        <b class="n">{{ count(part.n) }}</b> {{ part.words }}
      </li>
    </ul>
    <div v-if="merge.conflicts.length > 0 || merge.settings > 0">
      <p>
        <b>{{ say('merge.settled', { count: merge.settled, both: merge.both }) }}</b>
        &nbsp;<span class="soft">{{ say('merge.used_last', { tag: last }) }}</span>
      </p>
      <table class="plain">
        <tbody>
          <tr v-for="c in merge.conflicts" :key="c.aspect + c.way">
            <td>{{ say(`merge.aspect_${c.aspect}`) }}</td>
            <td class="soft">{{ say(`merge.way_${c.way}`, { tag: last }) }}</td>
            <td class="n">{{ count(c.messages) }}</td>
          </tr>
          <tr v-if="merge.settings > 0">
            <td>{{ say('merge.aspect_settings') }}</td>
            <td class="soft">{{ say('merge.way_used_last', { tag: last }) }}</td>
            <td class="n">{{ say('merge.conversations', { count: merge.settings }) }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-else-if="merge.both > 0" class="soft">{{ say('merge.alike') }}</p>
    <PhoneDamage :tag="receives" :lost="merge.lost" :uncounted="merge.loss_uncounted" />
    <details v-if="merge.around.length > 0">
      <summary>{{ say('merge.around_title_of') }} ({{ count(merge.around.length) }})</summary>
      <table class="plain">
        <tbody>
          <tr v-for="a in merge.around" :key="a.aspect + a.way">
            <td>{{ say(`merge.around_${a.aspect}`) }}</td>
            <td class="soft">{{ say(`merge.way_${a.way}`, { tag: last }) }}</td>
            <td class="n">{{ count(a.count) }}</td>
          </tr>
        </tbody>
      </table>
    </details>
    <details v-if="merge.findings.length > 0">
      <summary>{{ say('merge.findings', { tag: receives }) }} ({{ count(merge.findings.length) }})</summary>
      <table class="plain">
        <tbody>
          <tr v-for="f in merge.findings" :key="f.text + f.subject">
            <td>{{ f.text }}</td>
            <td class="soft">{{ f.subject }}</td>
            <td class="n">{{ count(f.count) }}</td>
          </tr>
        </tbody>
      </table>
    </details>
    <p v-if="merge.strangers > 0">{{ say('merge.strangers', { count: merge.strangers, tag: receives }) }}</p>
    <p v-if="merge.dropped > 0" class="dropped">{{ say('merge.dropped', { count: merge.dropped, tag: receives }) }}</p>
  </section>
</template>

<style scoped>
.merge {
  padding: var(--gap-4);
  display: grid;
  gap: var(--gap-3);
}
svg {
  display: block;
  width: 100%;
  height: 22px;
}
rect.brought,
rect.both {
  fill: var(--gives);
}
rect.there {
  fill: var(--receives);
}
.parts {
  list-style: none;
  margin: 0;
  padding: 0;
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-1) var(--gap-6);
}
.parts li::before {
  content: '';
  display: inline-block;
  width: 12px;
  height: 12px;
  margin-inline-end: 6px;
  vertical-align: -1px;
}
.parts .brought::before {
  background: linear-gradient(var(--gives) 50%, transparent 50%);
}
.parts .both::before {
  background: linear-gradient(var(--gives) 50%, var(--receives) 50%);
}
.parts .there::before {
  background: linear-gradient(transparent 50%, var(--receives) 50%);
}
.dropped {
  color: var(--left_out);
}
</style>
