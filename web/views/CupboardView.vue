<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import type { Schemas } from '../api/client'
import { useCupboard, useCupboardCalls } from '../api/cupboard'
import { asked, daysLeft, told, isThere } from '../lib/cupboard'
import { bytes, date, dateTime, phoneNumber } from '../lib/format'
import { say } from '../lib/say'

/** All that the shop keeps: found by what somebody knows of it. */
const SHOWN = ['kept', 'due', 'broken', 'alone', 'safety_copies', 'erased'] as const
const COLUMNS: { key: string; by: Schemas['SortedBy'] | null; isNumber?: boolean }[] = [
  { key: 'customer', by: 'customer' },
  { key: 'account', by: null },
  { key: 'phone', by: null },
  { key: 'taken', by: 'taken' },
  { key: 'newest', by: 'newest' },
  { key: 'bytes', by: 'bytes', isNumber: true },
  { key: 'until', by: 'until' },
  { key: 'state', by: null },
]
const typed = ref(asked.words)
const query = useCupboard(() => ({ ...asked, words: told(asked.words) }))
const calls = useCupboardCalls()
const route = useRoute()
/** Where it is told what is missing at the second place, one comes here. */
if (route.query['shown'] === 'alone') Object.assign(asked, { words: '', shown: 'alone', page: 1 })
/** Without a second place nothing is missing there. */
const shown = computed(() => SHOWN.filter((one) => one !== 'alone' || calls.data.value?.has_place === true))
const round = computed(() => {
  const told = calls.data.value
  if (told === undefined) return ''
  return told.round === null
    ? say('cupboard.no_round', { rounds: told.rounds })
    : say('cupboard.round', { rounds: told.rounds, read: told.round.read, at: dateTime(told.round.at) })
})
const rows = computed(() => query.data.value?.backups ?? [])
const counts = computed(() => query.data.value?.counts)
const size = computed(() => query.data.value?.page_size ?? 50)
const all = computed(() => counts.value?.[asked.shown] ?? 0)
const first = computed(() => size.value * (asked.page - 1) + 1)
/** Where else the same words find something. */
const elsewhere = computed(() =>
  shown.value
    .filter((one) => one !== asked.shown && (counts.value?.[one] ?? 0) > 0)
    .map((one) => say(`in_cupboard.${one}`))
    .join(', '),
)
/** What was erased meanwhile shortens the list: nobody stands behind its end. */
watch([all, size], () => {
  const last = Math.max(1, Math.ceil(all.value / size.value))
  if (counts.value !== undefined && asked.page > last) asked.page = last
})
function look(): void {
  Object.assign(asked, { words: typed.value.trim(), page: 1 })
}
function show(which: Schemas['Shown']): void {
  Object.assign(asked, { shown: which, page: 1 })
}
/** What is sorted by already is turned round; names and last days begin with the first, all else with the newest. */
function sort(by: Schemas['SortedBy']): void {
  const descending = asked.sorted_by === by ? !asked.descending : by !== 'customer' && by !== 'until'
  Object.assign(asked, { sorted_by: by, descending, page: 1 })
}
function direction(by: Schemas['SortedBy'] | null): 'ascending' | 'descending' | undefined {
  if (by !== asked.sorted_by) return undefined
  return asked.descending ? 'descending' : 'ascending'
}
function goes(until: string): string {
  const days = daysLeft(until, Date.now())
  return days < 0 ? say('cupboard.is_over') : say('cupboard.goes_in', { days })
}
</script>

<template>
  <div class="page wide cupboard">
    <header>
      <div class="head">
        <h1>{{ say('cupboard.title') }}</h1>
        <v-btn to="/cupboard/import">{{ say('cupboard.import') }}</v-btn>
      </div>
      <p class="soft">{{ say('cupboard.about') }} {{ round }}</p>
      <p class="soft">
        <RouterLink to="/second-place" class="soft">{{ say('place.title') }}</RouterLink>
        <template v-if="calls.data.value?.has_place === false">: {{ say('place.none') }}</template>
        <b v-else-if="calls.data.value?.place_is_late" class="late"> ▲ {{ say('place.calls_late') }}</b>
      </p>
    </header>
    <form class="find" role="search" @submit.prevent="look">
      <v-text-field
        v-model="typed"
        type="search"
        maxlength="120"
        :label="say('cupboard.find')"
        :hint="say('cupboard.hint')"
        persistent-hint
      />
      <v-btn type="submit" :loading="query.isFetching.value">{{ say('cupboard.do') }}</v-btn>
    </form>
    <div class="which" role="group" :aria-label="say('cupboard.which')">
      <button
        v-for="one in shown"
        :key="one"
        type="button"
        class="one"
        :class="[one, { chosen: asked.shown === one, some: (counts?.[one] ?? 0) > 0 }]"
        :aria-pressed="asked.shown === one"
        @click="show(one)"
      >
        {{ say(`in_cupboard.${one}`) }} <b>{{ counts?.[one] ?? '–' }}</b>
      </button>
    </div>
    <p v-if="query.error.value" class="trouble" role="alert">{{ query.error.value.message }}</p>
    <p v-else-if="query.data.value === undefined" class="soft" role="status">{{ say('cupboard.looking') }}</p>
    <div v-else-if="rows.length === 0" class="sheet pad" role="status">
      <p>{{ say(asked.words === '' ? `in_cupboard.none_${asked.shown}` : 'cupboard.no_match') }}</p>
      <p v-if="asked.words !== '' && elsewhere !== ''" class="soft">
        {{ say('cupboard.elsewhere', { where: elsewhere }) }}
      </p>
    </div>
    <div v-else class="sheet">
      <table class="plain">
        <thead>
          <tr>
            <th
              v-for="column in COLUMNS"
              :key="column.key"
              scope="col"
              :class="{ n: column.isNumber }"
              :aria-sort="direction(column.by)"
            >
              <button
                v-if="column.by"
                type="button"
                class="sort"
                :title="say('cupboard.sort', { column: say(`in_cupboard.${column.key}`) })"
                @click="sort(column.by)"
              >
                {{ say(`in_cupboard.${column.key}`) }}
                <span class="arrow" aria-hidden="true">{{
                  direction(column.by) === undefined ? '' : asked.descending ? '▼' : '▲'
                }}</span>
              </button>
              <template v-else>{{ say(`in_cupboard.${column.key}`) }}</template>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rows" :key="row.of.id" :class="{ due: row.is_due && isThere(row.state) }">
            <td>
              <RouterLink
                :to="row.origin === 'safety_copy' ? `/trays/${row.of.tray}` : `/cupboard/${row.of.id}`"
                class="who clip"
                >{{ row.of.customer }}</RouterLink
              >
              <span class="soft small clip" :title="row.of.contact">{{ row.of.contact }}</span>
            </td>
            <td>
              <span class="clip">{{ row.of.edition }}</span>
              <bdi class="soft small">{{ phoneNumber(row.of.account) }}</bdi>
            </td>
            <td>
              <span class="clip" :title="row.phone ?? ''">{{
                row.phone ?? (row.serial === '' ? say(`way.${row.way_in}.summed`) : '–')
              }}</span>
              <span class="soft small clip">{{ row.serial }}</span>
            </td>
            <td>
              <span>{{ dateTime(row.of.taken_at) }}</span>
              <span class="soft small">{{ say('cupboard.by_tray', { tray: row.of.tray }) }}</span>
            </td>
            <td>{{ date(row.of.newest_at) }}</td>
            <td class="n">
              <span>{{ bytes(row.of.attachment_bytes) }}</span>
              <span class="soft small">{{ say('cupboard.conversations', { count: row.of.conversations }) }}</span>
            </td>
            <td>
              <template v-if="isThere(row.state)">
                <span>{{ row.until === null ? say('cupboard.no_day') : date(row.until) }}</span>
                <span v-if="row.is_open" class="soft small">{{ say('cupboard.is_open', { tray: row.of.tray }) }}</span>
                <span v-else-if="row.is_due && row.until !== null" class="soon small">▲ {{ goes(row.until) }}</span>
              </template>
              <span v-else class="soft">{{ say(row.state === 'erasing' ? 'cupboard.going' : 'cupboard.gone') }}</span>
            </td>
            <td>
              <template v-if="isThere(row.state)">
                <span :class="{ broken: !row.is_whole }">{{
                  row.is_whole ? `✓ ${say('cupboard.whole')}` : `✕ ${say('cupboard.not_whole')}`
                }}</span>
                <span class="soft small">{{
                  row.state === 'locked' ? say('in_cupboard.locked') : date(row.verified_at)
                }}</span>
              </template>
              <span v-else class="soft">–</span>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <nav v-if="all > size" class="pages" :aria-label="say('cupboard.which')">
      <v-btn variant="text" :disabled="asked.page === 1" @click="asked.page -= 1">{{ say('cupboard.earlier') }}</v-btn>
      <span>{{ say('cupboard.page', { first, last: Math.min(all, size * asked.page), count: all }) }}</span>
      <v-btn variant="text" :disabled="size * asked.page >= all" @click="asked.page += 1">{{
        say('cupboard.later')
      }}</v-btn>
    </nav>
  </div>
</template>

<style scoped>
.cupboard {
  display: grid;
  gap: var(--gap-4);
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3);
  align-items: center;
  justify-content: space-between;
}
.which {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2);
}
button.one {
  padding: 6px 12px;
  border-bottom: 3px solid var(--line);
  color: var(--soft);
}
button.one.chosen {
  border-bottom-color: var(--ribbon);
  color: var(--ink);
}
button.one.broken.some b {
  color: var(--missing);
}
b.late,
button.one.due.some b {
  color: var(--changed);
}
td {
  vertical-align: top;
}
td > * {
  display: block;
}
/* What a phone or a person is called may be of any length, and widens nothing. */
td .clip {
  max-width: 200px;
}
.who {
  font-weight: 600;
  color: var(--ink);
}
.n,
.n > * {
  text-align: right;
}
button.sort {
  font: inherit;
  white-space: nowrap;
  text-decoration: underline;
  text-decoration-color: var(--line);
  text-underline-offset: 3px;
}
/* Figures stand under the end of their heading. */
.n button.sort {
  display: inline-flex;
  flex-direction: row-reverse;
  align-items: baseline;
  vertical-align: baseline;
}
.arrow {
  display: inline-block;
  width: 1em;
  font-size: 0.7em;
}
tr.due td:first-child {
  box-shadow: inset 4px 0 0 var(--changed);
}
.soon {
  color: var(--changed);
  font-weight: 600;
}
td .broken {
  white-space: nowrap;
  color: var(--missing);
  font-weight: 600;
}
.pages {
  display: flex;
  gap: var(--gap-4);
  align-items: center;
  justify-content: center;
}
</style>
