<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import { useAskForRun } from '../api/queries'
import BackupFacts from '../components/BackupFacts.vue'
import EvidenceList from '../components/EvidenceList.vue'
import KeyField from '../components/KeyField.vue'
import { isOver } from '../lib/runs'
import { sealedOn } from '../lib/sealed'
import { say } from '../lib/say'

const props = defineProps<{ tray: Schemas['Tray']; move: Schemas['Move'] }>()
const ask = useAskForRun(computed(() => ({ number: props.tray.number, place: props.move.place })))
const giving = computed(() => props.tray.phones.find((p) => p.role === 'gives')?.tag ?? '')
const isIdle = computed(() => isOver(props.move.run))
const isNext = computed(() => props.move.stage === 'back_up' && isIdle.value && !props.tray.closed)
const sealed = computed(() => sealedOn(props.tray, props.move))
const key = ref('')
function start(): void {
  if (ask.isPending.value) return
  ask.mutate(
    { kind: 'backup', ...(sealed.value === null ? {} : { key: key.value }) },
    { onSuccess: () => (key.value = '') },
  )
}
</script>

<template>
  <section class="sheet pad panel">
    <header class="top">
      <h2>{{ say('backup.title', { edition: move.edition, tag: giving }) }}</h2>
      <v-btn
        v-if="isNext"
        class="next"
        :disabled="sealed !== null && key.trim() === ''"
        :loading="ask.isPending.value"
        @click="start"
        >{{ say('backup.do', { edition: move.edition }) }}</v-btn
      >
    </header>
    <KeyField v-if="isNext && sealed" v-model="key" :tag="giving" :edition="move.edition" :sealed="sealed" />
    <p v-if="ask.error.value" class="trouble" role="alert">{{ ask.error.value.message }}</p>
    <BackupFacts v-if="move.backup" :backup="move.backup" />
    <template v-else>
      <p v-if="isNext && move.waits.how" class="large">{{ move.waits.how }}</p>
      <p :class="{ soft: move.stage !== 'back_up' }">
        {{ move.stage === 'back_up' ? say('backup.how') : say('backup.none') }}
      </p>
    </template>
    <EvidenceList :tray="tray" stage="back_up" :move="move" />
  </section>
</template>

<style scoped>
.large {
  font-size: var(--t-head);
  line-height: 1.3;
  max-width: 44ch;
}
</style>
