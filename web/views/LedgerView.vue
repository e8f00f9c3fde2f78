<script setup lang="ts">
import { computed, nextTick, onBeforeUnmount, ref, shallowRef, triggerRef, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api, body, type Schemas } from '../api/client'
import { useConversations, useSession, useTray } from '../api/queries'
import LedgerRow from '../components/LedgerRow.vue'
import WhyNot from '../components/WhyNot.vue'
import { date, phoneNumber, typedDay } from '../lib/format'
import { useKeys } from '../lib/keys'
import { useLease } from '../lib/lease'
import { language, say, word } from '../lib/say'

const PAGE = 200
const ROW = 46
/** Milliseconds after which pages that did not come are asked for again. */
const AGAIN = 3_000

const route = useRoute()
const number = computed(() => Number(route.params['number']))
const place = computed(() => Number(route.params['place']))
const conversation = computed(() => Number(route.params['conversation']))
const tray = useTray(number)
const move = computed(() => tray.data.value?.moves.find((m) => m.place === place.value))
const edition = computed(() => move.value?.edition ?? '')
/** Which one is brought can change while it is looked into. */
const backup = computed(() => move.value?.backup?.id ?? null)
/** Why there is nothing to read, once that is known. */
const lacks = computed(() => {
  if (tray.data.value === undefined) return tray.error.value?.message ?? ''
  return backup.value === null ? say('ledger.no_backup') : ''
})
const session = useSession()
const isClosed = computed(() => tray.data.value?.closed === true)
const mayUncover = computed(() => !isClosed.value || session.data.value?.user?.role === 'manager')
const reason = ref('')
const list = useConversations(backup)
const about = computed(() => list.data.value?.conversations.find((c) => c.id === conversation.value))

const total = ref<number | null>(null)
const lease = useLease()
const covered = computed(() => !lease.isUncovered.value)
const trouble = ref('')
const changing = ref(false)
const pages = shallowRef(new Map<number, Schemas['Message'][]>())
const asked = new Set<number>()
const places = computed(() => Array.from({ length: total.value ?? 0 }, (_, n) => n))
const scroller = ref<{ scrollToIndex: (index: number) => void } | null>(null)
const day = ref('')
const dayTrouble = ref('')
const dayField = ref<{ focus: () => void } | null>(null)
const picked = ref<number | null>(null)
const topmost = ref(0)
/** Goes up with every conversation and with every covering: an answer to an earlier question is dropped. */
let visit = 0
let again: ReturnType<typeof setTimeout> | undefined
/** A busy day fills many screens: which one it is stays in sight. */
const topDay = computed(() => {
  const top = total.value !== null && total.value > 0 ? message(topmost.value) : undefined
  return top === undefined ? '' : date(top.sent_at)
})

const spot = () => ({ backup: backup.value ?? '', id: conversation.value })
/** Pages are fetched as they come into sight, so that 200,000 messages cost as much as 200. */
async function load(page: number): Promise<void> {
  if (asked.has(page)) return
  asked.add(page)
  const mine = visit
  try {
    const answer = await body(
      api.GET('/api/backups/{backup}/conversations/{id}/messages', {
        params: {
          path: spot(),
          query: { from: page * PAGE + 1, limit: PAGE, ...(covered.value ? {} : { uncovered: 1 as const }) },
        },
      }),
    )
    if (mine !== visit) return
    total.value = answer.total
    // Somebody else may have ended what uncovers it.
    if (answer.covered) lease.hold(null)
    pages.value.set(page, answer.messages)
    trouble.value = ''
    triggerRef(pages)
  } catch (error) {
    if (mine !== visit) return
    asked.delete(page)
    trouble.value = error instanceof Error ? error.message : say('ledger.failed')
    clearTimeout(again)
    again = setTimeout(() => {
      if (mine !== visit) return
      if (total.value === null) void start()
      else triggerRef(pages)
    }, AGAIN)
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

/** Forgets what was read: rows in sight are asked for anew, all others when they come into sight. */
function forget(): void {
  visit += 1
  clearTimeout(again)
  asked.clear()
  pages.value = new Map()
}

async function start(): Promise<void> {
  forget()
  total.value = null
  trouble.value = ''
  picked.value = null
  topmost.value = 0
  const mine = visit
  await load(0)
  if (mine !== visit) return
  await nextTick()
  // The newest messages are what one looks for first, where nobody came for a certain one.
  const wanted = Number(route.query['at'] ?? 0)
  if (wanted >= 1 && wanted <= (total.value ?? 0)) goTo(wanted)
  else scroller.value?.scrollToIndex(Math.max(0, (total.value ?? 0) - 1))
}

const uncoveredAt = '/api/backups/{backup}/conversations/{id}/uncovered' as const

const why = computed(() => {
  if (!covered.value) return ''
  if (!mayUncover.value) return say('why.may_not')
  return isClosed.value && reason.value.trim() === '' ? say('why.reason') : ''
})

/** Texts go as soon as they are covered, by whomever. */
watch(covered, (isCovered) => {
  if (isCovered) forget()
})

async function uncover(): Promise<void> {
  if (changing.value || !mayUncover.value || backup.value === null) return
  changing.value = true
  const mine = visit
  try {
    const why = isClosed.value ? { body: { reason: reason.value } } : {}
    const granted = await body(api.PUT(uncoveredAt, { params: { path: spot() }, ...why }))
    lease.hold(granted.lease)
    if (mine !== visit) return lease.end()
    trouble.value = ''
    forget()
  } catch (error) {
    if (mine === visit) trouble.value = error instanceof Error ? error.message : say('ledger.failed')
  } finally {
    changing.value = false
  }
}

function toggleCover(): void {
  if (covered.value) void uncover()
  else lease.end()
}

watch(
  [backup, conversation] as const,
  ([known]) => {
    lease.end()
    forget()
    total.value = null
    if (known !== null) void start()
  },
  { immediate: true },
)
onBeforeUnmount(() => {
  clearTimeout(again)
  lease.end()
  visit += 1
})
watch(language, () => triggerRef(pages))

function watchTop(event: Event): void {
  topmost.value = Math.floor((event.currentTarget as HTMLElement).scrollTop / ROW)
}

async function goToDay(): Promise<void> {
  dayTrouble.value = ''
  const iso = typedDay(day.value)
  if (iso === null) {
    dayTrouble.value = day.value.trim() === '' ? '' : say('ledger.no_day')
    return
  }
  try {
    const found = await body(
      api.GET('/api/backups/{backup}/conversations/{id}/place', {
        params: { path: spot(), query: { day: iso } },
      }),
    )
    goTo(found.place)
  } catch (error) {
    dayTrouble.value = error instanceof Error ? error.message : say('ledger.failed')
  }
}

function goTo(to: number): void {
  picked.value = to
  scroller.value?.scrollToIndex(Math.max(0, to - 1))
}

useKeys({ u: () => toggleCover(), g: () => dayField.value?.focus() })
const back = computed(() => `/trays/${number.value}/accounts/${place.value}/choose`)
const preview = computed(() => `/api/backups/${backup.value}/conversations/${conversation.value}/previews/`)
</script>

<template>
  <section class="ledger">
    <header class="top">
      <div class="title">
        <RouterLink :to="back" class="back">{{ say('ledger.back', { number, edition }) }}</RouterLink>
        <h1 class="clip" :title="about?.title ?? undefined">
          {{ about?.title ? phoneNumber(about.title) : say('ledger.conversation') }}
        </h1>
        <p class="soft">
          <template v-if="about">{{ word('conversation', about.kind) }} · </template
          ><template v-if="total !== null">{{ say('ledger.count', { count: total }) }}</template
          ><template v-if="about && about.last_at"> · {{ say('ledger.newest', { at: date(about.last_at) }) }}</template>
        </p>
      </div>
      <form v-if="lacks === ''" class="jump" @submit.prevent="goToDay">
        <v-text-field
          ref="dayField"
          v-model="day"
          :label="say('ledger.day')"
          :placeholder="say('ledger.day_hint')"
          :error-messages="dayTrouble"
          inputmode="numeric"
          autocomplete="off"
          maxlength="12"
        />
      </form>
      <form v-if="lacks === ''" class="uncovering" @submit.prevent="toggleCover">
        <v-text-field
          v-if="isClosed && mayUncover && covered"
          v-model="reason"
          class="why"
          :label="say('ledger.why')"
          hide-details
          maxlength="200"
        />
        <v-btn class="cover" type="submit" :loading="changing" :disabled="why !== ''"
          >{{ covered ? say('ledger.uncover') : say('ledger.cover') }} <kbd>u</kbd></v-btn
        >
        <WhyNot :because="why" />
      </form>
    </header>
    <p v-if="lacks === ''" class="note" :class="covered ? 'soft' : 'open'" role="status">
      {{ !covered ? say('ledger.uncovered') : isClosed ? say('ledger.closed') : say('ledger.covered') }}
    </p>
    <p v-if="trouble" class="trouble" role="alert">
      {{ trouble }}
      <v-btn v-if="total === null" size="small" @click="start">{{ say('ledger.again') }}</v-btn>
    </p>
    <p v-if="lacks" class="sheet pad" role="alert">{{ lacks }}</p>
    <p v-else-if="total === null && trouble === ''" class="soft" role="status">{{ say('ledger.loading') }}</p>
    <div v-else-if="total === 0" class="sheet pad soft">{{ say('ledger.nothing') }}</div>
    <div v-else-if="total !== null" class="sheet page">
      <div class="columns small soft" aria-hidden="true">
        <span :class="{ day: topDay !== '' }">{{ topDay === '' ? say('ledger.time') : topDay }}</span><span>{{
          say('ledger.sender')
        }}</span
        ><span>{{ say('ledger.message') }}</span
        ><span>{{ say('ledger.marks') }}</span>
      </div>
      <v-virtual-scroll
        ref="scroller"
        :items="places"
        :item-height="ROW"
        class="rows"
        tabindex="0"
        role="region"
        :aria-label="say('ledger.messages')"
        @scroll.passive="watchTop"
      >
        <template #default="{ item }">
          <LedgerRow
            :message="message(item)"
            :is-new-day="isNewDay(item)"
            :covered="covered"
            :picked="picked === item + 1"
            :preview="preview"
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
.uncovering {
  display: flex;
  gap: var(--gap-2);
}
.why {
  width: 260px;
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
