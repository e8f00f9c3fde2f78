<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { useAskForRun } from '../api/queries'
import ArrivalCheck from '../components/ArrivalCheck.vue'

const props = defineProps<{ tray: Schemas['Tray'] }>()
const number = computed(() => props.tray.number)
const ask = useAskForRun(number)
const isIdle = computed(() => props.tray.run === null || props.tray.run.state === 'done')
const mayCheck = computed(
  () => !props.tray.closed && isIdle.value && props.tray.steps.some((s) => s.stage === 'restore'),
)
</script>

<template>
  <section class="panel">
    <ArrivalCheck v-if="tray.arrival" :tray="tray">
      <v-btn v-if="mayCheck" :loading="ask.isPending.value" @click="ask.mutate({ kind: 'check' })">Check again</v-btn>
      <v-btn v-if="tray.stage === 'check' && isIdle" class="next" :to="`/trays/${tray.number}/hand_over`"
        >To the hand-over</v-btn
      >
    </ArrivalCheck>
    <div v-else class="sheet pad">
      <p :class="{ soft: tray.stage !== 'check' }">
        {{
          tray.stage === 'check'
            ? 'The receiving phone is read back, every attachment to its last byte, and compared message by message.'
            : 'Nothing was restored yet, so there is nothing to check.'
        }}
      </p>
      <v-btn v-if="mayCheck" class="next" :loading="ask.isPending.value" @click="ask.mutate({ kind: 'check' })"
        >Check what arrived</v-btn
      >
    </div>
    <p v-if="ask.error.value" class="trouble" role="alert">{{ ask.error.value.message }}</p>
  </section>
</template>
