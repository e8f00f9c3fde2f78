<script setup lang="ts">
import { computed, ref } from 'vue'
import { useFigures } from '../api/figures'
import JobStrip from '../components/frame/JobStrip.vue'
import { byWhat, minutes, shareOf } from '../lib/figures'
import { count, date, dateTime, percent } from '../lib/format'
import { monthWord } from '../lib/months'
import { say } from '../lib/say'

const SPANS = [3, 12, 36, 120]
const months = ref(12)
const figures = useFigures(() => months.value)
const told = computed(() => figures.data.value)
const spans = computed(() => SPANS.map((n) => ({ value: n, title: say('figures.months', { n }) })))
const shares = computed(() => byWhat(told.value?.shares ?? []))
const stages = computed(() => told.value?.stages ?? [])
const longest = computed(() => Math.max(1, ...stages.value.map((s) => s.machine_seconds + s.people_seconds)))
const isEmpty = computed(() => told.value?.all.jobs === 0)
const inMinutes = (seconds: number): string => say('figures.minutes', { n: count(minutes(seconds)) })
</script>

<template>
  <section class="page">
    <div class="head">
      <h1>{{ say('figures.title') }}</h1>
      <div class="acts">
        <v-select v-model="months" class="span" :items="spans" :label="say('figures.over')" hide-details />
        <v-btn :href="`/api/figures.csv?months=${months}`" download>{{ say('figures.csv') }}</v-btn>
      </div>
    </div>
    <p class="soft">
      {{ say('figures.about') }}
      <template v-if="told?.measured_since">{{ say('figures.since', { at: date(told.measured_since) }) }}</template>
    </p>
    <p v-if="figures.error.value" class="trouble" role="alert">{{ figures.error.value.message }}</p>
    <p v-if="told === undefined && !figures.error.value" role="status">{{ say('figures.reading') }}</p>
    <div v-else-if="told && isEmpty" class="sheet pad part">
      <p>{{ say('figures.none') }}</p>
      <p v-if="told.withdrawn > 0">{{ say('figures.withdrawn', { n: told.withdrawn }) }}</p>
    </div>
    <template v-else-if="told">
      <div class="sheet pad part">
        <h2>{{ say('figures.by_month') }}</h2>
        <p class="sum">
          {{
            say('figures.sum', {
              jobs: told.all.jobs,
              right: told.all.right,
              share: percent(shareOf(told.all) ?? 0),
            })
          }}
        </p>
        <p v-if="told.withdrawn > 0">{{ say('figures.withdrawn', { n: told.withdrawn }) }}</p>
        <p class="soft small">{{ say('figures.by_month_is') }} {{ say('figures.right_is') }}</p>
        <table class="plain">
          <caption class="sr">
            {{
              say('figures.by_month')
            }}
          </caption>
          <thead>
            <tr>
              <td></td>
              <td class="scale">
                <span>{{ monthWord(told.months[0] ?? '') }}</span><span>{{
                  monthWord(told.months[told.months.length - 1] ?? '')
                }}</span>
              </td>
              <th scope="col" class="n">{{ say('figures.of_jobs') }}</th>
              <th scope="col" class="n">{{ say('figures.right') }}</th>
            </tr>
          </thead>
          <tbody>
            <JobStrip :months="told.months" :name="say('figures.all')" :of="told.all" />
          </tbody>
          <tbody v-for="group in shares" :key="group.what">
            <tr>
              <th scope="colgroup" colspan="4" class="what">{{ say(`figures_what.${group.what}`) }}</th>
            </tr>
            <JobStrip v-for="row in group.rows" :key="row.name" :months="told.months" :name="row.name" :of="row" />
          </tbody>
        </table>
      </div>
      <div v-if="stages.length > 0" class="sheet pad part">
        <h2>{{ say('figures.by_stage') }}</h2>
        <p class="soft small">{{ say('figures.by_stage_is') }}</p>
        <table class="plain stages">
          <thead>
            <tr>
              <th scope="col">{{ say('figures.stage') }}</th>
              <td></td>
              <th scope="col" class="n"><i class="key machine"></i>{{ say('figures.machine') }}</th>
              <th scope="col" class="n"><i class="key people"></i>{{ say('figures.people') }}</th>
              <th scope="col" class="n">{{ say('figures.of_jobs') }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="stage in stages" :key="stage.stage">
              <th scope="row">{{ say(`stage.${stage.stage}`) }}</th>
              <td class="bar">
                <svg viewBox="0 0 100 10" preserveAspectRatio="none" aria-hidden="true">
                  <rect :width="(100 * stage.machine_seconds) / longest" height="10" class="machine" />
                  <rect
                    :x="(100 * stage.machine_seconds) / longest"
                    :width="(100 * stage.people_seconds) / longest"
                    height="10"
                    class="people"
                  />
                </svg>
              </td>
              <td class="n">{{ inMinutes(stage.machine_seconds) }}</td>
              <td class="n">{{ inMinutes(stage.people_seconds) }}</td>
              <td class="n">{{ count(stage.jobs) }}</td>
            </tr>
          </tbody>
        </table>
      </div>
    </template>
    <div v-if="told" class="sheet pad part">
      <h2>{{ say('figures.in_the_way') }}</h2>
      <p v-if="told.in_the_way.length === 0">{{ say('figures.nothing') }}</p>
      <template v-else>
        <p class="soft small">{{ say('figures.in_the_way_is') }}</p>
        <table class="plain">
          <thead>
            <tr>
              <th scope="col">{{ say('figures.work') }}</th>
              <th scope="col">{{ say('figures.said') }}</th>
              <th scope="col" class="n">{{ say('figures.times') }}</th>
              <th scope="col" class="n">{{ say('figures.ended') }}</th>
              <th scope="col">{{ say('figures.last') }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(row, n) in told.in_the_way" :key="n">
              <th scope="row">{{ row.work }}</th>
              <td class="said">{{ row.text }}</td>
              <td class="n">{{ count(row.count) }}</td>
              <td class="n">{{ row.ended === 0 ? '–' : count(row.ended) }}</td>
              <td class="when">{{ dateTime(row.last_at) }}</td>
            </tr>
          </tbody>
        </table>
      </template>
    </div>
  </section>
</template>

<style scoped>
.head,
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3);
  align-items: center;
}
.head {
  justify-content: space-between;
}
.span {
  width: 180px;
}
.part {
  display: grid;
  gap: var(--gap-2);
  align-content: start;
  margin-bottom: var(--gap-4);
}
.part h2,
.part p {
  margin: 0;
}
.sum {
  font-weight: 600;
}
.scale {
  color: var(--soft);
  font-size: var(--t-small);
}
.scale span:last-child {
  float: right;
}
table.plain th[scope='row'] {
  color: inherit;
  font-weight: 400;
  white-space: normal;
  border-bottom-color: var(--sunk);
}
table.plain th.what {
  padding-top: var(--gap-4);
}
table.plain thead td {
  border-bottom-color: var(--line);
}
.bar {
  width: 50%;
  vertical-align: middle;
}
.bar svg {
  display: block;
  width: 100%;
  height: 12px;
}
.machine {
  fill: var(--arrived);
  background: var(--arrived);
}
.people {
  fill: color-mix(in srgb, var(--soft) 40%, var(--surface));
  background: color-mix(in srgb, var(--soft) 40%, var(--surface));
}
.key {
  display: inline-block;
  width: 10px;
  height: 10px;
  margin-right: 6px;
  border-radius: 2px;
}
.when {
  white-space: nowrap;
}
.said {
  overflow-wrap: anywhere;
}
</style>
