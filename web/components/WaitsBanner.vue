<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import { useGoOn, useSealedBackup, useStop } from '../api/queries'
import KeyField from './KeyField.vue'
import ProgressLine from './ProgressLine.vue'
import type { Stage } from '../lib/words'

/** What the tray waits for: the machine, how far; or a person, on which phone, what. */
const props = defineProps<{ tray: Schemas['Tray']; shown: Stage }>()
const number = computed(() => props.tray.number)
const goOn = useGoOn(number)
const stop = useStop(number)
const key = ref('')
const sealed = useSealedBackup(computed(() => props.tray))
const needsKey = computed(() => isStopped.value && props.tray.run?.kind === 'backup' && sealed.value !== null)
const waits = computed(() => props.tray.waits)
const isGoing = computed(() => ['queued', 'working', 'waiting'].includes(props.tray.run?.state ?? ''))
const isStopped = computed(() => props.tray.run?.state === 'failed')
const isInterrupted = computed(() => props.tray.run?.state === 'waiting')
/** On its own stage the panel below says it already. */
const isShown = computed(
  () => waits.value.for === 'machine' || isStopped.value || isInterrupted.value || props.shown !== props.tray.stage,
)
</script>

<template>
  <section
    v-if="isShown"
    class="sheet banner"
    :class="[waits.for, { hole: isStopped || isInterrupted }]"
    aria-live="polite"
  >
    <template v-if="waits.for === 'machine'">
      <h2>{{ waits.text }}</h2>
      <ProgressLine v-if="waits.progress" :progress="waits.progress" />
      <p class="soft small">You can leave this page; the work goes on and calls when it needs you.</p>
      <p v-if="stop.error.value" class="trouble" role="alert">{{ stop.error.value.message }}</p>
      <div v-if="isGoing && tray.run" class="buttons">
        <v-btn :loading="stop.isPending.value" @click="stop.mutate(tray.run.id)">Stop this run</v-btn>
      </div>
    </template>
    <template v-else>
      <h2>
        <span v-if="waits.tag" class="on">{{ waits.tag }}</span> {{ waits.text }}
      </h2>
      <p v-if="waits.how">{{ waits.how }}</p>
      <ProgressLine v-if="isInterrupted && tray.run" :progress="tray.run.progress" />
      <KeyField v-if="needsKey && sealed" v-model="key" :tag="waits.tag ?? ''" :sealed="sealed" />
      <p v-if="goOn.error.value" class="trouble" role="alert">{{ goOn.error.value.message }}</p>
      <div class="buttons">
        <v-btn
          v-if="isStopped && tray.run"
          class="next"
          :disabled="needsKey && key.trim() === ''"
          :loading="goOn.isPending.value"
          @click="goOn.mutate({ id: tray.run.id, ...(needsKey ? { key } : {}) }, { onSuccess: () => (key = '') })"
          >Go on from here</v-btn
        >
        <v-btn v-else-if="isInterrupted && tray.run" :loading="stop.isPending.value" @click="stop.mutate(tray.run.id)"
          >Stop this run</v-btn
        >
        <v-btn v-else-if="!isInterrupted && shown !== tray.stage" :to="`/trays/${tray.number}`" :active="false"
          >To what is next</v-btn
        >
      </div>
    </template>
  </section>
</template>

<style scoped>
.banner {
  padding: var(--gap-3) var(--gap-4);
  display: grid;
  gap: var(--gap-2);
  border-left: 5px solid var(--line);
}
.person,
.machine {
  border-left-color: var(--ribbon);
}
.hole {
  border-left-color: var(--missing);
}
.on {
  border: 2px solid currentcolor;
  border-radius: 3px;
  padding: 0 6px;
  margin-right: 4px;
}
.buttons:empty {
  display: none;
}
</style>
