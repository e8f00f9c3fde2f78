<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import { useArrival } from '../api/queries'
import AccountsBar from './AccountsBar.vue'
import ArrivalTable from './ArrivalTable.vue'
import MonthStrips from './MonthStrips.vue'
import { count, dateTime, many } from '../lib/format'
import { REASONS } from '../lib/words'

/** The heart: a picture in which a hole jumps out, then the table, then the single messages. */
const props = defineProps<{ tray: Schemas['Tray'] }>()
const query = useArrival(
  computed(() => props.tray.number),
  computed(() => props.tray.run?.finished_at ?? ''),
)
const arrival = computed(() => query.data.value)
const picked = ref<number | null>(null)
const receiving = computed(() => props.tray.phones.find((p) => p.role === 'receives'))
const holed = computed(() => arrival.value?.conversations.filter((c) => c.verdict === 'missing').length ?? 0)
const ACCOUNT = {
  person: ['person', 'people'],
  label: ['label', 'labels'],
  canned_answer: ['canned answer', 'canned answers'],
  messenger: ['messenger', 'messengers'],
  edition: ['edition of the messenger', 'editions'],
  account: ['number of the account', 'numbers'],
  account_name: ['name of the account’s owner', 'names'],
} as const
/** People, labels and canned answers that are not as expected. */
const account = computed(
  () =>
    arrival.value?.account
      .filter((a) => a.differing > 0)
      .map((a) => `${many(a.differing, ACCOUNT[a.what][0], ACCOUNT[a.what][1])} not as expected`) ?? [],
)
const headline = computed(() => {
  const totals = arrival.value?.totals
  if (!totals) return ''
  if (totals.complete) return 'Everything that was meant to arrive is there'
  if (totals.missing > 0) return `${many(totals.missing, 'message')} missing, in ${many(holed.value, 'conversation')}`
  if (totals.added_missing > 0) return `${many(totals.added_missing, 'copy', 'copies')} missing`
  if (totals.extra > 0) return `${many(totals.extra, 'message')} more than expected`
  if (totals.conversations_extra > 0) return `${many(totals.conversations_extra, 'conversation')} more than expected`
  return totals.settings_differing > 0
    ? `${many(totals.settings_differing, 'conversation')} with other settings`
    : account.value.join(', ')
})
</script>

<template>
  <p v-if="query.isPending.value" class="soft" role="status">Opening the result…</p>
  <p v-else-if="query.error.value" class="trouble" role="alert">{{ query.error.value.message }}</p>
  <div v-else-if="arrival" class="check">
    <header class="top">
      <div>
        <h2 :class="{ hole: !arrival.totals.complete }">{{ headline }}</h2>
        <p class="soft">
          Read back from {{ receiving?.tag }}, {{ dateTime(arrival.checked_at)
          }}<template v-for="(n, reason) in arrival.reasons" :key="reason"
            >. {{ count(n) }}: {{ REASONS[reason] ?? reason }}</template
          ><template v-for="a in account" :key="a">. {{ a }}</template>
        </p>
      </div>
      <div class="buttons"><slot /></div>
    </header>
    <AccountsBar :totals="arrival.totals" of="in the backup" />
    <MonthStrips :rows="arrival.conversations" :picked="picked" @pick="picked = $event" />
    <ArrivalTable
      v-model:picked="picked"
      :number="tray.number"
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
.hole {
  color: var(--missing);
}
.buttons {
  display: flex;
  gap: var(--gap-2);
  align-items: center;
  flex-shrink: 0;
}
</style>
