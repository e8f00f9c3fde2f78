<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import { useAskForRun } from '../api/runs'
import EvidenceList from '../components/arrival/EvidenceList.vue'
import NumberCheck from '../components/phone/NumberCheck.vue'
import MergeReport from '../components/chats/MergeReport.vue'
import LossTable from '../components/chats/LossTable.vue'
import PhoneDamage from '../components/phone/PhoneDamage.vue'
import PutBack from '../components/backup/PutBack.vue'
import PointToDo from '../components/phone/PointToDo.vue'
import WhyNot from '../components/run/WhyNot.vue'
import { bytes, dateTime } from '../lib/format'
import { isTagOf } from '../lib/labels'
import { heldOn } from '../lib/ways'
import { mayBegin } from '../lib/runs'
import { say } from '../lib/say'
import { sourceName } from '../lib/source'

const props = defineProps<{ tray: Schemas['Tray']; move: Schemas['Move'] }>()
const ask = useAskForRun(computed(() => ({ number: props.tray.number, place: props.move.place })))
const typed = ref('')
const phone = computed(() => props.tray.phones.find((p) => p.role === 'receives'))
const giving = computed(() => props.tray.phones.find((p) => p.role === 'gives')?.tag)
const holds = computed(() => heldOn(props.tray, props.move, 'receives'))
const counts = computed(() => (phone.value?.live.open ? (holds.value?.counts ?? null) : null))
/** What can't be read of it: of what was merged with, else of what is there now. */
const damage = computed(
  () => (props.move.merges ? props.move.merge : counts.value) ?? { lost: 0, loss_uncounted: false },
)
/** One that was refused for what is there now is over: it is asked for anew, of that. */
const isNow = computed(() => props.move.stage === 'restore' && mayBegin(props.move, 'restore'))
/** What was ready for the backup need not be so now. */
const isSeen = computed(() => counts.value !== null)
/** The number check says it, and more. */
const lacksNumber = computed(() => props.move.lacking?.id === 'number')
const named = computed(() => typed.value.trim().toUpperCase())
const isNamed = computed(() => isTagOf(props.tray, phone.value?.tag ?? '', typed.value))
const isOther = computed(() => giving.value !== undefined && isTagOf(props.tray, giving.value, typed.value))
function restore(): void {
  if (ask.isPending.value || !isNamed.value) return
  const replaces = props.move.merges ? 0 : (counts.value?.messages ?? 0)
  ask.mutate({
    kind: 'restore',
    confirmed_tag: typed.value,
    ...(replaces > 0 ? { replaces } : {}),
    // What was shown is what is agreed to.
    ...(damage.value.lost > 0 || damage.value.loss_uncounted ? { unreadable: damage.value.lost } : {}),
  })
}
</script>

<template>
  <section class="panel">
    <NumberCheck v-if="isNow && phone" :tray="tray" :move="move" />
    <PointToDo v-if="isNow && phone && isSeen && move.lacking && !lacksNumber" :tag="phone.tag" :point="move.lacking" />
    <div v-else-if="isNow && phone && !(isSeen && lacksNumber)" class="sheet confirm">
      <template v-if="move.merge?.stale">
        <h2>{{ say('restore.merge_stale', { tag: phone.tag }) }}</h2>
        <p>{{ say('restore.merge_stale_how') }}</p>
        <div>
          <v-btn class="next" :loading="ask.isPending.value" @click="ask.mutate({ kind: 'conversion' })">{{
            say('restore.convert_again')
          }}</v-btn>
        </div>
      </template>
      <template v-else-if="!counts">
        <h2 v-if="holds?.looking && phone.live.open">{{ say('restore.looking', { tag: phone.tag }) }}</h2>
        <h2 v-else>{{ say('restore.unreadable', { tag: phone.tag }) }}</h2>
        <p>{{ holds?.why ?? move.waits.how ?? say('restore.before') }}</p>
      </template>
      <template v-else-if="counts.messages > 0 && move.merges">
        <h2>{{ say(move.completes ? 'restore.missing_ask' : 'restore.merge_ask', { tag: phone.tag }) }}</h2>
        <p>
          {{
            say('restore.merge_what', {
              brought: move.merge?.brought ?? 0,
              stay: (move.merge?.there ?? 0) + (move.merge?.both ?? 0),
              size: bytes(move.brings?.bytes ?? 0),
            })
          }}
        </p>
        <p>{{ say('restore.merge_how', { tag: phone.tag }) }}</p>
      </template>
      <template v-else-if="counts.messages > 0">
        <h2>{{ say('restore.holds', { tag: phone.tag }) }}</h2>
        <p>
          {{
            say('restore.holds_what', {
              messages: counts.messages,
              conversations: counts.conversations,
              at: dateTime(counts.newest_at),
            })
          }}
        </p>
        <p>{{ say('restore.holds_how') }}</p>
        <p>
          <RouterLink class="instead" :to="`/trays/${tray.number}/accounts/${move.place}/choose`">{{
            say('restore.merge_instead', { tag: phone.tag })
          }}</RouterLink>
        </p>
      </template>
      <template v-else>
        <div>
          <h2>
            {{
              say('restore.ask', {
                edition: move.edition,
                tag: phone.tag,
                phone: `${phone.live.maker} ${phone.live.model}`,
              })
            }}
          </h2>
          <p>
            {{
              say('restore.what', {
                messages: move.brings?.messages ?? 0,
                size: bytes(move.brings?.bytes ?? 0),
              })
            }}
          </p>
        </div>
      </template>
      <template v-if="counts && !move.merge?.stale">
        <PhoneDamage :tag="phone.tag" :lost="damage.lost" :uncounted="damage.loss_uncounted" />
        <form class="type" @submit.prevent="restore">
          <v-text-field v-model="typed" :label="say('restore.type')" autocomplete="off" maxlength="20" />
          <v-btn class="next" type="submit" :disabled="!isNamed" :loading="ask.isPending.value">{{
            say(counts.messages === 0 ? 'restore.do' : move.merges ? 'restore.merge' : 'restore.replace', {
              tag: phone.tag,
            })
          }}</v-btn>
        </form>
        <WhyNot :because="isNamed || isOther ? '' : say('why.tag')" />
        <p v-if="isOther" class="trouble" role="alert">
          {{ say('restore.other_tag', { tag: named, right: phone.tag }) }}
        </p>
      </template>
      <p v-if="ask.error.value" class="trouble" role="alert">{{ ask.error.value.message }}</p>
    </div>
    <p v-else-if="move.stage === 'restore' && !isNow" class="soft">
      {{ say('restore.running', { tag: phone?.tag ?? '' }) }}
    </p>
    <p v-else-if="!move.rehearsal" class="sheet pad soft">{{ say('restore.not_yet') }}</p>
    <div v-if="move.completes"><PutBack :tray="tray" :move="move" /></div>
    <MergeReport
      v-if="move.merge && isNow && phone"
      :merge="move.merge"
      :gives="sourceName(tray, move)"
      :receives="phone.tag"
    />
    <LossTable v-if="move.rehearsal && isNow" :tray="tray" :move="move" />
    <EvidenceList :tray="tray" stage="restore" :move="move" />
  </section>
</template>

<style scoped>
.instead {
  color: inherit;
  font-weight: 600;
}
.confirm {
  padding: var(--gap-4);
  display: grid;
  gap: var(--gap-3);
  border-left: 5px solid var(--receives);
}
.type {
  display: flex;
  gap: var(--gap-3);
  align-items: center;
}
.type .v-text-field {
  max-width: 300px;
}
</style>
