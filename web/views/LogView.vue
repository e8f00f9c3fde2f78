<script setup lang="ts">
import { useLog } from '../api/queries'
import { dateTime } from '../lib/format'
import { say } from '../lib/say'

const log = useLog()
</script>

<template>
  <section class="log">
    <h1>{{ say('log.title') }}</h1>
    <p class="soft">{{ say('log.about') }}</p>
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
          <tr v-for="entry in log.data.value" :key="entry.id">
            <td class="when">{{ dateTime(entry.at) }}</td>
            <td>{{ entry.by }}</td>
            <td>{{ entry.tray ?? '' }}</td>
            <td>{{ entry.text }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="log.data.value.length === 0" class="pad soft">{{ say('log.nothing') }}</p>
    </div>
  </section>
</template>

<style scoped>
.log {
  max-width: 1280px;
  margin: 0 auto;
  padding: var(--gap-4) var(--gap-6) var(--gap-8);
  display: grid;
  gap: var(--gap-3);
}
.when {
  white-space: nowrap;
}
</style>
