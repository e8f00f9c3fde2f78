<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import { useHandOver } from '../api/keeping'
import AfterRestore from '../components/arrival/AfterRestore.vue'
import AccountsBar from '../components/run/AccountsBar.vue'
import PhoneDamage from '../components/phone/PhoneDamage.vue'
import BackupFacts from '../components/backup/BackupFacts.vue'
import PutBack from '../components/backup/PutBack.vue'
import KeepingChats from '../components/backup/KeepingChats.vue'
import SheetCode from '../components/backup/SheetCode.vue'
import UndoTold from '../components/backup/UndoTold.vue'
import EvidenceList from '../components/arrival/EvidenceList.vue'
import WhyNot from '../components/run/WhyNot.vue'
import WithdrawTray from '../components/backup/WithdrawTray.vue'
import { phoneNumber, typedDay } from '../lib/format'
import { mayBegin, whyNotNow } from '../lib/runs'
import { say } from '../lib/say'
import { isNoDay } from '../lib/scope'
import { vBeginHere } from '../lib/focus'

const props = defineProps<{ tray: Schemas['Tray'] }>()
const handOver = useHandOver(computed(() => props.tray.number))
const receiving = computed(() => props.tray.phones.find((p) => p.role === 'receives'))
const sheet = computed(() => `/trays/${props.tray.number}/sheet`)
const moves = computed(() => props.tray.moves.filter((m) => !m.left_out))
const keepUntil = ref('')
const isOnlyBackUp = computed(() => props.tray.errand === 'only_back_up')
/** The tray that a kept backup was made in. */
const keptFrom = computed(() =>
  props.tray.errand === 'bring_kept' ? (props.tray.moves.find((m) => m.backup)?.backup?.tray ?? null) : null,
)
/** Whether it was read back, or backed up where nothing more was wanted. */
const isSettled = (move: Schemas['Move']): boolean => (isOnlyBackUp.value ? move.backup : move.arrival) !== null
const isChecked = computed(() => moves.value.length > 0 && moves.value.every(isSettled))
const missing = computed(() => moves.value.reduce((sum, m) => sum + (m.arrival?.missing ?? 0), 0))
const isComplete = computed(() =>
  isOnlyBackUp.value ? isChecked.value : moves.value.every((m) => m.arrival?.complete === true),
)
const headline = computed(() => {
  if (props.tray.withdrawn) return say('hand.withdrawn')
  if (props.tray.closed) return say('hand.closed')
  if (isOnlyBackUp.value) return say(isComplete.value ? 'hand.backed_up' : 'hand.not_yet_backed_up')
  if (isComplete.value) return say('hand.ready')
  return missing.value > 0 ? say('hand.hole', { count: missing.value }) : say('hand.differs')
})
/** Days, as in src/Shop.php. */
const KEEP_DAYS = 30
const KEEP_DAYS_DAMAGED = 180
const isDamaged = computed(() =>
  moves.value.some((m) => m.safety_copy !== null && (m.safety_copy.lost > 0 || m.safety_copy.loss_uncounted)),
)
const why = computed(() => whyNotNow(props.tray, 'hand_over'))
const isAsking = ref(false)
/** One click hands nothing over unseen: what is open is named first. */
function close(): void {
  if (props.tray.open.length > 0 && !isAsking.value) isAsking.value = true
  else if (!handOver.isPending.value && !isNoDay(keepUntil.value)) {
    handOver.mutate(
      { keepUntil: typedDay(keepUntil.value), open: props.tray.open.map((one) => one.id) },
      { onSuccess: () => (isAsking.value = false) },
    )
  }
}
</script>

<template>
  <section class="panel">
    <div v-if="tray.errand === 'import'" class="sheet pad inner">
      <h2>{{ say('hand.imported') }}</h2>
      <p>{{ say('hand.imported_how') }}</p>
      <div class="buttons">
        <v-btn v-for="one in tray.keeping?.list ?? []" :key="one.id" :to="`/cupboard/${one.id}`">{{
          say('hand.imported_page')
        }}</v-btn>
      </div>
      <KeepingChats :tray="tray" />
    </div>
    <div v-else-if="moves.some(isSettled) || tray.withdrawn" class="sheet pad inner">
      <h2 :class="{ hole: !isComplete }">{{ headline }}</h2>
      <template v-for="m in moves" :key="m.place">
        <h3 v-if="moves.length > 1">{{ m.edition }}, {{ phoneNumber(m.number) }}</h3>
        <AccountsBar v-if="m.arrival" :totals="m.arrival" />
        <BackupFacts v-else-if="isOnlyBackUp && m.backup" :backup="m.backup" :current="!tray.closed" />
        <p v-else class="hole">
          {{ say(isOnlyBackUp ? 'hand.not_backed_up' : 'hand.unchecked', { edition: m.edition }) }} ·
          <RouterLink :to="`/trays/${tray.number}/accounts/${m.place}`">{{ say('tray.next') }}</RouterLink>
        </p>
        <PhoneDamage
          v-if="m.safety_copy && receiving"
          :tag="receiving.tag"
          :lost="m.safety_copy.lost"
          :uncounted="m.safety_copy.loss_uncounted"
          is-done
        />
      </template>
      <p v-if="missing > 0 && !tray.closed">{{ say('hand.hole_how', { count: missing }) }}</p>
      <div v-if="tray.switched.length > 0">
        <h3>{{ tray.closed ? say('hand.switched') : say('hand.switch_back') }}</h3>
        <ul class="switched" :aria-label="say('hand.switch_back')">
          <li v-for="s in tray.switched" :key="s.tag + s.code + s.app" :class="{ done: s.back }">
            <span class="tickbox" aria-hidden="true">{{ s.back ? '✓' : '' }}</span>
            <b>{{ s.tag }}</b>
            <span
              >{{ s.text
              }}<span class="sr">: {{ s.back ? say('point_state.ready') : say('point_state.to_do') }}</span></span
            >
          </li>
        </ul>
      </div>
      <UndoTold v-for="m in moves" :key="m.place" :tray="tray" :move="m" />
      <AfterRestore v-for="m in moves" :key="m.place" :tray="tray" :move="m" />
      <ul v-if="receiving || keptFrom !== null || tray.keeping?.backups !== 0" class="back">
        <li v-if="receiving">{{ say('hand.open_together', { tag: receiving.tag }) }}</li>
        <li v-if="keptFrom !== null">
          {{ say('hand.kept_before', { tag: receiving?.tag ?? '', from: keptFrom }) }}
        </li>
        <li v-else-if="tray.keeping?.backups !== 0">{{ say(isOnlyBackUp ? 'hand.backed_up_kept' : 'hand.kept') }}</li>
      </ul>
      <v-text-field
        v-if="mayBegin(tray, 'hand_over')"
        v-model="keepUntil"
        class="until"
        :label="say('keeping.until')"
        :placeholder="say('scope.day')"
        :hint="
          isDamaged
            ? say('keeping.rule_damaged', { days: KEEP_DAYS_DAMAGED })
            : say('keeping.rule', { days: KEEP_DAYS })
        "
        :error="isNoDay(keepUntil)"
        persistent-hint
      />
      <div class="buttons">
        <v-btn
          v-if="mayBegin(tray, 'hand_over')"
          :class="{ next: isComplete }"
          :disabled="why !== ''"
          :loading="handOver.isPending.value"
          @click="close"
          >{{ say('hand.do') }}</v-btn
        >
        <v-btn :href="sheet" target="_blank" rel="noopener">{{ say('hand.sheet') }}</v-btn>
        <v-btn :href="`${sheet}.pdf`" variant="text">{{ say('hand.pdf') }}</v-btn>
      </div>
      <WhyNot :because="why" />
      <p v-if="handOver.error.value && !isAsking" class="trouble" role="alert">{{ handOver.error.value.message }}</p>
      <v-dialog v-model="isAsking" aria-labelledby="open-title">
        <form class="sheet pad ask" @submit.prevent="close">
          <h2 id="open-title">{{ say('hand.open_title') }}</h2>
          <ul class="open">
            <li v-for="one in tray.open" :key="one.id">
              <b>{{ one.tag }}</b> {{ one.text }}
            </li>
          </ul>
          <p class="soft">{{ say('hand.open_how') }}</p>
          <p v-if="handOver.error.value" class="trouble" role="alert">{{ handOver.error.value.message }}</p>
          <div class="buttons">
            <v-btn type="submit" :loading="handOver.isPending.value">{{ say('hand.open_do') }}</v-btn>
            <v-btn v-begin-here variant="text" @click="isAsking = false">{{ say('tray.keep') }}</v-btn>
          </div>
        </form>
      </v-dialog>
      <KeepingChats :tray="tray" />
      <div v-if="!tray.closed" class="buttons">
        <PutBack v-for="m in moves" :key="m.place" :tray="tray" :move="m" :named="moves.length > 1" />
      </div>
      <SheetCode :tray="tray" />
    </div>
    <p v-else class="sheet pad soft">{{ say(isOnlyBackUp ? 'hand.not_yet_backed_up' : 'hand.not_yet') }}</p>
    <div><WithdrawTray :tray="tray" /></div>
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
  gap: var(--gap-2);
  font-size: var(--t-lead);
  line-height: 1.4;
}
.switched {
  list-style: none;
  margin: var(--gap-2) 0 0;
  padding: 0;
  display: grid;
  gap: 6px;
  font-size: var(--t-lead);
}
.switched li {
  display: grid;
  grid-template-columns: 24px auto 1fr;
  gap: 8px;
  align-items: center;
}
.switched .done {
  color: var(--soft);
}
.switched .tickbox {
  border-color: var(--missing);
}
.switched .done .tickbox {
  border-color: var(--arrived);
  color: var(--arrived);
}
.ask {
  display: grid;
  gap: var(--gap-3);
}
.open {
  margin: 0;
  padding-inline-start: 20px;
  display: grid;
  gap: var(--gap-1);
}
.until {
  max-width: 420px;
}
.buttons {
  display: flex;
  gap: var(--gap-3);
  align-items: center;
}
</style>
