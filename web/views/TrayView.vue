<script setup lang="ts">
import { computed, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useTray } from '../api/queries'
import PhoneDock from '../components/PhoneDock.vue'
import RunSheet from '../components/RunSheet.vue'
import TrayTagMark from '../components/TrayTagMark.vue'
import WaitsBanner from '../components/WaitsBanner.vue'
import StageCheck from '../stages/StageCheck.vue'
import StageConvert from '../stages/StageConvert.vue'
import StageHandOver from '../stages/StageHandOver.vue'
import StageIntake from '../stages/StageIntake.vue'
import StageLook from '../stages/StageLook.vue'
import StageReady from '../stages/StageReady.vue'
import StageRestore from '../stages/StageRestore.vue'
import StageBackUp from '../stages/StageBackUp.vue'
import { STAGES, stageWord, type Stage } from '../lib/words'

const route = useRoute()
const router = useRouter()
const number = computed(() => Number(route.params['number']))
const query = useTray(number)
const tray = computed(() => query.data.value)
const asked = computed(() => STAGES.find((s) => s.stage === route.params['stage'])?.stage)
const shown = computed<Stage>(() => asked.value ?? tray.value?.stage ?? 'intake')
/** Who looks at the present stage goes along when the work moves on; who looks back stays there. */
watch(
  () => [number.value, tray.value?.stage] as const,
  ([n, now], [before, was]) => {
    if (n === before && now !== was && route.params['stage'] === was) void router.replace(`/trays/${n}`)
  },
)
const panels = {
  intake: StageIntake,
  ready: StageReady,
  back_up: StageBackUp,
  look: StageLook,
  convert: StageConvert,
  restore: StageRestore,
  check: StageCheck,
  hand_over: StageHandOver,
}
</script>

<template>
  <p v-if="query.isPending.value" class="pad soft" role="status">Opening tray {{ number }}…</p>
  <div v-else-if="!tray" class="pad">
    <p class="trouble" role="alert">{{ query.error.value?.message }} <RouterLink to="/">To the shelf</RouterLink></p>
  </div>
  <div v-else class="tray">
    <div class="left">
      <div class="who">
        <TrayTagMark :number="tray.number" :waits="tray.waits.for" />
        <div class="customer">
          <b>{{ tray.customer }}</b><span class="soft small">{{ tray.contact }}</span>
        </div>
      </div>
      <RunSheet :tray="tray" :shown="shown" />
    </div>
    <div class="work">
      <WaitsBanner :tray="tray" :shown="shown" />
      <h1 class="sr">Tray {{ tray.number }}, {{ stageWord(shown) }}</h1>
      <component :is="panels[shown]" :key="`${tray.number}-${shown}`" :tray="tray" />
    </div>
    <PhoneDock :tray="tray" />
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
</style>
