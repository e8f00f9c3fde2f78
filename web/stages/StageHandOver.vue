<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { useHandOver } from '../api/queries'
import AccountsBar from '../components/AccountsBar.vue'
import EvidenceList from '../components/EvidenceList.vue'
import { count } from '../lib/format'

const props = defineProps<{ tray: Schemas['Tray'] }>()
const handOver = useHandOver(computed(() => props.tray.number))
const giving = computed(() => props.tray.phones.find((p) => p.role === 'gives'))
const receiving = computed(() => props.tray.phones.find((p) => p.role === 'receives'))
const sheet = computed(() => `/trays/${props.tray.number}/sheet`)
const isIdle = computed(() => props.tray.run === null || props.tray.run.state === 'done')
</script>

<template>
  <section class="panel">
    <div v-if="tray.arrival" class="sheet pad inner">
      <h2 :class="{ hole: !tray.arrival.complete }">
        {{ tray.closed ? 'Handed over' : tray.arrival.complete ? 'Ready to hand over' : 'Hand over with a hole?' }}
      </h2>
      <AccountsBar :totals="tray.arrival" of="in the backup" />
      <p v-if="!tray.arrival.complete && !tray.closed">
        The sheet tells the customer that {{ count(tray.arrival.missing) }} messages are not wholly there. Check again
        first if something was done on the phone.
      </p>
      <ul class="back">
        <li v-if="giving?.live.platform === 'android'">
          On {{ giving.tag }}: switch USB debugging off again, and the lock timer back to what it was.
        </li>
        <li>
          On {{ receiving?.tag }}: open the messenger once with the customer and look at the newest messages together.
        </li>
        <li>The backup stays with the shop; working copies of the chats are removed at the hand-over.</li>
      </ul>
      <div class="buttons">
        <v-btn
          v-if="!tray.closed"
          class="next"
          :disabled="!isIdle"
          :loading="handOver.isPending.value"
          @click="handOver.mutate()"
          >Hand over</v-btn
        >
        <v-btn :href="sheet" target="_blank" rel="noopener">Hand-over sheet</v-btn>
      </div>
      <p v-if="handOver.error.value" class="trouble" role="alert">{{ handOver.error.value.message }}</p>
    </div>
    <p v-else class="sheet pad soft">
      The sheet says only what was read back from the phone; it can be made after the arrival check.
    </p>
    <EvidenceList :tray="tray" stage="hand_over" />
  </section>
</template>

<style scoped>
.inner {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: var(--gap-4);
}
.hole {
  color: var(--missing);
}
.back {
  padding-left: 20px;
  display: grid;
  gap: 4px;
}
.buttons {
  display: flex;
  gap: var(--gap-3);
  align-items: center;
}
</style>
