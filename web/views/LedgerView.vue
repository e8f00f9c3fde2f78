<script setup lang="ts">
import { computed, nextTick, ref, shallowRef, triggerRef, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api, body, type Schemas } from '../api/client'
import { useConversations } from '../api/queries'
import LedgerRow from '../components/LedgerRow.vue'
import { count, date } from '../lib/format'
import { useKeys } from '../lib/keys'
import { CONVERSATIONS } from '../lib/words'

const PAGE = 200
const ROW = 46

const route = useRoute()
const number = computed(() => Number(route.params['number']))
const conversation = computed(() => Number(route.params['conversation']))
const list = useConversations(number)
const about = computed(() => list.data.value?.conversations.find((c) => c.id === conversation.value))

const total = ref(0)
const covered = ref(true)
const trouble = ref('')
const pages = shallowRef(new Map<number, Schemas['Message'][]>())
const asked = new Set<number>()
const places = computed(() => Array.from({ length: total.value }, (_, n) => n))
const scroller = ref<{ scrollToIndex: (index: number) => void } | null>(null)
const day = ref('')
const dayField = ref<{ focus: () => void } | null>(null)
const picked = ref<number | null>(null)
const topmost = ref(0)
/** A busy day fills many screens: which one it is stays in sight. */
const topDay = computed(() => {
  const top = total.value > 0 ? message(topmost.value) : undefined
  return top === undefined ? '' : date(top.sent_at)
})

/** Pages are fetched as they come into sight, so that 200,000 messages cost as much as 200. */
async function load(page: number): Promise<void> {
  if (asked.has(page)) return
  asked.add(page)
  try {
    const answer = await body(
      api.GET('/api/trays/{number}/conversations/{id}/messages', {
        params: {
          path: { number: number.value, id: conversation.value },
          query: { from: page * PAGE + 1, limit: PAGE },
        },
      }),
    )
    total.value = answer.total
    covered.value = answer.covered
    pages.value.set(page, answer.messages)
    triggerRef(pages)
  } catch (error) {
    asked.delete(page)
    trouble.value = error instanceof Error ? error.message : 'The messages could not be read.'
  }
}

function message(index: number): Schemas['Message'] | undefined {
  const page = Math.floor(index / PAGE)
  void load(page)
  return pages.value.get(page)?.[index % PAGE]
}

function isNewDay(index: number): boolean {
  const [now, before] = [message(index), index > 0 ? message(index - 1) : undefined]
  return now !== undefined && (index === 0 || before === undefined || date(now.sent_at) !== date(before.sent_at))
}

async function start(): Promise<void> {
  pages.value = new Map()
  asked.clear()
  trouble.value = ''
  picked.value = null
  topmost.value = 0
  await load(0)
  await nextTick()
  // The newest messages are what one looks for first.
  scroller.value?.scrollToIndex(Math.max(0, total.value - 1))
}
watch([number, conversation], start, { immediate: true })

async function toggleCover(): Promise<void> {
  const params = { params: { path: { number: number.value, id: conversation.value } } }
  const at = '/api/trays/{number}/conversations/{id}/uncovered' as const
  try {
    covered.value = (await body(covered.value ? api.PUT(at, params) : api.DELETE(at, params))).covered
    const seen = [...pages.value.keys()]
    asked.clear()
    // A page that can't be fetched again must not go on showing what is now covered.
    if (covered.value) pages.value = new Map()
    await Promise.all(seen.map(load))
  } catch (error) {
    trouble.value = error instanceof Error ? error.message : 'That did not work.'
  }
}

function watchTop(event: Event): void {
  topmost.value = Math.floor((event.currentTarget as HTMLElement).scrollTop / ROW)
}

async function goToDay(): Promise<void> {
  if (!/^\d{4}-\d{2}-\d{2}$/.test(day.value)) return
  const { place } = await body(
    api.GET('/api/trays/{number}/conversations/{id}/place', {
      params: { path: { number: number.value, id: conversation.value }, query: { day: day.value } },
    }),
  )
  goTo(place)
}

function goTo(place: number): void {
  picked.value = place
  scroller.value?.scrollToIndex(Math.max(0, place - 1))
}

useKeys({ u: () => void toggleCover(), g: () => dayField.value?.focus() })
</script>

<template>
  <section class="ledger">
    <header class="top">
      <div class="title">
        <RouterLink :to="`/trays/${number}/look`" class="back">Tray {{ number }}, conversations</RouterLink>
        <h1 class="clip">{{ about?.title ?? 'Conversation' }}</h1>
        <p class="soft">
          <template v-if="about">{{ CONVERSATIONS[about.kind] }} · </template>{{ count(total) }} messages<template
            v-if="about && about.last_at"
          >
            · newest {{ date(about.last_at) }}</template
          >
        </p>
      </div>
      <form class="jump" @submit.prevent="goToDay">
        <v-text-field ref="dayField" v-model="day" type="date" label="Go to a day" @update:model-value="goToDay" />
      </form>
      <v-btn :aria-pressed="!covered" class="cover" @click="toggleCover"
        >{{ covered ? 'Uncover the texts' : 'Cover the texts' }} <kbd>u</kbd></v-btn
      >
    </header>
    <p class="note" :class="covered ? 'soft' : 'open'" role="status">
      {{
        covered
          ? 'Texts are covered: bars show their length. Uncovering is logged with your name.'
          : 'Texts are uncovered, and that is logged. Cover them before somebody else looks on.'
      }}
    </p>
    <p v-if="trouble" class="trouble" role="alert">{{ trouble }}</p>
    <div v-if="total === 0 && asked.size > 0 && pages.size > 0" class="sheet pad soft">
      This conversation holds no messages.
    </div>
    <div v-else class="sheet page">
      <div class="columns small soft" aria-hidden="true">
        <span :class="{ day: topDay !== '' }">{{ topDay === '' ? 'Time' : topDay }}</span><span>Sender</span
        ><span>Message</span><span>Marks</span>
      </div>
      <v-virtual-scroll
        ref="scroller"
        :items="places"
        :item-height="ROW"
        class="rows"
        tabindex="0"
        role="region"
        aria-label="Messages"
        @scroll.passive="watchTop"
      >
        <template #default="{ item }">
          <LedgerRow
            :message="message(item)"
            :is-new-day="isNewDay(item)"
            :covered="covered"
            :picked="picked === item + 1"
            :preview="`/api/trays/${number}/conversations/${conversation}/previews/`"
            @go-to="goTo"
          />
        </template>
      </v-virtual-scroll>
    </div>
  </section>
</template>

<style scoped>
.ledger {
  display: grid;
  grid-template-rows: auto auto auto 1fr;
  gap: var(--gap-2);
  padding: var(--gap-3) var(--gap-6) var(--gap-4);
  height: calc(100vh - 52px);
  max-width: 1480px;
  margin: 0 auto;
}
.top {
  display: grid;
  grid-template-columns: 1fr auto auto;
  gap: var(--gap-4);
  align-items: end;
}
.title {
  min-width: 0;
}
.back {
  color: var(--soft);
  font-size: var(--t-small);
}
.jump {
  width: 190px;
}
.cover {
  height: 40px !important;
}
kbd {
  font-family: var(--sans);
  border: 1px solid currentcolor;
  border-radius: 3px;
  padding: 0 5px;
  margin-left: 8px;
  font-size: 0.75rem;
}
.columns .day {
  font-weight: 650;
  color: var(--ink);
}
.note.open {
  color: var(--missing);
  font-weight: 600;
}
.page {
  min-height: 0;
  display: grid;
  grid-template-rows: auto 1fr;
  overflow: hidden;
  grid-row: 4;
}
.columns {
  display: grid;
  grid-template-columns: 118px 168px minmax(0, 1fr) 190px;
  gap: var(--gap-3);
  padding: 5px var(--gap-4);
  border-bottom: 1px solid var(--line);
}
.rows {
  min-height: 0;
  height: 100%;
}
</style>
