<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { useAskForRun } from '../api/runs'
import EvidenceList from '../components/arrival/EvidenceList.vue'
import MergeReport from '../components/chats/MergeReport.vue'
import LossTable from '../components/chats/LossTable.vue'
import WhyNot from '../components/run/WhyNot.vue'
import { mayBegin, whyNotNow } from '../lib/runs'
import { say } from '../lib/say'
import { sourceName } from '../lib/source'

const props = defineProps<{ tray: Schemas['Tray']; move: Schemas['Move'] }>()
const tagOf = (role: Schemas['Role']) => props.tray.phones.find((p) => p.role === role)?.tag ?? ''
const gives = computed(() => sourceName(props.tray, props.move))
const receives = computed(() => tagOf('receives'))
const ask = useAskForRun(computed(() => ({ number: props.tray.number, place: props.move.place })))
const mayAgain = computed(() => mayBegin(props.move, 'conversion'))
const why = computed(() => whyNotNow(props.move, 'conversion'))
function convert(): void {
  if (!ask.isPending.value) ask.mutate({ kind: 'conversion' })
}
</script>

<template>
  <section class="panel">
    <MergeReport v-if="move.merge" :merge="move.merge" :gives="gives" :receives="receives" />
    <LossTable v-if="move.rehearsal" :tray="tray" :move="move" />
    <p v-else class="sheet pad" :class="{ soft: move.stage !== 'convert' }">
      {{ move.stage === 'convert' ? say('convert.running') : say('convert.nothing') }}
    </p>
    <div v-if="move.rehearsal && mayAgain && (!move.rehearsal.complete || move.merge?.stale)">
      <v-btn class="next" :disabled="why !== ''" :loading="ask.isPending.value" @click="convert">{{
        say('convert.again')
      }}</v-btn>
      <WhyNot :because="why" />
    </div>
    <p v-if="ask.error.value" class="trouble" role="alert">{{ ask.error.value.message }}</p>
    <EvidenceList :tray="tray" stage="convert" :move="move" />
  </section>
</template>
