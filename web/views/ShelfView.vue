<script setup lang="ts">
import { computed, ref } from 'vue'
import { useShelf } from '../api/queries'
import ProgressLine from '../components/ProgressLine.vue'
import RoleMark from '../components/RoleMark.vue'
import StageRibbon from '../components/StageRibbon.vue'
import TrayTagMark from '../components/TrayTagMark.vue'
import { dateTime } from '../lib/format'
import { shelfOrder } from '../lib/shelf'

const shelf = useShelf(ref(true))
const sections = computed(() => shelfOrder(shelf.data.value ?? []))
const marks = { person: '▲', machine: '◷', nobody: '✓' }
</script>

<template>
  <div class="shelf">
    <header class="head">
      <h1>Shelf</h1>
      <v-btn to="/trays/new" class="new">New tray</v-btn>
    </header>
    <p v-if="shelf.isPending.value" class="soft" role="status">Looking at the trays…</p>
    <div v-else-if="sections.length === 0" class="sheet pad empty">
      <h2>No trays yet</h2>
      <p>A tray is one customer’s job. Open one when two phones lie on the bench.</p>
      <v-btn class="next" to="/trays/new">New tray</v-btn>
    </div>
    <section v-for="section in sections" :key="section.key" :aria-label="section.title">
      <h2 class="section">
        <span aria-hidden="true">{{ marks[section.key] }}</span> {{ section.title }}
        <span class="soft">{{ section.trays.length }}</span>
      </h2>
      <ul>
        <li v-for="tray in section.trays" :key="tray.number" class="sheet" :class="section.key">
          <RouterLink :to="`/trays/${tray.number}`" class="row">
            <TrayTagMark :number="tray.number" :waits="tray.waits.for" />
            <div class="customer">
              <b class="clip">{{ tray.customer }}</b>
              <StageRibbon :stage="tray.stage" :place="tray.stage_place" :closed="tray.closed" />
            </div>
            <ul class="phones">
              <li v-for="phone in [...tray.phones].sort((a) => (a.role === 'gives' ? -1 : 1))" :key="phone.tag">
                <RoleMark :role="phone.role" /> <b>{{ phone.tag }}</b>
                <span class="soft clip"
                  >{{ phone.live.model }}<template v-if="!phone.live.plugged">, not connected</template></span
                >
              </li>
            </ul>
            <div class="waits">
              <template v-if="tray.waits.for === 'machine'">
                <p>{{ tray.waits.text }}</p>
                <ProgressLine v-if="tray.waits.progress" :progress="tray.waits.progress" />
              </template>
              <template v-else-if="tray.waits.for === 'person'">
                <p class="what">
                  <span v-if="tray.waits.tag" class="on">{{ tray.waits.tag }}</span> {{ tray.waits.text }}
                </p>
                <p v-if="tray.waits.how" class="soft how">
                  {{ tray.waits.who === 'customer' ? 'Customer: ' : '' }}{{ tray.waits.how }}
                </p>
              </template>
              <p v-else class="soft">{{ tray.waits.text }} {{ dateTime(tray.changed_at) }}</p>
            </div>
          </RouterLink>
        </li>
      </ul>
    </section>
  </div>
</template>

<style scoped>
.shelf {
  max-width: 1480px;
  margin: 0 auto;
  padding: var(--gap-4) var(--gap-6) var(--gap-8);
  display: grid;
  gap: var(--gap-3);
}
.head {
  display: flex;
  justify-content: space-between;
  align-items: center;
}
.section {
  margin-bottom: var(--gap-2);
  font-size: 1rem;
}
ul {
  list-style: none;
  padding: 0;
  margin: 0;
  display: grid;
  gap: var(--gap-2);
}
.row {
  display: grid;
  grid-template-columns: 112px minmax(210px, 0.9fr) minmax(220px, 0.8fr) minmax(280px, 1.5fr);
  gap: var(--gap-4);
  align-items: center;
  padding: var(--gap-3) var(--gap-4);
  color: inherit;
  text-decoration: none;
}
.row:hover {
  background: var(--sunk);
}
.customer {
  display: grid;
  gap: 6px;
  min-width: 0;
}
.customer b {
  font-size: var(--t-lead);
}
.phones {
  gap: 4px;
  min-width: 0;
}
.phones li {
  display: flex;
  gap: 6px;
  align-items: baseline;
  min-width: 0;
}
.phones li > :first-child {
  min-width: 84px;
}
.waits {
  min-width: 0;
  display: grid;
  gap: 3px;
}
.what {
  font-weight: 650;
  font-size: 1rem;
}
.on {
  font-family: var(--slab);
  border: 2px solid currentcolor;
  border-radius: 3px;
  padding: 0 5px;
  margin-right: 2px;
}
.how {
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  overflow: hidden;
  font-size: var(--t-small);
}
li.person {
  border-left: 5px solid var(--ribbon);
}
.empty {
  display: grid;
  gap: var(--gap-3);
  justify-items: start;
}
</style>
