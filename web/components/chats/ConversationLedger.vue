<script setup lang="ts">
import { computed, nextTick, onUnmounted, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { PAGE, useConversations, useMessages, usePlaceOfDay, useUncover, type Spot } from '../../api/chats'
import type { Schemas } from '../../api/client'
import { useSession } from '../../api/session'
import LedgerRow from './LedgerRow.vue'
import WhyNot from '../run/WhyNot.vue'
import { date, phoneNumber, typedDay } from '../../lib/format'
import { useKeys } from '../../lib/keys'
import { useLease } from '../../lib/lease'
import { say, word } from '../../lib/say'

const ROW = 46
/** Rows that a screen shows at most, with those that are drawn beyond it. */
const IN_SIGHT = 60

/** A conversation of a backup, message by message; covered until somebody uncovers it. */
const props = defineProps<{
  /** id; null while it is not known, or where there is none */
  backup: string | null
  /** why there is nothing to read, once that is known */
  lacks: string
  /** whether it is the manager's to uncover, who says why */
  isClosed: boolean
  /** where one came from, and what that is called */
  back: string
  backTitle: string
}>()
const route = useRoute()
const conversation = computed(() => Number(route.params['conversation']))
const backup = computed(() => props.backup)
const isClosed = computed(() => props.isClosed)
const session = useSession()
const mayUncover = computed(() => !isClosed.value || session.data.value?.user?.role === 'manager')
const reason = ref('')
const list = useConversations(backup)
const about = computed(() => list.data.value?.conversations.find((c) => c.id === conversation.value))

const lease = useLease()
const covered = computed(() => !lease.isUncovered.value)
const spot = computed(() => (backup.value === null ? null : { backup: backup.value, id: conversation.value }))
const topmost = ref(0)
const total = ref<number | null>(null)
/** The row above the topmost tells whether that begins a day. */
const wanted = computed(() => {
  const first = Math.floor(Math.max(0, topmost.value - 1) / PAGE)
  const last = Math.floor((topmost.value + IN_SIGHT) / PAGE)
  const most = total.value === null ? 0 : Math.max(0, Math.ceil(total.value / PAGE) - 1)
  return Array.from({ length: last - first + 1 }, (_, n) => first + n).filter((page) => page <= most)
})
const ledger = useMessages(spot, wanted, lease.isUncovered)
const uncovering = useUncover()
const dayPlace = usePlaceOfDay(spot)
const changing = computed(() => uncovering.isPending.value)
const trouble = computed(
  () => ledger.pages.value.find((page) => page.error)?.error?.message ?? uncovering.error.value?.message ?? '',
)
const places = computed(() => Array.from({ length: total.value ?? 0 }, (_, n) => n))
const scroller = ref<{ scrollToIndex: (index: number) => void } | null>(null)
const day = ref('')
const noDay = ref('')
const dayTrouble = computed(() => (noDay.value !== '' ? noDay.value : (dayPlace.error.value?.message ?? '')))
const dayField = ref<{ focus: () => void } | null>(null)
const picked = ref<number | null>(null)
/** A busy day fills many screens: which one it is stays in sight. */
const topDay = computed(() => {
  const top = total.value !== null && total.value > 0 ? message(topmost.value) : undefined
  return top === undefined ? '' : date(top.sent_at)
})

function message(index: number): Schemas['Message'] | undefined {
  const page = Math.floor(index / PAGE)
  // What is wanted changes as it comes; what was wanted before is there still.
  const now = ledger.pages.value[wanted.value.indexOf(page)]
  return (now?.data ?? ledger.read(page))?.messages[index % PAGE]
}

function isNewDay(index: number): boolean {
  const [now, before] = [message(index), index > 0 ? message(index - 1) : undefined]
  return now !== undefined && (index === 0 || before === undefined || date(now.sent_at) !== date(before.sent_at))
}

watch(
  () => ledger.pages.value.map((page) => page.data),
  async (answers) => {
    const answer = answers.find((one) => one !== undefined)
    if (answer === undefined) return
    // Somebody else may have ended what uncovers it.
    if (!covered.value && answers.some((one) => one?.covered)) lease.hold(null)
    const isFirst = total.value === null
    total.value = answer.total
    if (!isFirst) return
    await nextTick()
    // The newest messages are what one looks for first, where nobody came for a certain one.
    const at = Number(route.query['at'] ?? 0)
    if (at >= 1 && at <= answer.total) goTo(at)
    else scroller.value?.scrollToIndex(Math.max(0, answer.total - 1))
  },
)

const why = computed(() => {
  if (!covered.value) return ''
  if (!mayUncover.value) return say('why.may_not')
  return isClosed.value && reason.value.trim() === '' ? say('why.reason') : ''
})

/** Texts go as soon as they are covered, by whomever. */
watch(covered, (isCovered) => {
  if (isCovered) ledger.cover()
})

let isGone = false
async function uncover(of: Spot): Promise<void> {
  // Whoever has left meanwhile holds nothing either: what is granted is ended at once.
  const granted = await uncovering
    .mutateAsync({ spot: of, reason: isClosed.value ? reason.value : null })
    .catch(() => null)
  if (granted === null) return
  lease.hold(granted.lease)
  if (isGone || spot.value?.id !== of.id || spot.value.backup !== of.backup) lease.end()
}

function toggleCover(): void {
  if (!covered.value) return lease.end()
  if (!changing.value && why.value === '' && spot.value !== null) void uncover(spot.value)
}

watch([backup, conversation] as const, async () => {
  lease.end()
  uncovering.reset()
  total.value = null
  picked.value = null
  topmost.value = 0
  await nextTick()
  ledger.forget()
})
onUnmounted(() => {
  isGone = true
  ledger.forget()
})

function watchTop(event: Event): void {
  topmost.value = Math.floor((event.currentTarget as HTMLElement).scrollTop / ROW)
}

function goToDay(): void {
  const iso = typedDay(day.value)
  noDay.value = iso === null && day.value.trim() !== '' ? say('ledger.no_day') : ''
  dayPlace.reset()
  if (iso !== null) dayPlace.mutate(iso, { onSuccess: (found) => goTo(found.place) })
}

function goTo(to: number): void {
  picked.value = to
  scroller.value?.scrollToIndex(Math.max(0, to - 1))
}

function again(): void {
  for (const page of ledger.pages.value) if (page.error) void page.refetch()
}

useKeys({ u: () => toggleCover(), g: () => dayField.value?.focus() })
const preview = computed(() => `/api/backups/${backup.value}/conversations/${conversation.value}/previews/`)
</script>

<template>
  <section class="ledger">
    <header class="top">
      <div class="title">
        <RouterLink :to="back" class="back">{{ backTitle }}</RouterLink>
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
      <v-btn v-if="total === null" size="small" @click="again">{{ say('ledger.again') }}</v-btn>
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
