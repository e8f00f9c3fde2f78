<script setup lang="ts">
import { computed, ref } from 'vue'
import { useLog, type LogAsked } from '../api/log'
import { dateTime, typedDay } from '../lib/format'
import { say } from '../lib/say'

const kind = ref<NonNullable<LogAsked['kind']> | ''>('')
const by = ref('')
const tray = ref('')
const day = ref('')
const dayTrouble = ref('')
/** What was typed is asked for when its line is ended, not letter by letter: each reading is an entry of its own. */
const typed = ref<{ tray?: number; day?: string }>({})

const log = useLog(() => ({
  ...(kind.value === '' ? {} : { kind: kind.value }),
  ...(by.value === '' ? {} : { by: by.value }),
  ...typed.value,
}))
const pages = computed(() => log.data.value?.pages ?? [])
const entries = computed(() => pages.value.flatMap((page) => page.entries))
const kinds = computed(() => [
  { value: '', title: say('log.all') },
  ...(['sign_in', 'look', 'work'] as const).map((value) => ({ value, title: say(`log.${value}_kind`) })),
])
const people = computed(() => [
  { value: '', title: say('log.all') },
  ...(pages.value[0]?.people ?? (by.value === '' ? [] : [by.value])).map((value) => ({ value, title: value })),
])
const isNarrowed = computed(() => kind.value !== '' || by.value !== '' || Object.keys(typed.value).length > 0)

function take(): void {
  const number = Number(tray.value.trim())
  const iso = day.value.trim() === '' ? '' : typedDay(day.value)
  dayTrouble.value = iso === null ? say('ledger.no_day') : ''
  if (iso === null) return
  typed.value = {
    ...(tray.value.trim() !== '' && Number.isInteger(number) && number > 0 ? { tray: number } : {}),
    ...(iso === '' ? {} : { day: iso }),
  }
}
</script>

<template>
  <section class="page">
    <h1>{{ say('log.title') }}</h1>
    <p class="soft">{{ say('log.about') }}</p>
    <form class="narrow" @submit.prevent="take">
      <v-select v-model="kind" :items="kinds" :label="say('log.kind')" hide-details />
      <v-select v-model="by" :items="people" :label="say('log.who')" hide-details />
      <v-text-field v-model="tray" :label="say('log.tray')" inputmode="numeric" hide-details @blur="take" />
      <v-text-field
        v-model="day"
        :label="say('log.day')"
        :placeholder="say('ledger.day_hint')"
        :error-messages="dayTrouble"
        hide-details="auto"
        @blur="take"
      />
      <button type="submit" hidden></button>
    </form>
    <p v-if="log.data.value === undefined && !log.error.value" role="status">{{ say('log.reading') }}</p>
    <p v-else-if="log.data.value === undefined" class="trouble" role="alert">{{ log.error.value?.message }}</p>
    <div v-else class="sheet">
      <table class="plain">
        <thead>
          <tr>
            <th scope="col">{{ say('log.when') }}</th>
            <th scope="col">{{ say('log.who') }}</th>
            <th scope="col">{{ say('log.tray') }}</th>
            <th scope="col">{{ say('log.what') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="entry in entries" :key="entry.id">
            <td class="when">{{ dateTime(entry.at) }}</td>
            <td>{{ entry.by }}</td>
            <td>{{ entry.tray ?? '' }}</td>
            <td>{{ entry.text }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="entries.length === 0" class="pad soft">{{ say(isNarrowed ? 'log.none_such' : 'log.nothing') }}</p>
      <p v-if="log.hasNextPage.value" class="pad">
        <v-btn :loading="log.isFetchingNextPage.value" @click="log.fetchNextPage()">{{ say('log.older') }}</v-btn>
      </p>
    </div>
  </section>
</template>

<style scoped>
.narrow {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(160px, 220px));
  gap: var(--gap-3);
  align-items: start;
}
.when {
  white-space: nowrap;
}
/* The columns stay where they are, whatever is shown. */
th:nth-child(1) {
  width: 190px;
}
th:nth-child(2) {
  width: 130px;
}
th:nth-child(3) {
  width: 70px;
}
</style>
