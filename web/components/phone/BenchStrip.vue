<script setup lang="ts">
import { computed } from 'vue'
import { useBench } from '../../api/shelf'
import { say } from '../../lib/say'

/** The bench at a glance: phones that lie there in no tray, and the way to all of them. */
const bench = useBench()
const free = computed(() => (bench.data.value ?? []).filter((phone) => phone.tray === null))
</script>

<template>
  <section v-if="bench.data.value !== undefined" class="strip" :aria-label="say('bench.title')">
    <RouterLink to="/bench">{{ say('bench.strip', { all: bench.data.value.length, free: free.length }) }}</RouterLink>
    <ul v-if="free.length > 0">
      <li v-for="phone in free.slice(0, 8)" :key="phone.live.serial" :class="{ closed: !phone.live.open }">
        <span aria-hidden="true">{{ phone.live.open ? '●' : '○' }}</span> {{ phone.live.model }}
        <span class="sr">{{ phone.live.open ? say('phone.allowed') : say('phone.not_allowed') }}</span>
      </li>
      <li v-if="free.length > 8">{{ say('bench.more', { count: free.length - 8 }) }}</li>
    </ul>
  </section>
</template>

<style scoped>
.strip {
  display: flex;
  flex-wrap: wrap;
  gap: 4px var(--gap-4);
  align-items: baseline;
  font-size: var(--t-small);
  color: var(--soft);
}
.strip a {
  color: var(--ink);
  padding: 4px 0;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 4px var(--gap-3);
}
</style>
