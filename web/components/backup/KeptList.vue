<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../../api/client'
import { useEraseBackup, useKeepBackup, useVerifyBackup } from '../../api/keeping'
import { useGoOnWithBackup } from '../../api/runs'
import { isThere } from '../../lib/cupboard'
import { bytes, date, dateTime, typedDay } from '../../lib/format'
import { vBeginHere } from '../../lib/focus'
import { mayBegin, whyNotNow } from '../../lib/runs'
import { say } from '../../lib/say'
import { isNoDay } from '../../lib/scope'
import CustomersPassword from './CustomersPassword.vue'
import ProgressLine from '../run/ProgressLine.vue'
import RunActs from '../run/RunActs.vue'
import TypedDialog from '../frame/TypedDialog.vue'

/** The backups that a tray has made, one by one: whether each is whole, what has become of it, one erased by itself. */
/** @property byItself whether nothing beside it keeps or erases the whole tray */
const props = defineProps<{ number: number; list: Schemas['Keep'][]; byItself?: boolean }>()
const erase = useEraseBackup(() => props.number)
const verify = useVerifyBackup(() => props.number)
const goOn = useGoOnWithBackup(() => props.number)
const failed = computed(() => verify.error.value?.message ?? goOn.error.value?.message ?? '')
const asked = ref<string | null>(null)
const typed = ref('')
const one = computed(() => props.list.find((kept) => kept.id === asked.value) ?? null)
const isAsking = computed({
  get: () => one.value !== null,
  set: (open: boolean) => {
    if (!open) asked.value = null
  },
})
const title = computed(() =>
  one.value === null ? '' : say('keeping.ask_one', { edition: one.value.edition, at: dateTime(one.value.taken_at) }),
)
/** Whose password is asked for. */
const locking = ref<Schemas['Keep'] | null>(null)
const keep = useKeepBackup(() => props.number)
const keeping = ref<Schemas['Keep'] | null>(null)
const until = ref('')
const isKeeping = computed({
  get: () => keeping.value !== null,
  set: (open: boolean) => {
    if (!open) keeping.value = null
  },
})
/** Where it is the only one, its tray's own day and erasing are the same. */
function isAmongOthers(one: Schemas['Keep']): boolean {
  return props.byItself || props.list.length > 1 || one.until !== null
}
function askUntil(one: Schemas['Keep']): void {
  until.value = ''
  keep.reset()
  keeping.value = one
}
function keepUntil(): void {
  const day = typedDay(until.value)
  if (keeping.value === null || day === null || keep.isPending.value) return
  keep.mutate({ id: keeping.value.id, day }, { onSuccess: () => (keeping.value = null) })
}
function ask(id: string): void {
  typed.value = ''
  asked.value = id
}
function confirm(): void {
  if (one.value === null || erase.isPending.value) return
  erase.mutate({ id: one.value.id, typed: typed.value }, { onSuccess: () => (asked.value = null) })
}
</script>

<template>
  <section :aria-label="say('keeping.list')">
    <ul class="kept">
      <li v-for="kept in list" :key="kept.id">
        <div class="head">
          <div class="about">
            <span>
              <b>{{ kept.edition }}</b>
              {{ say('keeping.one', { at: dateTime(kept.taken_at), messages: kept.messages }) }}
            </span>
            <span v-if="kept.state === 'erased'" class="soft small" :class="{ there: kept.is_there }">
              {{
                say('keeping.one_erased', {
                  at: dateTime(kept.erased_at),
                  by: kept.erased_by ?? '',
                  files: kept.files,
                })
              }}
              · <span class="fate">{{ kept.is_there ? say('keeping.is_there') : `✓ ${say('keeping.is_gone')}` }}</span>
            </span>
            <span v-else-if="kept.state === 'erasing'" class="soft small" role="status">{{
              say('keeping.erasing')
            }}</span>
            <span v-else class="soft small">
              <template v-if="kept.note !== '' && !byItself">{{ kept.note }} · </template>
              {{ bytes(kept.bytes) }} ·
              <span :class="{ there: kept.trouble }" role="status">{{
                kept.trouble
                  ? say('keeping.broken', { why: kept.trouble })
                  : say('keeping.whole', { at: dateTime(kept.verified_at) })
              }}</span>
              <template v-if="kept.locked_at">
                · <span class="until">{{ say('keeping.locked', { at: dateTime(kept.locked_at) }) }}</span>
              </template>
              <template v-if="kept.until">
                · <span class="until">{{ say('keeping.one_until', { day: date(kept.until) }) }}</span>
              </template>
            </span>
          </div>
          <div v-if="isThere(kept.state)" class="acts">
            <v-btn
              v-if="mayBegin(kept, 'verify')"
              variant="text"
              size="small"
              :aria-label="`${say('keeping.verify')} ${kept.edition}, ${dateTime(kept.taken_at)}`"
              @click="verify.mutate(kept.id)"
              >{{ say('keeping.verify') }}</v-btn
            >
            <v-btn
              v-for="turn in (['lock', 'unlock'] as const).filter((one) => mayBegin(kept, one))"
              :key="turn"
              variant="text"
              size="small"
              :disabled="whyNotNow(kept, turn) !== ''"
              :title="whyNotNow(kept, turn)"
              :aria-label="`${say(`keeping.${turn}`)} ${kept.edition}, ${dateTime(kept.taken_at)}`"
              @click="locking = kept"
              >{{ say(`keeping.${turn}`) }}</v-btn
            >
            <v-btn
              v-if="isAmongOthers(kept) && mayBegin(kept, 'keep')"
              variant="text"
              size="small"
              :aria-label="`${say('keeping.keep_one')} ${kept.edition}, ${dateTime(kept.taken_at)}`"
              @click="askUntil(kept)"
              >{{ say('keeping.keep_one') }}</v-btn
            >
            <v-btn
              v-if="isAmongOthers(kept) && mayBegin(kept, 'erase')"
              variant="text"
              size="small"
              :disabled="whyNotNow(kept, 'erase') !== ''"
              :title="whyNotNow(kept, 'erase')"
              :aria-label="`${say('keeping.erase_one')} ${kept.edition}, ${dateTime(kept.taken_at)}`"
              @click="ask(kept.id)"
              >{{ say('keeping.erase_one') }}</v-btn
            >
          </div>
        </div>
        <div v-if="kept.run" class="run">
          <p v-if="kept.run.trouble" class="small" role="status">
            {{ say('keeping.run_stands', { what: say(`run.${kept.run.kind}`), why: kept.run.trouble }) }}
          </p>
          <ProgressLine v-else class="far" :progress="kept.run.progress" />
          <v-btn
            v-if="kept.run.may.includes('go_on')"
            :loading="goOn.isPending.value"
            @click="goOn.mutate({ backup: kept.id, run: kept.run.id })"
            >{{ say('keeping.go_on') }}</v-btn
          >
          <RunActs :of="{ number: number, backup: kept.id }" :run="kept.run" />
        </div>
      </li>
    </ul>
    <p v-if="failed !== ''" class="trouble" role="alert">{{ failed }}</p>
    <v-dialog v-model="isKeeping" aria-labelledby="keep-title">
      <form v-if="keeping" class="sheet pad keep" @submit.prevent="keepUntil">
        <h2 id="keep-title">
          {{ say('keeping.keep_title', { edition: keeping.edition, at: dateTime(keeping.taken_at) }) }}
        </h2>
        <p>{{ say('keeping.keep_what', { number: number }) }}</p>
        <v-text-field
          v-model="until"
          v-begin-here
          :label="say('keeping.until_one')"
          :placeholder="say('scope.day')"
          :error="isNoDay(until)"
          hide-details
        />
        <p v-if="keep.error.value" class="trouble" role="alert">{{ keep.error.value.message }}</p>
        <div class="buttons">
          <v-btn type="submit" :disabled="typedDay(until) === null" :loading="keep.isPending.value">{{
            say('keeping.change')
          }}</v-btn>
          <v-btn variant="text" @click="keeping = null">{{ say('tray.cancel_not') }}</v-btn>
        </div>
      </form>
    </v-dialog>
    <CustomersPassword v-model="locking" :number="number" />
    <TypedDialog
      v-model:open="isAsking"
      v-model:typed="typed"
      :title="title"
      :label="say('keeping.type', { number: number })"
      :act="say('keeping.do')"
      :why="typed.trim() === String(number) ? '' : say('why.number')"
      :busy="erase.isPending.value"
      :error="erase.error.value"
      @confirm="confirm"
    >
      <p>{{ say('keeping.what_one', { number: number }) }}</p>
    </TypedDialog>
  </section>
</template>

<style scoped>
.kept {
  list-style: none;
  margin: 0;
  padding: 0;
}
.kept > li {
  padding: var(--gap-2) 0;
  border-bottom: 1px solid var(--line);
}
.head,
.run {
  display: flex;
  align-items: center;
  gap: var(--gap-3);
}
.head {
  flex-wrap: wrap;
}
.about {
  display: grid;
  flex: 1 1 440px;
}
.acts,
.fate {
  white-space: nowrap;
}
.far {
  flex: 1;
}
.until {
  color: var(--ink);
  font-weight: 600;
}
.keep {
  display: grid;
  gap: var(--gap-3);
}
.buttons {
  display: flex;
  gap: var(--gap-2);
}
.there {
  color: var(--missing);
  font-weight: 600;
}
</style>
