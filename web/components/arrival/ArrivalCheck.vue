<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../../api/client'
import { useArrival } from '../../api/arrival'
import AccountsBar from '../run/AccountsBar.vue'
import PhoneDamage from '../phone/PhoneDamage.vue'
import ArrivalTable from './ArrivalTable.vue'
import MonthStrips from '../chats/MonthStrips.vue'
import SinceCheck from './SinceCheck.vue'
import { dateTime } from '../../lib/format'
import { say, word } from '../../lib/say'

/** The heart: a picture in which a hole jumps out, then the table, then the single messages. */
const props = defineProps<{ tray: Schemas['Tray']; move: Schemas['Move'] }>()
const at = computed(() => ({ number: props.tray.number, place: props.move.place }))
const chosen = ref<number | null>(null)
const query = useArrival(
  at,
  chosen,
  computed(() => String(props.move.checks[0]?.id ?? '')),
)
const arrival = computed(() => query.data.value)
const picked = ref<number | null>(null)
const receiving = computed(() => props.tray.phones.find((p) => p.role === 'receives')?.tag ?? '')
const holed = computed(() => arrival.value?.conversations.filter((c) => c.verdict === 'missing').length ?? 0)
const goes = computed(() => props.move.bringings.filter((b) => b.restored_at !== null))
const goOf = (number: number) => goes.value.find((b) => b.number === number)
/** What a check was of, where several things were brought. */
function brought(number: number): string {
  const go = goOf(number)
  return go && goes.value.length > 1 ? ` · ${say(go.trial ? 'bringing.trial' : `bringing.${go.aim}`)}` : ''
}
/** All checks are kept: an earlier one can be held against this one. */
const checks = computed(() =>
  props.move.checks.map((c) => ({
    value: c.id,
    title: say('check.which', { at: dateTime(c.at), by: c.by, missing: c.totals.missing }) + brought(c.bringing),
  })),
)
const shown = computed(() => props.move.checks.find((c) => c.id === (chosen.value ?? props.move.checks[0]?.id)))
/** Those that were made before the one that is shown. */
const before = computed(() =>
  checks.value.slice(checks.value.findIndex((c) => c.value === (chosen.value ?? checks.value[0]?.value)) + 1),
)
const isEarlier = computed(() => chosen.value !== null && chosen.value !== props.move.checks[0]?.id)
/** People, labels and ready-made answers that are not as expected. */
const account = computed(
  () =>
    arrival.value?.account
      .filter((a) => a.differing > 0)
      .map((a) => say('check.differing', { what: say(`aspect_of.${a.what}`), count: a.differing })) ?? [],
)
/** Only a part is there yet. */
const isTrial = computed(() => goOf(shown.value?.bringing ?? 0)?.trial === true)
const headline = computed(() => {
  const totals = arrival.value?.totals
  if (!totals) return ''
  if (totals.complete) return say(isTrial.value ? 'check.trial' : 'check.all')
  if (totals.missing > 0) return missingSaid(totals.missing)
  if (totals.kept_missing > 0) return say('check.kept_missing', { count: totals.kept_missing, tag: receiving.value })
  if (totals.added_missing > 0) return say('check.copies', { count: totals.added_missing })
  if (totals.extra > 0) return say('check.extra', { count: totals.extra })
  if (totals.conversations_extra > 0) return say('check.conversations_extra', { count: totals.conversations_extra })
  return totals.settings_differing > 0
    ? say('check.settings', { count: totals.settings_differing })
    : account.value.join(', ')
})
/** Messages that are there, and whose file is not: no message is missing. */
function missingSaid(missing: number): string {
  const why = arrival.value?.reasons ?? {}
  const different = why.attachment_different ?? 0
  const files = Math.min(missing, (why.attachment_not_there ?? 0) + different)
  const told = { count: missing - files, files, different, conversations: holed.value }
  if (files === 0) return say('check.missing', told)
  return say(files === missing ? 'check.files_missing' : 'check.both_missing', told)
}
const about = computed(() => {
  if (!arrival.value) return ''
  const reasons = Object.entries(arrival.value.reasons).map(([reason, n]) =>
    say('check.reason', { count: n, reason: word('reason', reason) }),
  )
  const read = say('check.read_back', { tag: receiving.value, at: dateTime(arrival.value.checked_at) })
  return [read, ...reasons, ...account.value].join(' · ')
})
</script>

<template>
  <p v-if="arrival === undefined && query.error.value" class="trouble" role="alert">{{ query.error.value.message }}</p>
  <p v-else-if="arrival === undefined" class="soft" role="status">{{ say('check.opening') }}</p>
  <div v-else class="check">
    <header class="top">
      <div>
        <h2 :class="{ hole: !arrival.totals.complete }">{{ headline }}</h2>
        <p class="soft">{{ about }}</p>
        <p v-if="isTrial && !isEarlier">{{ say('check.trial_how', { tag: receiving }) }}</p>
      </div>
      <div class="buttons"><slot /></div>
    </header>
    <div v-if="checks.length > 1" class="checks">
      <v-select
        :model-value="chosen ?? checks[0]?.value"
        :items="checks"
        :label="say('check.earlier')"
        @update:model-value="chosen = Number($event)"
      />
      <SinceCheck v-if="before.length > 0" :at="at" :check="arrival.check" :earlier="before" />
    </div>
    <p v-if="isEarlier" class="trouble" role="status">
      {{ say('check.shown_earlier') }}
      <button type="button" class="link" @click="chosen = null">{{ say('check.newest') }}</button>
    </p>
    <AccountsBar :totals="arrival.totals" />
    <PhoneDamage
      v-if="move.safety_copy"
      :tag="receiving"
      :lost="move.safety_copy.lost"
      :uncounted="move.safety_copy.loss_uncounted"
      is-done
    />
    <MonthStrips :rows="arrival.conversations" :picked="picked" @pick="picked = $event" />
    <ArrivalTable
      v-model:picked="picked"
      :at="at"
      :check="arrival.check"
      :rows="arrival.conversations"
      :losses="arrival.losses"
    />
  </div>
</template>

<style scoped>
.check {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: var(--gap-3);
  min-width: 0;
}
.checks {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(100%, 320px), 1fr));
  gap: var(--gap-3);
}
.top {
  flex-wrap: wrap;
}
.top > div:first-child {
  flex: 1 1 340px;
}
.hole {
  color: var(--missing);
}
.buttons {
  display: flex;
  gap: var(--gap-2);
  align-items: center;
  flex-shrink: 0;
}
.link {
  text-decoration: underline;
  text-underline-offset: 3px;
}
</style>
