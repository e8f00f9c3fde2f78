<script setup lang="ts">
import { computed, ref } from 'vue'
import { useStandins } from '../api/shelf'
import StandinPhone from '../components/phone/StandinPhone.vue'
import StandinSticks from '../components/phone/StandinSticks.vue'
import StandinDisk from '../components/phone/StandinDisk.vue'
import { say } from '../lib/say'

const query = useStandins()
const owners = computed(() => {
  const groups = new Map<string, NonNullable<typeof query.data.value>>()
  for (const phone of query.data.value ?? []) groups.set(phone.owner, [...(groups.get(phone.owner) ?? []), phone])
  return [...groups].sort(([a], [b]) => a.localeCompare(b))
})
/** One customer at a time stands at the desk. */
const chosen = ref<string | null>(null)
const open = computed(() => chosen.value ?? owners.value[0]?.[0] ?? null)
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
        <h2>
          <button type="button" :aria-expanded="open === owner" @click="chosen = owner">
            <span aria-hidden="true">{{ open === owner ? '▾' : '▸' }}</span> {{ owner }}
            <span class="soft small">{{ phones.map((p) => p.model).join(', ') }}</span>
          </button>
        </h2>
        <div v-if="open === owner" class="phones">
          <StandinPhone v-for="phone in phones" :key="phone.serial" :phone="phone" />
        </div>
      </section>
      <StandinSticks />
      <StandinDisk />
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
  gap: var(--gap-2);
}
.owner h2 {
  margin: 0;
}
.owner h2 button {
  min-height: 32px;
  text-align: left;
}
.phones {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: var(--gap-6);
  max-width: 1100px;
  padding: var(--gap-2) 0 var(--gap-4) var(--gap-4);
}
@media (max-width: 1160px) {
  .phones {
    gap: var(--gap-4);
  }
}
</style>
