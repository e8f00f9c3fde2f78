<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import type { Schemas } from '../api/client'
import { useConversations } from '../api/chats'
import { useChooseScope, useKeepHabit, useScope, useScopeSum } from '../api/choosing'
import AcrossChats from '../components/chats/AcrossChats.vue'
import BackupFacts from '../components/backup/BackupFacts.vue'
import ConversationTable from '../components/chats/ConversationTable.vue'
import PhoneDamage from '../components/phone/PhoneDamage.vue'
import ScopeSum from '../components/chats/ScopeSum.vue'
import WhyNot from '../components/run/WhyNot.vue'
import { bytes, count, dateTime, phoneNumber } from '../lib/format'
import {
  askedOf,
  byRule,
  forgetScope,
  isNoDay,
  isSame,
  draftOf,
  keptDraft,
  QUIET,
  TRIALS,
  withHabit,
  type FileGroup,
  type Order,
  type Rule,
  type ScopeDraft,
} from '../lib/scope'
import { say } from '../lib/say'
import { heldOn } from '../lib/ways'
import { ACROSS, platformWord, type Across } from '../lib/words'

const props = defineProps<{ tray: Schemas['Tray']; move: Schemas['Move'] }>()
const router = useRouter()
const at = computed(() => ({ number: props.tray.number, place: props.move.place }))
const ledger = computed(() => `/trays/${props.tray.number}/accounts/${props.move.place}/conversations`)
const isMove = computed(() => props.tray.errand !== 'only_back_up')
const receiving = computed(() => props.tray.phones.find((p) => p.role === 'receives'))
const tag = computed(() => receiving.value?.tag ?? '')
const target = computed(() => receiving.value?.live.platform ?? 'android')
const holds = computed(() => (receiving.value?.live.open ? heldOn(props.tray, props.move, 'receives')?.counts : null))

/** Names this moment and no earlier one that looked like it. */
const stamp = computed(() =>
  [props.move.backup?.id, props.move.restored_at, props.move.run?.id, props.move.run?.state, props.move.merges].join(
    '/',
  ),
)
const scope = useScope(
  at,
  stamp,
  computed(() => isMove.value && props.move.backup !== null),
)
const draft = shallowRef<ScopeDraft | null>(null)
const kept = computed(() => (scope.data.value ? draftOf(scope.data.value) : null))
const mayChoose = computed(() => scope.data.value?.may_choose === true)
/** What was only looked at is no draft of anybody. */
let isOnlyShown = false
watch(
  [at, () => scope.data.value, mayChoose],
  ([where, data]) => {
    if (!data) draft.value = null
    else if (!data.may_choose || scope.isPlaceholderData.value) draft.value = draftOf(data)
    else if (draft.value === null || isOnlyShown) draft.value = keptDraft(where, data)
    isOnlyShown = data !== undefined && (!data.may_choose || scope.isPlaceholderData.value)
  },
  { immediate: true },
)
/** Replace or merge is a question without an answer of ours: where nobody has said so yet, neither is chosen. */
const there = ref<boolean | null>(null)
const isThereToSay = computed(() => !!holds.value && holds.value.messages > 0)
const merges = computed(
  () => there.value ?? (props.move.merges || props.move.rehearsal !== null ? draft.value?.merges : null),
)
function sayThere(wanted: boolean): void {
  there.value = wanted
  change({ merges: wanted })
}
const isUnsaid = computed(() => isThereToSay.value && typeof merges.value !== 'boolean')
const asked = computed(() => (draft.value === null ? null : askedOf(draft.value)))
/** What is only looked at is counted already. */
const counted = computed(() => (mayChoose.value ? asked.value : null))
const live = useScopeSum(at, counted, stamp)
const sum = computed(() => live.data.value ?? scope.data.value?.sum ?? null)
const isChanged = computed(() => draft.value !== null && kept.value !== null && !isSame(draft.value, kept.value))

const conversations = useConversations(computed(() => props.move.backup?.id ?? null))
const rows = computed(() => conversations.data.value?.conversations ?? [])
const left = computed(() => new Set(draft.value?.conversations ?? []))
const find = ref('')
const look = ref<Across | 'conversations'>('conversations')
const order = ref<Order>('newest')
const orders = computed(() =>
  (['newest', 'size', 'messages', 'name'] as const).map((value) => ({ value, title: say(`scope.by_${value}`) })),
)
const quiet = ref(12)
const months = computed(() => QUIET.map((value) => ({ value, title: say('scope.months', { count: value }) })))
const rules = computed(() => {
  const all: Rule[] = [{ is: 'archived' }, { is: 'empty' }, { is: 'quiet', months: quiet.value }]
  return all.map((rule) => ({ rule, ids: byRule(rows.value, rule, new Date()) }))
})
/** A trial as it is named in the list; which conversation is chosen beside it. */
const trial = computed(() => {
  const chosen = draft.value?.trial ?? null
  if (chosen === null) return 'none'
  return 'newest' in chosen ? `newest_${chosen.newest}` : 'one'
})
const trials = computed(() => [
  { value: 'none', title: say('scope.trial_none') },
  ...TRIALS.map((newest) => ({ value: `newest_${newest}`, title: say('scope.trial_newest', { count: newest }) })),
  { value: 'one', title: say('scope.trial_one') },
])
const single = computed(() => {
  const chosen = draft.value?.trial ?? null
  return chosen !== null && 'conversation' in chosen ? chosen.conversation : null
})
const candidates = computed(() =>
  rows.value
    .filter((c) => c.messages > 0 && !left.value.has(c.id))
    .map((c) => ({ value: c.id, title: c.title === null ? say('app.untitled') : phoneNumber(c.title) })),
)
function tryFirst(value: string): void {
  const newest = Number(value.replace('newest_', ''))
  const first = candidates.value[0]?.value
  if (value === 'one' && first !== undefined) change({ trial: { conversation: first } })
  else change({ trial: Number.isInteger(newest) && newest > 0 ? { newest } : null })
}
const isRuled = (ids: number[]): boolean => ids.length > 0 && ids.every((id) => left.value.has(id))

function change(parts: Partial<ScopeDraft>): void {
  if (draft.value !== null && mayChoose.value) Object.assign(draft.value, parts)
}
function toggleGroup(group: FileGroup): void {
  const groups = draft.value?.groups ?? []
  change({ groups: groups.includes(group) ? groups.filter((g) => g !== group) : [...groups, group] })
}
function leave(ids: number[], isLeft: boolean): void {
  const all = new Set(left.value)
  for (const id of ids) {
    if (isLeft) all.add(id)
    else all.delete(id)
  }
  change({ conversations: [...all] })
}
const habit = computed(() => scope.data.value?.habit ?? null)
const keepHabit = useKeepHabit(at)
const isHabitKept = ref(false)
function useHabit(): void {
  if (draft.value !== null && habit.value !== null) change(withHabit(draft.value, habit.value, rows.value, new Date()))
}
async function keep(): Promise<void> {
  if (draft.value === null) return
  const ruled = (is: Rule['is']): boolean => isRuled(rules.value.find((r) => r.rule.is === is)?.ids ?? [])
  await keepHabit.mutateAsync({
    groups: draft.value.groups,
    archived: ruled('archived'),
    empty: ruled('empty'),
    quiet_months: ruled('quiet') ? quiet.value : null,
  })
  isHabitKept.value = true
}
const quietOnes = computed(() => rules.value.find((r) => r.rule.is === 'quiet')?.ids.length ?? 0)
const isLeaving = computed(() => (draft.value?.groups.length ?? 0) > 0 || rules.value.some((r) => isRuled(r.ids)))
watch(draft, () => (isHabitKept.value = false), { deep: true })

const choose = useChooseScope(at)
const isNow = computed(() => props.move.stage === 'choose' && isMove.value)
const mayConvert = computed(() => isNow.value || (isChanged.value && mayChoose.value))
const error = computed(() => choose.error.value ?? keepHabit.error.value)
const why = computed(() => {
  if (asked.value === null || !sum.value) return say('why.counting')
  if (sum.value.messages === 0) return say('why.nothing')
  return sum.value.fits === false ? say('why.no_room', { tag: tag.value }) : ''
})
/** Chosen and converted in one request: who leaves the page at once leaves nothing half asked for. */
function convert(): void {
  if (choose.isPending.value || asked.value === null) return
  choose.mutate(
    { ...asked.value, convert: true },
    {
      onSuccess: () => {
        forgetScope(at.value)
        void router.push(`/trays/${at.value.number}/accounts/${at.value.place}`)
      },
    },
  )
}
</script>

<template>
  <section class="panel">
    <template v-if="move.backup">
      <header v-if="!isMove || !draft || !sum" class="top">
        <BackupFacts :backup="move.backup" :current="move.restored_at === null" />
      </header>
      <div v-else class="sheet choice">
        <div class="top">
          <ScopeSum
            :sum="sum"
            :tag="tag"
            :trial="trial !== 'none'"
            :stale="live.isFetching.value && live.isPlaceholderData.value"
          />
          <v-btn
            v-if="mayConvert"
            class="next"
            :loading="choose.isPending.value"
            :disabled="why !== '' || isUnsaid"
            @click="convert"
            >{{ say('choose.convert', { platform: platformWord(target) }) }}</v-btn
          >
        </div>
        <p v-if="move.backup.phone_newest_at && move.restored_at === null" class="behind" role="status">
          {{ say('backup.behind', { at: dateTime(move.backup.phone_newest_at) }) }}
        </p>
        <p v-if="mayConvert && isUnsaid" class="why">{{ say('scope.there_unsaid', { tag }) }}</p>
        <WhyNot v-else-if="mayConvert" :because="why" />
        <p v-if="error" class="trouble" role="alert">{{ error.message }}</p>
        <fieldset v-if="holds && holds.messages > 0 && mayChoose" class="there">
          <legend>
            {{ say('scope.there', { tag, messages: holds.messages, conversations: holds.conversations }) }}
          </legend>
          <label :class="{ on: merges === false }">
            <input type="radio" name="there" :checked="merges === false" @change="sayThere(false)" />
            {{ say('scope.replace', { messages: holds.messages }) }}
          </label>
          <label :class="{ on: merges === true }">
            <input type="radio" name="there" :checked="merges === true" @change="sayThere(true)" />
            {{ say('scope.merge') }}
          </label>
        </fieldset>
        <PhoneDamage v-if="holds && mayChoose" :tag="tag" :lost="holds.lost" :uncounted="holds.loss_uncounted" />
        <div class="groups" role="group" :aria-label="say('scope.kinds')">
          <span class="group always">
            <b>✓ {{ say('scope.text') }}</b>
            <span class="soft small">{{ say('scope.always') }}</span>
          </span>
          <label v-for="g in sum.groups" :key="g.group" class="group" :class="{ out: draft.groups.includes(g.group) }">
            <span>
              <input
                type="checkbox"
                :checked="!draft.groups.includes(g.group)"
                :disabled="!mayChoose"
                @change="toggleGroup(g.group)"
              />
              <b>{{ say(`group.${g.group}`) }}</b>
            </span>
            <span class="soft small n">{{ count(g.messages) }} · {{ bytes(g.bytes) }}</span>
          </label>
          <div class="days">
            <v-text-field
              :model-value="draft.from"
              :label="say('scope.from')"
              :placeholder="say('scope.day')"
              :error="isNoDay(draft.from)"
              :disabled="!mayChoose"
              hide-details
              @update:model-value="change({ from: String($event ?? '') })"
            />
            <v-text-field
              :model-value="draft.to"
              :label="say('scope.to')"
              :placeholder="say('scope.day')"
              :error="isNoDay(draft.to)"
              :disabled="!mayChoose"
              hide-details
              @update:model-value="change({ to: String($event ?? '') })"
            />
          </div>
        </div>
        <div v-if="mayChoose || trial !== 'none' || draft.names" class="trial">
          <v-select
            :model-value="trial"
            :items="trials"
            :label="say('scope.trial')"
            :disabled="!mayChoose"
            hide-details
            @update:model-value="tryFirst(String($event))"
          />
          <v-autocomplete
            v-if="trial === 'one'"
            :model-value="single"
            :items="candidates"
            :label="say('scope.trial_which')"
            :disabled="!mayChoose"
            hide-details
            @update:model-value="$event === null || change({ trial: { conversation: Number($event) } })"
          />
          <label v-if="scope.data.value && scope.data.value.named > 0" class="names">
            <input
              type="checkbox"
              :checked="draft.names"
              :disabled="!mayChoose"
              aria-describedby="names-how"
              @change="change({ names: !draft.names })"
            />
            {{ say('scope.names', { count: scope.data.value.named, tag }) }}
          </label>
          <p v-if="draft.names" id="names-how" class="soft small">{{ say('scope.names_how') }}</p>
          <p v-if="trial !== 'none'" class="soft small">{{ say('scope.trial_how', { tag }) }}</p>
        </div>
      </div>
      <div class="sheet">
        <div class="filters looks" role="group" :aria-label="say('across.what')">
          <button type="button" :aria-pressed="look === 'conversations'" @click="look = 'conversations'">
            {{ say('across.conversations') }}
          </button>
          <button v-for="one in ACROSS" :key="one" type="button" :aria-pressed="look === one" @click="look = one">
            {{ say(`across.${one}`) }}
          </button>
        </div>
        <AcrossChats
          v-if="look !== 'conversations' && move.backup"
          :ledger="ledger"
          :backup="move.backup.id"
          :what="look"
          :closed="tray.closed"
        />
        <div v-show="look === 'conversations'" class="find">
          <template v-if="isMove && draft">
            <span v-if="mayChoose" class="acts">
              <v-btn v-if="habit" size="small" variant="text" @click="useHabit">{{ say('scope.use_habit') }}</v-btn>
              <v-btn v-if="isLeaving" size="small" variant="text" :disabled="isHabitKept" @click="keep">{{
                say(isHabitKept ? 'scope.habit_kept' : 'scope.keep_habit')
              }}</v-btn>
            </span>
            <v-text-field v-model="find" class="word" :label="say('app.find_title')" hide-details clearable />
            <v-select v-model="order" class="order" :items="orders" :label="say('scope.order')" hide-details />
          </template>
          <v-text-field v-else v-model="find" class="word" :label="say('app.find_title')" clearable />
        </div>
        <div v-if="isMove && draft && mayChoose" v-show="look === 'conversations'" class="rules">
          <span class="soft">{{ say('scope.leave_out') }}</span>
          <label v-for="{ rule, ids } in rules" :key="rule.is" :class="{ none: ids.length === 0 }">
            <input
              type="checkbox"
              :checked="isRuled(ids)"
              :disabled="ids.length === 0"
              @change="leave(ids, !isRuled(ids))"
            />
            {{ say(`scope.rule_${rule.is}`, { count: ids.length }) }}
          </label>
          <v-select
            v-model="quiet"
            class="months"
            :items="months"
            :aria-label="say('scope.quiet_months')"
            density="compact"
            hide-details
          />
          <span>{{ say('scope.quiet_count', { count: quietOnes }) }}</span>
        </div>
        <ConversationTable
          v-if="look === 'conversations' && move.backup"
          :ledger="ledger"
          :backup="move.backup.id"
          :find="find ?? ''"
          :order="order"
          :left="isMove && draft ? left : null"
          :brought="sum?.conversations ?? null"
          :fixed="!mayChoose"
          @leave="leave"
        />
      </div>
    </template>
    <p v-else class="sheet pad soft">{{ say('choose.nothing') }}</p>
  </section>
</template>

<style scoped>
.choice {
  padding: var(--gap-3) var(--gap-4);
  display: grid;
  gap: var(--gap-3);
}
.choice .top {
  align-items: center;
}
.choice .top .sum {
  flex: 1;
}
.behind {
  color: var(--changed);
  font-weight: 600;
}
.there {
  border: 0;
  border-inline-start: 4px solid var(--receives);
  margin: 0;
  padding: 0 0 0 var(--gap-3);
  display: flex;
  flex-wrap: wrap;
  gap: 0 var(--gap-6);
}
.there legend {
  padding: 0;
  font-weight: 650;
}
.there label,
.rules label {
  display: inline-flex;
  align-items: center;
  gap: 6px;
  min-height: 28px;
}
.on {
  font-weight: 600;
}
input[type='radio'],
input[type='checkbox'] {
  width: 18px;
  height: 18px;
  margin: 0;
  flex: none;
  accent-color: var(--ribbon);
}
.groups {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2);
}
.group {
  display: grid;
  align-content: center;
  border: 1px solid var(--line);
  padding: 4px 10px;
  min-width: 104px;
}
.group > span:first-child {
  display: flex;
  align-items: center;
  gap: 6px;
}
.group.out {
  border-style: dashed;
  color: var(--left_out);
}
.group.out b {
  text-decoration: line-through;
}
.days {
  display: flex;
  gap: var(--gap-2);
  flex: 1;
  min-width: 240px;
}
.trial {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: var(--gap-2) var(--gap-3);
}
.trial > .v-input {
  flex: 0 1 280px;
}
.names {
  display: inline-flex;
  align-items: center;
  gap: 6px;
  min-height: 28px;
}
.trial p {
  margin: 0;
}
.find {
  display: flex;
  align-items: center;
  gap: var(--gap-3);
  padding: var(--gap-3) var(--gap-4) var(--gap-2);
}
.find .acts {
  flex: 1;
  justify-content: flex-start;
}
.looks {
  padding: var(--gap-3) var(--gap-4) 0;
}
.word {
  max-width: 200px;
}
.order {
  max-width: 180px;
}
.rules {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0 var(--gap-4);
  padding: 0 var(--gap-4) var(--gap-2);
}
.none {
  color: var(--soft);
}
.months {
  max-width: 150px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  justify-content: flex-end;
}
</style>
