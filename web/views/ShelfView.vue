<script setup lang="ts">
import { computed, ref } from 'vue'
import { useEarlierTrays, useShelf, useShelfEnd } from '../api/shelf'
import BenchStrip from '../components/phone/BenchStrip.vue'
import ClockDoubt from '../components/frame/ClockDoubt.vue'
import ProgressLine from '../components/run/ProgressLine.vue'
import RoleMark from '../components/phone/RoleMark.vue'
import StageRibbon from '../components/run/StageRibbon.vue'
import TrayTagMark from '../components/frame/TrayTagMark.vue'
import { dateTime, time } from '../lib/format'
import { say } from '../lib/say'
import { shelfOrder, withEarlier, type TrayTag } from '../lib/shelf'
import { stageWord } from '../lib/words'

const shelf = useShelf(ref(true))
const end = useShelfEnd()
const isEarlierAsked = ref(false)
const earlier = useEarlierTrays(
  computed(() => end.data.value ?? null),
  isEarlierAsked,
)
const sections = computed(() =>
  shelfOrder(
    withEarlier(
      shelf.data.value ?? [],
      isEarlierAsked.value ? (earlier.data.value?.pages ?? []).flatMap((p) => p.trays) : [],
    ),
  ),
)
const hasMore = computed(() => (isEarlierAsked.value ? earlier.hasNextPage.value : typeof end.data.value === 'number'))
function showEarlier(): void {
  if (isEarlierAsked.value) void earlier.fetchNextPage()
  else isEarlierAsked.value = true
}
const marks = { person: '▲', machine: '◷', nobody: '✓' }
function model(live: TrayTag['phones'][number]['live']): string {
  if (!live.on_bench) return say('shelf.no_phone')
  return live.plugged ? live.model : say('shelf.not_connected', { model: live.model })
}
</script>

<template>
  <div class="page wide">
    <header class="head">
      <h1>{{ say('shelf.title') }}</h1>
      <nav class="ways">
        <RouterLink to="/wall" class="soft">{{ say('wall.title') }}</RouterLink>
        <v-btn to="/trays/new" class="new">{{ say('shelf.new') }}</v-btn>
      </nav>
    </header>
    <ClockDoubt />
    <BenchStrip />
    <p v-if="shelf.data.value === undefined && shelf.error.value" class="trouble" role="alert">
      {{ say('shelf.failed') }} {{ shelf.error.value.message }}
    </p>
    <p v-else-if="shelf.data.value === undefined" class="soft" role="status">{{ say('shelf.loading') }}</p>
    <div v-else-if="sections.length === 0" class="sheet pad empty">
      <h2>{{ say('shelf.empty') }}</h2>
      <p>{{ say('shelf.empty_how') }}</p>
      <v-btn class="next" to="/trays/new">{{ say('shelf.new') }}</v-btn>
    </div>
    <section v-for="section in sections" :key="section.key" :aria-label="say(`shelf.${section.key}`)">
      <h2 class="section">
        <span aria-hidden="true">{{ marks[section.key] }}</span> {{ say(`shelf.${section.key}`) }}
        <span class="soft">{{ section.trays.length }}{{ section.key === 'nobody' && hasMore ? '+' : '' }}</span>
      </h2>
      <ul>
        <li v-for="tray in section.trays" :key="tray.number" class="sheet" :class="section.key">
          <RouterLink :to="`/trays/${tray.number}`" class="row">
            <TrayTagMark :number="tray.number" :waits="tray.waits.for" />
            <div class="customer">
              <b class="clip" :title="tray.customer">{{ tray.customer }}</b>
              <StageRibbon :stage="tray.stage" :errand="tray.errand" :closed="tray.closed" />
              <ul v-if="tray.accounts.length > 1 && !tray.closed" class="accounts small">
                <li v-for="a in tray.accounts" :key="a.place">
                  <span aria-hidden="true">{{ marks[a.waits_for] }}</span> {{ a.edition }}:
                  <span class="soft">{{ a.stage === 'hand_over' ? say('stage.done') : stageWord(a.stage) }}</span>
                </li>
              </ul>
            </div>
            <p v-if="tray.errand === 'import'" class="soft">{{ say('errand.import') }}</p>
            <ul v-else class="phones">
              <li v-for="phone in [...tray.phones].sort((a) => (a.role === 'gives' ? -1 : 1))" :key="phone.tag">
                <RoleMark :role="phone.role" /> <b>{{ phone.tag }}</b>
                <span class="soft clip">{{ model(phone.live) }}</span>
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
                  <span v-if="tray.waits.since" class="since soft small">{{
                    say('shelf.since', { at: time(tray.waits.since) })
                  }}</span>
                </p>
                <p v-if="tray.waits.how" class="soft how" :title="tray.waits.how">
                  {{
                    tray.waits.who === 'customer' ? say('shelf.customer_does', { how: tray.waits.how }) : tray.waits.how
                  }}
                </p>
              </template>
              <p v-else class="soft">
                {{ say('shelf.done_at', { text: tray.waits.text, at: dateTime(tray.changed_at) }) }}
              </p>
            </div>
          </RouterLink>
        </li>
      </ul>
      <template v-if="section.key === 'nobody'">
        <p v-if="earlier.error.value" class="trouble" role="alert">{{ earlier.error.value.message }}</p>
        <v-btn v-if="hasMore" variant="text" :loading="earlier.isFetching.value" @click="showEarlier">{{
          say('shelf.earlier')
        }}</v-btn>
      </template>
    </section>
  </div>
</template>

<style scoped>
.head {
  display: flex;
  justify-content: space-between;
  align-items: center;
}
.ways {
  display: flex;
  gap: var(--gap-4);
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
.since {
  font-weight: 400;
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
.accounts {
  gap: 0;
}
</style>
