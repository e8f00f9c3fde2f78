<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../../api/client'
import { useErase, useKeep, useReopen } from '../../api/keeping'
import { useBench } from '../../api/shelf'
import KeptList from './KeptList.vue'
import PutBack from './PutBack.vue'
import TypedDialog from '../frame/TypedDialog.vue'
import WhyNot from '../run/WhyNot.vue'
import { isThere } from '../../lib/cupboard'
import { bytes, date, dateTime, typedDay } from '../../lib/format'
import { mayBegin, whyNotNow } from '../../lib/runs'
import { say } from '../../lib/say'
import { isNoDay } from '../../lib/scope'

/** Behind the hand-over: what the shop keeps and until when, the way back, and the end of it. */
const props = defineProps<{ tray: Schemas['Tray'] }>()
const number = () => props.tray.number
const keeping = computed(() => props.tray.keeping)
const moves = computed(() => props.tray.moves.filter((m) => !m.left_out))
const receiving = computed(() => props.tray.phones.find((p) => p.role === 'receives'))
const kept = computed(() => ({
  backups: keeping.value?.backups ?? 0,
  copies: keeping.value?.safety_copies ?? 0,
  size: bytes(keeping.value?.bytes ?? 0),
}))
const isAny = computed(() => kept.value.backups + kept.value.copies > 0)
const about = computed(() => {
  const end = keeping.value?.until ?? null
  if (end === null) return isAny.value ? say('keeping.kept_open', { ...kept.value }) : say('keeping.none_open')
  const day = date(end)
  return isAny.value ? say('keeping.kept', { ...kept.value, day }) : say('keeping.none', { day })
})
const until = ref('')
const keep = useKeep(number)
const erase = useErase(number)
const reopen = useReopen(number)
const isErasing = ref(false)
const isReopening = ref(false)
const typed = ref('')
const bench = useBench()
const onto = ref('')
const phones = computed(() => [
  { value: '', title: say('keeping.same_phone', { tag: receiving.value?.tag ?? '' }) },
  ...(bench.data.value ?? [])
    .filter((p) => p.tray === null && !props.tray.phones.some((own) => own.live.serial === p.live.serial))
    .map((p) => ({ value: p.live.serial, title: `${p.live.maker} ${p.live.model}` })),
])
const mayReopen = computed(() => mayBegin(props.tray, 'reopen') && whyNotNow(props.tray, 'reopen') === '')
/** Each by itself, whatever has become of it. */
const isList = computed(() => {
  const list = keeping.value?.list ?? []
  return list.length > 0
})
const ownDays = computed(
  () => (keeping.value?.list ?? []).filter((one) => one.until !== null && isThere(one.state)).length,
)
/** What is kept longer than the rest of the tray. */
const left = computed(() => (keeping.value?.list ?? []).filter((one) => one.state !== 'erased'))
const whyNotErase = computed(() => whyNotNow(props.tray, 'erase'))
const error = computed(() => keep.error.value ?? reopen.error.value)
function change(): void {
  const day = typedDay(until.value)
  if (day !== null) keep.mutate(day, { onSuccess: () => (until.value = '') })
}
function doErase(): void {
  if (!erase.isPending.value) erase.mutate(typed.value, { onSuccess: () => (isErasing.value = false) })
}
function doReopen(): void {
  if (!reopen.isPending.value) reopen.mutate(onto.value, { onSuccess: () => (isReopening.value = false) })
}
</script>

<template>
  <section v-if="keeping" class="keeping" :aria-label="say('keeping.title')">
    <h3>{{ say('keeping.title') }}</h3>
    <template v-if="keeping.erased_at">
      <p>{{ say('keeping.erased', { at: dateTime(keeping.erased_at), by: keeping.erased_by ?? '' }) }}</p>
      <table class="plain">
        <tbody>
          <tr v-for="one in keeping.erased" :key="one.kind + one.id">
            <td>{{ say(`keeping.kind_${one.kind}`) }}</td>
            <td class="soft small id">{{ one.kind === 'work' ? '' : one.id }}</td>
            <td class="n">{{ say('keeping.files', { count: one.files }) }} · {{ bytes(one.bytes) }}</td>
            <td :class="{ there: !one.gone }">
              {{ one.gone ? `✓ ${say('keeping.is_gone')}` : say('keeping.is_there') }}
            </td>
          </tr>
        </tbody>
      </table>
      <template v-if="left.length > 0">
        <p>{{ say('keeping.left') }}</p>
        <KeptList :number="tray.number" :list="left" />
      </template>
    </template>
    <p v-else-if="keeping.erase_asked_at" role="status">{{ say('keeping.erasing') }}</p>
    <template v-else>
      <p>
        {{ about }} <template v-if="ownDays > 0">{{ say('keeping.own_days', { count: ownDays }) }}</template>
      </p>
      <KeptList v-if="isList" :number="tray.number" :list="keeping.list" />
      <form class="row" @submit.prevent="change">
        <v-text-field
          v-model="until"
          :label="say('keeping.until')"
          :placeholder="say('scope.day')"
          :error="isNoDay(until)"
          hide-details
        />
        <v-btn type="submit" :disabled="typedDay(until) === null" :loading="keep.isPending.value">{{
          say('keeping.change')
        }}</v-btn>
        <v-btn variant="text" :disabled="whyNotErase !== ''" @click="isErasing = true">{{
          say('keeping.erase')
        }}</v-btn>
      </form>
      <WhyNot :because="whyNotErase" />
      <h3 v-if="mayReopen || moves.some((one) => one.put_back_at)">{{ say('keeping.back') }}</h3>
      <p v-for="m in moves.filter((one) => one.put_back_at)" :key="m.place">
        {{ say('keeping.put_back', { tag: receiving?.tag ?? '', at: dateTime(m.put_back_at) }) }}
      </p>
      <div class="row">
        <PutBack v-for="m in moves" :key="m.place" :tray="tray" :move="m" :named="moves.length > 1" />
        <v-btn v-if="mayReopen" variant="text" @click="isReopening = true">{{ say('keeping.reopen') }}</v-btn>
      </div>
      <p v-if="error" class="trouble" role="alert">{{ error.message }}</p>
    </template>
    <TypedDialog
      v-model:open="isErasing"
      v-model:typed="typed"
      :title="say('keeping.ask', { number: tray.number })"
      :label="say('keeping.type', { number: tray.number })"
      :act="say('keeping.do')"
      :why="typed.trim() === String(tray.number) ? '' : say('why.number')"
      :busy="erase.isPending.value"
      :error="erase.error.value"
      @confirm="doErase"
    >
      <p>{{ isAny ? say('keeping.what', { ...kept }) : say('keeping.what_none') }}</p>
    </TypedDialog>
    <v-dialog v-model="isReopening" aria-labelledby="reopen-title">
      <form class="sheet pad ask" @submit.prevent="doReopen">
        <h2 id="reopen-title">{{ say('keeping.reopen_ask', { number: tray.number }) }}</h2>
        <p>{{ say('keeping.reopen_how') }}</p>
        <v-select v-if="receiving" v-model="onto" :items="phones" :label="say('keeping.onto')" />
        <p v-if="reopen.error.value" class="trouble" role="alert">{{ reopen.error.value.message }}</p>
        <div class="row">
          <v-btn type="submit" :loading="reopen.isPending.value">{{ say('keeping.reopen_do') }}</v-btn>
          <v-btn variant="text" @click="isReopening = false">{{ say('tray.keep') }}</v-btn>
        </div>
      </form>
    </v-dialog>
  </section>
</template>

<style scoped>
.keeping,
.ask {
  display: grid;
  gap: var(--gap-3);
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2);
  align-items: center;
}
.row .v-text-field,
.ask .v-text-field {
  max-width: 260px;
}
.id {
  overflow-wrap: anywhere;
}
.there {
  color: var(--missing);
  font-weight: 600;
}
</style>
