<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import { useAskForRun, useHoldings } from '../api/queries'
import EvidenceList from '../components/EvidenceList.vue'
import LossTable from '../components/LossTable.vue'
import { bytes, dateTime, many } from '../lib/format'

const props = defineProps<{ tray: Schemas['Tray'] }>()
const number = computed(() => props.tray.number)
const ask = useAskForRun(number)
const typed = ref('')
const phone = computed(() => props.tray.phones.find((p) => p.role === 'receives'))
const holdings = useHoldings(
  computed(() => phone.value?.live.serial ?? ''),
  computed(() => `${phone.value?.live.open}${phone.value?.live.free_bytes}`),
)
const holds = computed(() => holdings.data.value?.counts ?? null)
const isNow = computed(
  () => props.tray.stage === 'restore' && (props.tray.run === null || props.tray.run.state === 'done'),
)
const isNamed = computed(() => typed.value.trim().toUpperCase() === phone.value?.tag)
</script>

<template>
  <section class="panel">
    <div v-if="isNow && phone" class="sheet confirm">
      <template v-if="!holds">
        <h2 v-if="holdings.isPending.value || holdings.data.value?.looking">
          Looking at what phone {{ phone.tag }} holds
        </h2>
        <h2 v-else>Phone {{ phone.tag }} can’t be read now</h2>
        <p>{{ holdings.data.value?.why ?? 'It is read before anything may be written to it.' }}</p>
      </template>
      <template v-else-if="holds.messages > 0">
        <h2>Phone {{ phone.tag }} holds chats that would be lost</h2>
        <p>
          {{ many(holds.messages, 'message') }} in {{ many(holds.conversations, 'conversation') }}, newest
          {{ dateTime(holds.newest_at) }}. Nothing is written while they are there.
        </p>
        <p>
          Take another phone as the receiving one, or let the customer keep these chats elsewhere and empty the
          messenger first.
        </p>
      </template>
      <template v-else>
        <div>
          <h2>Write to {{ phone.tag }}, the {{ phone.live.maker }} {{ phone.live.model }}?</h2>
          <p>
            It holds no chats: read from the phone just now, and once more right before writing.
            {{ many(tray.backup?.messages ?? 0, 'message') }} and {{ bytes(tray.backup?.attachment_bytes ?? 0) }} of
            attachments go there, staged first and swapped in as a whole.
          </p>
        </div>
        <form class="type" @submit.prevent="ask.mutate({ kind: 'restore', confirmed_tag: typed })">
          <v-text-field
            v-model="typed"
            :label="`Type the tag on the phone: ${phone.tag}`"
            autocomplete="off"
            maxlength="12"
          />
          <v-btn class="next" type="submit" :disabled="!isNamed" :loading="ask.isPending.value"
            >Restore onto {{ phone.tag }}</v-btn
          >
        </form>
      </template>
      <p v-if="ask.error.value" class="trouble" role="alert">{{ ask.error.value.message }}</p>
    </div>
    <p v-else-if="tray.stage === 'restore'" class="soft">
      Everything is staged beside the messenger’s own data first; the messenger sees nothing of it until each file is
      verified on the phone. Then it is swapped in as a whole. If the cable comes out, {{ phone?.tag }} stays as it was
      and the restore goes on from there.
    </p>
    <p v-else-if="!tray.rehearsal" class="sheet pad soft">Nothing can be restored before the rehearsal tallies.</p>
    <LossTable v-if="tray.rehearsal && isNow" :tray="tray" />
    <EvidenceList :tray="tray" stage="restore" />
  </section>
</template>

<style scoped>
.confirm {
  padding: var(--gap-4);
  display: grid;
  gap: var(--gap-3);
  border-left: 5px solid var(--receives);
}
.type {
  display: flex;
  gap: var(--gap-3);
  align-items: center;
}
.type .v-text-field {
  max-width: 300px;
}
</style>
