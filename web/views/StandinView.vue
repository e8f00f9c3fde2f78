<script setup lang="ts">
import { computed } from 'vue'
import { useStandins } from '../api/queries'
import StandinPhone from '../components/StandinPhone.vue'
import { say } from '../lib/say'

const query = useStandins()
const owners = computed(() => {
  const groups = new Map<string, NonNullable<typeof query.data.value>>()
  for (const phone of query.data.value ?? []) groups.set(phone.owner, [...(groups.get(phone.owner) ?? []), phone])
  return [...groups].sort(([a], [b]) => a.localeCompare(b))
})
</script>

<template>
  <div class="desk">
    <header class="hatch">
      <h1>{{ say('desk.title') }}</h1>
      <p>{{ say('desk.about') }}</p>
    </header>
    <p v-if="query.data.value === undefined && query.error.value" class="trouble" role="alert">
      {{ query.error.value.message }}
    </p>
    <p v-else-if="query.data.value === undefined" class="soft" role="status">{{ say('desk.looking') }}</p>
    <p v-else-if="owners.length === 0" class="sheet pad">{{ say('desk.none') }}</p>
    <div class="owners">
      <section v-for="[owner, phones] in owners" :key="owner" class="owner" :aria-label="owner">
        <h2>{{ owner }}</h2>
        <div class="phones"><StandinPhone v-for="phone in phones" :key="phone.serial" :phone="phone" /></div>
      </section>
    </div>
  </div>
</template>

<style scoped>
.desk {
  padding-bottom: var(--gap-8);
}
.hatch {
  padding: var(--gap-3) var(--gap-6);
  border-bottom: 1px solid var(--line);
  background: repeating-linear-gradient(-45deg, var(--sunk) 0 14px, var(--background) 14px 28px);
}
.hatch h1,
.hatch p {
  display: table;
  background: var(--background);
  padding: 0 6px;
}
.owners {
  padding: var(--gap-4) var(--gap-6);
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(560px, 1fr));
  gap: var(--gap-6);
}
.owner h2 {
  margin-bottom: var(--gap-2);
}
.phones {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: var(--gap-4);
}
@media (max-width: 1160px) {
  .owners {
    grid-template-columns: 1fr;
  }
}
</style>
