<script setup lang="ts">
import { useLog } from '../api/queries'
import { dateTime } from '../lib/format'

const log = useLog()
</script>

<template>
  <section class="log">
    <h1>Log</h1>
    <p class="soft">Who saw and did what, the newest 500 entries.</p>
    <p v-if="log.isPending.value" role="status">Reading…</p>
    <p v-else-if="log.error.value" class="trouble" role="alert">{{ log.error.value.message }}</p>
    <div v-else class="sheet">
      <table class="plain">
        <thead>
          <tr>
            <th>When</th>
            <th>Who</th>
            <th>Tray</th>
            <th>What</th>
            <th>Detail</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="entry in log.data.value" :key="entry.id">
            <td class="when">{{ dateTime(entry.at) }}</td>
            <td>{{ entry.by }}</td>
            <td>{{ entry.tray ?? '' }}</td>
            <td>{{ entry.act.replaceAll('_', ' ') }}</td>
            <td>{{ entry.detail }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="(log.data.value ?? []).length === 0" class="pad soft">Nothing happened yet.</p>
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
