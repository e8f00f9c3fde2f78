<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { useAskForRun, useBringMissing, useBringRest } from '../api/runs'
import AfterRestore from '../components/arrival/AfterRestore.vue'
import ArrivalCheck from '../components/arrival/ArrivalCheck.vue'
import EyeCheck from '../components/arrival/EyeCheck.vue'
import PutBack from '../components/backup/PutBack.vue'
import EvidenceList from '../components/arrival/EvidenceList.vue'
import WhyNot from '../components/run/WhyNot.vue'
import { mayBegin, whyNotNow } from '../lib/runs'
import { say } from '../lib/say'

const props = defineProps<{ tray: Schemas['Tray']; move: Schemas['Move'] }>()
const ask = useAskForRun(computed(() => ({ number: props.tray.number, place: props.move.place })))
const bring = useBringMissing(() => props.tray.number)
const rest = useBringRest(() => props.tray.number)
const mayBring = computed(() => mayBegin(props.move, 'bring_missing'))
const mayRest = computed(() => mayBegin(props.move, 'bring_rest'))
const error = computed(() => ask.error.value ?? bring.error.value ?? rest.error.value)
const mayCheck = computed(() => mayBegin(props.move, 'check'))
const why = computed(() => whyNotNow(props.move, 'check'))
const handOver = computed(() => `/trays/${props.tray.number}/hand_over`)
function check(): void {
  if (!ask.isPending.value) ask.mutate({ kind: 'check' })
}
</script>

<template>
  <section class="panel">
    <ArrivalCheck v-if="move.arrival" :tray="tray" :move="move">
      <template v-if="mayCheck">
        <v-btn v-if="mayRest" class="next" :loading="rest.isPending.value" @click="rest.mutate(props.move.place)">{{
          say('check.rest')
        }}</v-btn>
        <v-btn
          v-else-if="mayBring"
          class="next"
          :loading="bring.isPending.value"
          @click="bring.mutate(props.move.place)"
          >{{ say('check.bring') }}</v-btn
        >
        <v-btn
          :class="{ next: !move.arrival.complete && !mayBring && !mayRest }"
          :disabled="why !== ''"
          :loading="ask.isPending.value"
          @click="check"
          >{{ say('check.again') }}</v-btn
        >
        <v-btn v-if="!move.arrival.complete && !move.trial" :to="handOver">{{
          move.arrival.missing > 0
            ? say('check.hand_over_hole', { count: move.arrival.missing })
            : say('check.hand_over')
        }}</v-btn>
        <v-btn v-else-if="tray.stage === 'hand_over'" class="next" :to="handOver">{{ say('check.hand_over') }}</v-btn>
      </template>
    </ArrivalCheck>
    <div v-else class="sheet pad">
      <p :class="{ soft: move.stage !== 'check' }">
        {{ move.stage === 'check' ? say('check.running') : say('check.not_yet') }}
      </p>
      <v-btn v-if="mayCheck" class="next" :disabled="why !== ''" :loading="ask.isPending.value" @click="check">{{
        say('check.do')
      }}</v-btn>
    </div>
    <WhyNot :because="why" />
    <p v-if="error" class="trouble" role="alert">{{ error.message }}</p>
    <EyeCheck v-if="mayBegin(move, 'compare_by_eye')" :tray="tray" :move="move" />
    <div v-if="move.after_restore.length > 0" class="sheet pad"><AfterRestore :tray="tray" :move="move" /></div>
    <div v-if="move.restored_at !== null"><PutBack :tray="tray" :move="move" /></div>
    <EvidenceList :tray="tray" stage="check" :move="move" />
  </section>
</template>
