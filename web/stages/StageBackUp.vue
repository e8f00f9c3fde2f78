<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import { useAskForRun } from '../api/runs'
import BackupFacts from '../components/backup/BackupFacts.vue'
import EvidenceList from '../components/arrival/EvidenceList.vue'
import KeyField from '../components/backup/KeyField.vue'
import WaysIn from '../components/backup/WaysIn.vue'
import WhyNot from '../components/run/WhyNot.vue'
import { mayBegin, whyNotNow } from '../lib/runs'
import { say } from '../lib/say'
import { chosenWay, isLocked, wayAsked, waysIn, whyNotBy, type Way } from '../lib/ways'

const props = defineProps<{ tray: Schemas['Tray']; move: Schemas['Move'] }>()
const ask = useAskForRun(computed(() => ({ number: props.tray.number, place: props.move.place })))
const giving = computed(() => props.tray.phones.find((p) => p.role === 'gives')?.tag ?? '')
const may = computed(() => mayBegin(props.move, 'backup'))
const isNext = computed(() => props.move.stage === 'back_up' && may.value)
/** A backup is there, and another one may be wanted. */
const mayAgain = computed(() => props.move.backup !== null && may.value)
const isAgain = ref(false)
const isAsking = computed(() => isNext.value || (mayAgain.value && isAgain.value))
const chosen = ref<Way>(null)
const way = computed(() => chosenWay(waysIn(props.tray, props.move), chosen.value))
const key = ref('')
const why = computed(() => {
  if (!isAsking.value) return ''
  return whyNotNow(props.move, 'backup') || whyNotBy(props.move, way.value, key.value, giving.value)
})
function start(): void {
  if (ask.isPending.value || why.value !== '') return
  ask.mutate(
    { kind: 'backup', ...wayAsked(way.value, key.value) },
    {
      onSuccess: () => {
        key.value = ''
        isAgain.value = false
      },
    },
  )
}
</script>

<template>
  <section class="sheet pad panel">
    <header class="top">
      <h2>{{ say('backup.title', { edition: move.edition, tag: giving }) }}</h2>
      <v-btn v-if="isAsking" class="next" :disabled="why !== ''" :loading="ask.isPending.value" @click="start">{{
        say('backup.do', { edition: move.edition })
      }}</v-btn>
      <v-btn v-else-if="mayAgain" @click="isAgain = true">{{ say('backup.again') }}</v-btn>
    </header>
    <WhyNot :because="why" />
    <p v-if="isNext && move.waits.how" class="large">{{ move.waits.how }}</p>
    <WaysIn v-if="isAsking" v-model="chosen" :tray="tray" :move="move" />
    <KeyField
      v-if="isAsking && isLocked(way)"
      v-model="key"
      :tag="giving"
      :edition="move.edition"
      :made-at="way.made_at"
      :lock="way.lock"
    />
    <p v-if="ask.error.value" class="trouble" role="alert">{{ ask.error.value.message }}</p>
    <BackupFacts v-if="move.backup" :backup="move.backup" :current="move.restored_at === null" />
    <p v-else :class="{ soft: move.stage !== 'back_up' }">
      {{ move.stage === 'back_up' ? say('backup.how') : say('backup.none') }}
      <template v-if="tray.errand === 'only_back_up'">{{ say('backup.one_how') }}</template>
    </p>
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
