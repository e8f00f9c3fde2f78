<script setup lang="ts">
import { computed, ref, watch, type Component } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useLeaveOut, useTray } from '../api/tray'
import PhoneDock from '../components/phone/PhoneDock.vue'
import RunSheet from '../components/run/RunSheet.vue'
import TrayTagMark from '../components/frame/TrayTagMark.vue'
import WaitsBanner from '../components/run/WaitsBanner.vue'
import StageCheck from '../stages/StageCheck.vue'
import StageConvert from '../stages/StageConvert.vue'
import StageHandOver from '../stages/StageHandOver.vue'
import StageIntake from '../stages/StageIntake.vue'
import StageChoose from '../stages/StageChoose.vue'
import StageReady from '../stages/StageReady.vue'
import StageRestore from '../stages/StageRestore.vue'
import StageBackUp from '../stages/StageBackUp.vue'
import { ApiProblem } from '../api/client'
import { phoneNumber } from '../lib/format'
import { mayBegin } from '../lib/runs'
import { say } from '../lib/say'
import { isMoveStage, stagesOf, stageWord, type Stage } from '../lib/words'

const route = useRoute()
const router = useRouter()
const number = computed(() => Number(route.params['number']))
const query = useTray(number)
const tray = computed(() => query.data.value)
/** Only when the server said so: whatever else fails says nothing of the tray. */
const isNowhere = computed(() => query.error.value instanceof ApiProblem && query.error.value.status === 404)
const place = computed(() => (route.params['place'] === undefined ? null : Number(route.params['place'])))
const asked = computed(() => stagesOf(tray.value?.errand ?? 'move').find((s) => s === route.params['stage']))
/** The account that is shown: the one of the address, else the one whose turn it is. */
const current = computed(() => {
  const moves = tray.value?.moves.filter((m) => !m.left_out) ?? []
  return (
    moves.find((m) => m.place === place.value) ??
    moves.find((m) => m.place === tray.value?.waits.move) ??
    moves.find((m) => m.stage === tray.value?.stage) ??
    moves[0]
  )
})
const shown = computed<Stage>(() => {
  if (asked.value !== undefined) return asked.value
  if (place.value !== null && current.value) return current.value.stage
  return tray.value?.stage ?? 'intake'
})
/** The five stages between are an account's, the rest is the tray's. */
const move = computed(() => (isMoveStage(shown.value) ? current.value : undefined))
/** Whether the work is at what is shown: then the panel says what is waited for. */
const isHere = computed(() => {
  if (!tray.value) return false
  return move.value ? move.value.stage === shown.value : tray.value.stage === shown.value
})
/** Who looks at the present stage goes along when the work moves on; who looks back stays there. */
watch(
  () => [number.value, move.value?.place, (move.value ?? tray.value)?.stage] as const,
  ([n, m, now], [before, other, was]) => {
    if (n !== before || m !== other || now === was || route.params['stage'] !== was) return
    void router.replace(m === undefined || now === 'hand_over' ? `/trays/${n}` : `/trays/${n}/accounts/${m}`)
  },
)
const panels: Record<Stage, Component> = {
  intake: StageIntake,
  ready: StageReady,
  back_up: StageBackUp,
  choose: StageChoose,
  convert: StageConvert,
  restore: StageRestore,
  check: StageCheck,
  hand_over: StageHandOver,
}
/** What was left out on purpose stays in sight from the conversion to the end of the job. */
const onPurpose = computed(() => {
  if (!['convert', 'restore', 'check', 'hand_over'].includes(shown.value)) return []
  const moves = move.value ? [move.value] : (tray.value?.moves ?? [])
  return moves.flatMap((one) =>
    one.left_out || one.left_out_on_purpose === null
      ? []
      : [
          {
            place: one.place,
            text: moves.length > 1 ? `${one.edition}: ${one.left_out_on_purpose}` : one.left_out_on_purpose,
          },
        ],
  )
})
const leaving = ref(false)
const leaveOut = useLeaveOut(computed(() => ({ number: number.value, place: move.value?.place ?? 1 })))
const mayLeaveOut = computed(() => !!move.value && mayBegin(move.value, 'leave_out'))
const giving = computed(() => tray.value?.phones.find((p) => p.role === 'gives')?.tag ?? '')
function leave(): void {
  if (leaveOut.isPending.value) return
  leaveOut.mutate(true, {
    onSuccess: () => {
      leaving.value = false
      void router.push(`/trays/${number.value}`)
    },
  })
}
</script>

<template>
  <p v-if="!tray && !query.error.value" class="pad soft" role="status">{{ say('tray.opening', { number }) }}</p>
  <div v-else-if="!tray" class="pad">
    <h1 class="sr">{{ isNowhere ? say('nowhere.title') : say('tray.title', { number }) }}</h1>
    <p class="trouble" role="alert">
      {{ query.error.value?.message }} <RouterLink to="/">{{ say('app.to_shelf') }}</RouterLink>
    </p>
  </div>
  <div v-else class="tray">
    <div class="left">
      <div class="who">
        <TrayTagMark :number="tray.number" :waits="tray.waits.for" />
        <div class="customer">
          <b :title="tray.customer">{{ tray.customer }}</b><span class="soft small">{{ tray.contact }}</span>
        </div>
      </div>
      <RunSheet :tray="tray" :shown="shown" :move="move" />
    </div>
    <div class="work">
      <h1 class="sr">
        {{
          move
            ? say('tray.heading_move', {
                number: tray.number,
                edition: move.edition,
                stage: stageWord(shown, tray.errand),
              })
            : say('tray.heading', { number: tray.number, stage: stageWord(shown, tray.errand) })
        }}
      </h1>
      <nav v-if="move && tray.moves.length > 1" class="accounts" :aria-label="say('tray.accounts')">
        <RouterLink
          v-for="m in tray.moves.filter((one) => !one.left_out)"
          :key="m.place"
          :to="`/trays/${tray.number}/accounts/${m.place}`"
          class="tab"
          :class="[m.waits.for, { current: m.place === move.place }]"
          :aria-current="m.place === move.place ? 'true' : undefined"
        >
          <b>{{ m.edition }}</b>
          <span class="soft small"
            >{{ phoneNumber(m.number) }} · {{ m.stage === 'hand_over' ? say('stage.done') : stageWord(m.stage) }}</span
          >
        </RouterLink>
        <button v-if="mayLeaveOut" type="button" class="out small" @click="leaving = true">
          {{ say('tray.leave_out') }}
        </button>
      </nav>
      <WaitsBanner :tray="tray" :move="move" :is-here="isHere" />
      <p v-for="line in onPurpose" :key="line.place" class="purpose">{{ line.text }}</p>
      <component
        :is="panels[shown]"
        v-if="move || !isMoveStage(shown)"
        :key="`${tray.number}-${move?.place ?? 0}-${shown}`"
        :tray="tray"
        :move="move"
      />
    </div>
    <PhoneDock :tray="tray" />
    <v-dialog v-model="leaving" aria-labelledby="leave-title">
      <div v-if="move" class="sheet pad leave">
        <h2 id="leave-title">{{ say('tray.leave_out_ask', { edition: move.edition }) }}</h2>
        <p>{{ say('tray.leave_out_how', { tag: giving }) }}</p>
        <p v-if="leaveOut.error.value" class="trouble" role="alert">{{ leaveOut.error.value.message }}</p>
        <div class="buttons">
          <v-btn :loading="leaveOut.isPending.value" @click="leave">{{ say('tray.leave_out_do') }}</v-btn>
          <v-btn variant="text" @click="leaving = false">{{ say('tray.keep') }}</v-btn>
        </div>
      </div>
    </v-dialog>
  </div>
</template>

<style scoped>
.tray {
  display: grid;
  grid-template-columns: 236px minmax(0, 1fr) 252px;
  gap: var(--gap-6);
  padding: var(--gap-4) var(--gap-6);
  max-width: 1760px;
  margin: 0 auto;
  align-items: start;
}
.left {
  display: grid;
  gap: var(--gap-4);
}
.who {
  display: flex;
  gap: var(--gap-3);
  align-items: center;
}
.customer {
  display: flex;
  flex-direction: column;
  line-height: 1.25;
  min-width: 0;
}
.work {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: var(--gap-4);
  min-width: 0;
}
@media (max-width: 1120px) {
  .tray {
    grid-template-columns: 190px minmax(0, 1fr) 216px;
    gap: var(--gap-4);
    padding: var(--gap-3) var(--gap-4);
  }
}
.customer b {
  overflow-wrap: anywhere;
}
.tabs {
  display: flex;
  flex-wrap: wrap;
  align-items: stretch;
  gap: var(--gap-2);
}
.tab {
  display: flex;
  flex-direction: column;
  padding: 6px 14px;
  border: 1px solid var(--line);
  border-left: 5px solid var(--line);
  border-radius: 6px;
  color: inherit;
  text-decoration: none;
}
.tab.person {
  border-left-color: var(--ribbon);
}
.tab.current {
  background: var(--surface);
  border-color: var(--ink);
  border-left-color: var(--ink);
}
.tab.current.person {
  border-left-color: var(--ribbon);
}
.out {
  margin-left: auto;
  text-decoration: underline;
  text-underline-offset: 3px;
  min-height: 28px;
}

.purpose {
  border-left: 5px dashed var(--left_out);
  padding: 4px var(--gap-3);
  color: var(--left_out);
  font-weight: 600;
}
.leave {
  display: grid;
  gap: var(--gap-4);
}
</style>
