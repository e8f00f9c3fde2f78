<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Schemas } from '../../api/client'
import { useSinceCheck } from '../../api/arrival'
import { type At } from '../../api/common'
import { count, dateTime, phoneNumber } from '../../lib/format'
import { say } from '../../lib/say'

/** The check that is shown, held against an earlier one: what is mended since, and what came up. */
const props = defineProps<{ at: At; check: number; earlier: { value: number; title: string }[] }>()
const against = ref<number | null>(null)
watch(
  () => props.check,
  () => (against.value = null),
)
const query = useSinceCheck(
  computed(() => props.at),
  computed(() => props.check),
  against,
)
const since = computed(() => (against.value === null ? undefined : query.data.value))
const items = computed(() => [{ value: 0, title: say('check.no_other') }, ...props.earlier])
const sum = (which: 'gone' | 'came_up'): number => since.value?.conversations.reduce((n, r) => n + r[which], 0) ?? 0
type Row = Schemas['SinceCheck']['conversations'][number]
/** A verdict with its number, as it was told by one of the two. */
function told(row: Row, when: 'then' | 'now'): string {
  const verdict = row[`verdict_${when}`]
  if (verdict === null) return say('check.not_there')
  const n = verdict === 'missing' ? row[`missing_${when}`] : verdict === 'extra' ? row[`extra_${when}`] : 0
  return say(`verdict_short.${verdict}`) + (n > 0 ? ` ${count(n)}` : '')
}
</script>

<template>
  <v-select
    :model-value="against ?? 0"
    :items="items"
    :label="say('check.hold_against')"
    @update:model-value="against = Number($event) || null"
  />
  <p v-if="against !== null && query.error.value" class="trouble" role="alert">{{ query.error.value.message }}</p>
  <div v-else-if="since" class="sheet pad since">
    <h3>{{ say('check.since', { at: dateTime(since.checked_then) }) }}</h3>
    <p v-if="since.conversations.length === 0" class="soft">{{ say('check.since_same') }}</p>
    <template v-else>
      <p>
        {{ say('check.since_gone', { count: sum('gone') }) }},
        <span :class="{ hole: sum('came_up') > 0 }">{{ say('check.since_came_up', { count: sum('came_up') }) }}</span>
      </p>
      <div
        class="scroll"
        tabindex="0"
        role="region"
        :aria-label="say('check.since', { at: dateTime(since.checked_then) })"
      >
        <table class="plain">
          <thead>
            <tr>
              <th scope="col">{{ say('check.conversation') }}</th>
              <th scope="col">{{ say('check.then') }}</th>
              <th scope="col">{{ say('check.now') }}</th>
              <th scope="col" class="n">{{ say('check.gone') }}</th>
              <th scope="col" class="n">{{ say('check.came_up') }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(r, n) in since.conversations" :key="n">
              <td>
                <span class="clip">{{ r.title === null ? say('app.untitled') : phoneNumber(r.title) }}</span>
              </td>
              <td>
                <span class="account" :class="r.verdict_then">{{ told(r, 'then') }}</span>
              </td>
              <td>
                <span class="account" :class="r.verdict_now">{{ told(r, 'now') }}</span>
              </td>
              <td class="n">{{ count(r.gone) }}</td>
              <td class="n" :class="{ hole: r.came_up > 0 }">{{ count(r.came_up) }}</td>
            </tr>
          </tbody>
        </table>
      </div>
    </template>
  </div>
</template>

<style scoped>
.since {
  grid-column: 1 / -1;
  display: grid;
  gap: var(--gap-2);
}
.scroll {
  max-height: 320px;
  overflow: auto;
}
.hole {
  color: var(--missing);
}
</style>
