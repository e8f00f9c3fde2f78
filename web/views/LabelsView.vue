<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { useTray } from '../api/tray'
import RoleMark from '../components/phone/RoleMark.vue'
import { squares } from '../lib/labels'
import { date } from '../lib/format'
import { say } from '../lib/say'

/** Labels to print and to stick on the phones of a tray: what is typed before a phone is written to stands on them. */
const route = useRoute()
const number = computed(() => Number(route.params['number']))
const tray = useTray(number)
const labels = computed(() =>
  (tray.data.value?.labels ?? []).flatMap((label) => {
    const phone = tray.data.value?.phones.find((p) => p.tag === label.tag)
    return phone ? [{ ...label, phone, code: label.code, drawn: squares(`${label.tag} ${label.code}`) }] : []
  }),
)
const print = (): void => window.print()
</script>

<template>
  <section class="page">
    <header class="top">
      <div>
        <h1>{{ say('labels.title', { tray: number }) }}</h1>
        <p class="soft">{{ say('labels.how') }}</p>
      </div>
      <v-btn class="next" :disabled="labels.length === 0" @click="print">{{ say('labels.print') }}</v-btn>
      <v-btn variant="text" :to="`/trays/${number}`">{{ say('labels.back') }}</v-btn>
    </header>
    <p v-if="!tray.data.value && tray.error.value" class="trouble" role="alert">{{ tray.error.value.message }}</p>
    <p v-else-if="!tray.data.value" class="soft" role="status">{{ say('labels.loading') }}</p>
    <div class="labels">
      <article v-for="label in labels" :key="label.tag" class="label" :aria-label="label.tag">
        <svg
          class="code"
          :viewBox="`-2 -2 ${label.drawn.size + 4} ${label.drawn.size + 4}`"
          role="img"
          :aria-label="say('labels.code', { code: `${label.tag} ${label.code}` })"
        >
          <path :d="label.drawn.path" fill="currentColor" shape-rendering="crispEdges" />
        </svg>
        <div class="words">
          <p class="slab tag">{{ label.tag }}</p>
          <p class="letters">{{ label.code }}</p>
          <p class="fact"><RoleMark :role="label.phone.role" /></p>
          <p class="fact">{{ label.phone.live.model }}</p>
          <p v-if="tray.data.value" class="fact">{{ date(tray.data.value.opened_at) }}</p>
        </div>
      </article>
    </div>
  </section>
</template>

<style scoped>
.page {
  max-width: 900px;
  margin: 0 auto;
  padding: var(--gap-4) var(--gap-6);
  display: grid;
  gap: var(--gap-4);
}
.top {
  display: grid;
  grid-template-columns: 1fr auto auto;
  gap: var(--gap-3);
  align-items: start;
}
.labels {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-4);
}
/* Paper is white and its letters are black, whatever the colours of the screen. */
.label {
  background: #fff;
  color: #000;
  border: 1px dashed #888;
  width: 62mm;
  height: 32mm;
  padding: 2mm;
  display: grid;
  grid-template-columns: 26mm 1fr;
  gap: 3mm;
  align-items: center;
  break-inside: avoid;
}
.code {
  width: 26mm;
  height: 26mm;
}
.words {
  display: grid;
  gap: 1mm;
  min-width: 0;
}
.words .tag {
  font-size: 7mm;
  line-height: 1;
}
.letters {
  font-size: 4.5mm;
  line-height: 1.1;
  letter-spacing: 0.8mm;
  font-weight: 650;
}
/* A longer model is cut: the tag is what counts. */
.fact {
  font-size: 3mm;
  line-height: 1.2;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
@media print {
  .top {
    display: none;
  }
  .page {
    padding: 0;
    max-width: none;
  }
}
</style>
