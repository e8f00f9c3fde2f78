<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { useAskForRun } from '../api/queries'
import EvidenceList from '../components/EvidenceList.vue'
import LossTable from '../components/LossTable.vue'

const props = defineProps<{ tray: Schemas['Tray'] }>()
const number = computed(() => props.tray.number)
const ask = useAskForRun(number)
const mayAgain = computed(() => props.tray.stage === 'convert' || props.tray.stage === 'restore')
</script>

<template>
  <section class="panel">
    <LossTable v-if="tray.rehearsal" :tray="tray" />
    <p v-else class="sheet pad" :class="{ soft: tray.stage !== 'convert' }">
      {{
        tray.stage === 'convert'
          ? 'The chats are written in the receiving format, read back with that format’s own reader and tallied. No phone is touched.'
          : 'Nothing is converted yet.'
      }}
    </p>
    <div v-if="tray.rehearsal && mayAgain && !tray.rehearsal.complete">
      <v-btn class="next" :loading="ask.isPending.value" @click="ask.mutate({ kind: 'conversion' })"
        >Convert again</v-btn
      >
    </div>
    <EvidenceList :tray="tray" stage="convert" />
  </section>
</template>
