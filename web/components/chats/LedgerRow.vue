<script setup lang="ts">
import { computed, ref } from 'vue'
import {
  mdiCardAccountDetailsOutline,
  mdiFileDocumentOutline,
  mdiImageOutline,
  mdiLinkVariant,
  mdiMapMarkerOutline,
  mdiMicrophoneOutline,
  mdiMovieOpenOutline,
  mdiMusicNote,
  mdiPhoneOutline,
  mdiPoll,
  mdiRecordCircleOutline,
  mdiStar,
  mdiStickerEmoji,
  mdiTagOutline,
  mdiTrashCanOutline,
  mdiVideoOutline,
} from '@mdi/js'
import type { Schemas } from '../../api/client'
import { bytes, date, exactTime, phoneNumber } from '../../lib/format'
import { contentLine, marksOf } from '../../lib/contents'
import { say, word } from '../../lib/say'
import { kindWord, noticeSentence } from '../../lib/words'

/** One line of the ledger: time, sender, what, marks. Covered, a text is a bar of its length. */
const props = defineProps<{
  message: Schemas['Message'] | undefined
  isNewDay: boolean
  covered: boolean
  picked: boolean
  preview: string
}>()
const emit = defineEmits<{ goTo: [place: number] }>()
const isWhole = ref(false)

const icons: Record<string, string> = {
  photo: mdiImageOutline,
  video: mdiVideoOutline,
  round_note: mdiRecordCircleOutline,
  voice: mdiMicrophoneOutline,
  audio: mdiMusicNote,
  document: mdiFileDocumentOutline,
  sticker: mdiStickerEmoji,
  animation: mdiMovieOpenOutline,
  place: mdiMapMarkerOutline,
  live_place: mdiMapMarkerOutline,
  contact_card: mdiCardAccountDetailsOutline,
  poll: mdiPoll,
  call: mdiPhoneOutline,
  catalogue_item: mdiTagOutline,
  deleted: mdiTrashCanOutline,
  text: mdiLinkVariant,
}
/** That a message was seen is what one expects, and is not said. */
const state = computed(() => {
  const code = props.message?.state ?? 'seen'
  return code === 'seen' ? '' : word('delivery', code)
})
/** Bars like words, in the length of the text; never more than two lines of them. */
const barWidths = computed(() => {
  let left = Math.min(props.message?.length ?? 0, 150)
  const widths: number[] = []
  for (let n = 0; left > 0; n += 1) {
    const word = Math.min(left, 3 + ((n * 7 + (props.message?.place ?? 0) * 5) % 9))
    widths.push(word)
    left -= word + 1
  }
  return widths
})
const attachment = computed(() => props.message?.attachments[0])
const content = computed(() => (props.message ? contentLine(props.message) : null))
const marks = computed(() => (props.message ? marksOf(props.message, date) : []))
</script>

<template>
  <div class="row" :class="{ day: isNewDay, picked, notice: message?.kind === 'notice' }">
    <template v-if="message">
      <div class="time">
        <b v-if="isNewDay">{{ date(message.sent_at) }}</b>
        <span :class="{ odd: message.odd_time }" :title="message.odd_time ? say('ledger.odd_time') : undefined"
          >{{ exactTime(message.sent_at) }}<template v-if="message.odd_time"> ?</template></span
        >
      </div>
      <div class="sender clip" :class="{ owner: message.from_owner }">
        {{ message.kind === 'notice' ? '' : message.from_owner ? say('ledger.owner') : phoneNumber(message.sender) }}
      </div>
      <div class="body">
        <button
          v-if="message.reply"
          type="button"
          class="reply"
          :disabled="message.reply.place === null"
          @click="emit('goTo', message.reply.place ?? 1)"
        >
          {{
            message.reply.gone
              ? say('ledger.answers_gone')
              : message.reply.elsewhere
                ? say('ledger.answers_elsewhere')
                : say('ledger.answers', { at: date(message.reply.sent_at) })
          }}
        </button>
        <span v-if="message.kind === 'notice'" class="told">{{
          message.notice ? noticeSentence(message.notice) : say('ledger.a_notice')
        }}</span>
        <span v-else-if="message.kind === 'unknown'" class="told">{{ say('ledger.unknown_kind') }} </span>
        <span v-if="content !== null" class="parcel content" :class="{ told: message.kind === 'deleted' }" dir="auto">
          <v-icon :icon="icons[message.kind] ?? icons['document']!" size="18" />
          <span class="clip">{{ content }}</span>
        </span>
        <span v-for="(a, n) in message.attachments" :key="n" class="parcel" :class="{ gone: a.presence !== 'present' }">
          <img v-if="a.preview && !covered" :src="preview + message.id" alt="" loading="lazy" />
          <v-icon v-else :icon="icons[message.kind] ?? icons['document']!" size="18" />
          <span
            ><bdi>{{ a.name ?? (a.is_motion ? say('ledger.film') : kindWord(message.kind)) }}</bdi
            >, {{ bytes(a.bytes)
            }}<template v-if="a.duration_ms !== null"
              >, {{ say('ledger.seconds', { n: Math.round(a.duration_ms / 1000) }) }}</template
            ><template v-if="a.presence !== 'present'"> · {{ word('presence', a.presence) }}</template></span
          >
        </span>
        <component
          :is="message.length > 90 ? 'button' : 'span'"
          v-if="message.text !== null"
          :type="message.length > 90 ? 'button' : undefined"
          class="text"
          dir="auto"
          :class="{ short: attachment }"
          :title="message.length > 90 ? say('ledger.whole') : undefined"
          @click="isWhole = message.length > 90"
          >{{ message.text }}</component
        >
        <span
          v-else-if="message.length > 0"
          class="bars"
          role="img"
          :aria-label="say('ledger.covered_text', { count: message.length })"
        >
          <i v-for="(w, n) in barWidths" :key="n" :style="{ width: `${w * 6}px` }"></i>
        </span>
      </div>
      <div class="marks">
        <v-icon v-if="message.starred" :icon="mdiStar" size="16" :aria-label="say('ledger.starred')" role="img" />
        <span v-if="message.forwarded">{{ say('ledger.forwarded') }}</span>
        <span v-for="m in marks" :key="m.word" :title="m.about">{{ m.word }}</span>
        <span v-for="r in message.reactions" :key="r.sign" class="sign"
          >{{ r.sign || '•' }}<template v-if="r.count > 1"> {{ r.count }}</template></span
        >
        <span v-if="message.unknown_details > 0" :title="say('ledger.unknown_detail_how')">{{
          say('ledger.unknown_detail')
        }}</span>
        <span v-if="state !== ''" :class="{ failed: message.state === 'failed' }">{{ state }}</span>
      </div>
      <v-dialog v-model="isWhole" max-width="720" :aria-label="say('ledger.whole_title')">
        <div class="sheet pad whole">
          <p class="soft">
            {{ date(message.sent_at) }}, {{ exactTime(message.sent_at) }} ·
            {{ message.from_owner ? say('ledger.owner') : phoneNumber(message.sender) }}
          </p>
          <p class="all" dir="auto" tabindex="0">{{ message.text }}</p>
          <p v-if="message.length > 4000" class="soft small">
            {{ say('ledger.first_part', { count: message.length }) }}
          </p>
          <v-btn @click="isWhole = false">{{ say('app.close') }}</v-btn>
        </div>
      </v-dialog>
    </template>
    <template v-else><span class="soft small">…</span></template>
  </div>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: 118px 168px minmax(0, 1fr) 190px;
  gap: var(--gap-3);
  align-items: center;
  height: 46px;
  padding: 0 var(--gap-4);
  border-top: 1px solid var(--sunk);
  overflow: hidden;
}
.row.day {
  border-top: 2px solid var(--soft);
}
.row.picked {
  background: var(--sunk);
}
.time {
  display: flex;
  flex-direction: column;
  line-height: 1.2;
  font-size: var(--t-small);
  color: var(--soft);
}
.time b {
  color: var(--ink);
}
.odd {
  color: var(--missing);
}
.sender {
  font-weight: 600;
}
.owner {
  color: var(--soft);
}
.body {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0 8px;
  max-height: 44px;
  overflow: hidden;
  line-height: 1.35;
}
.text {
  text-align: start;
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  overflow: hidden;
  overflow-wrap: anywhere;
  max-width: 100%;
  user-select: text;
}
.text.short {
  -webkit-line-clamp: 1;
}
.reply {
  font-size: 0.75rem;
  color: var(--soft);
}
.reply:not(:disabled) {
  text-decoration: underline;
}
.told {
  color: var(--soft);
  font-style: italic;
}
.parcel {
  display: inline-flex;
  align-items: center;
  gap: 5px;
  font-size: var(--t-small);
  border: 1px solid var(--line);
  border-radius: 3px;
  padding: 1px 7px;
  max-width: 340px;
  white-space: nowrap;
  overflow: hidden;
}
.parcel img {
  height: 26px;
  width: auto;
}
.content {
  max-width: 100%;
  min-width: 0;
}
.parcel.gone {
  border-style: dashed;
  color: var(--missing);
}
.bars {
  display: flex;
  flex-wrap: wrap;
  gap: 5px;
}
.bars i {
  height: 11px;
  background: var(--line);
  border-radius: 2px;
}
.marks {
  display: flex;
  flex-wrap: wrap;
  gap: 0 8px;
  font-size: var(--t-small);
  color: var(--soft);
  justify-content: flex-end;
}
.failed {
  color: var(--missing);
  font-weight: 650;
}
.whole {
  display: grid;
  gap: var(--gap-3);
  justify-items: start;
}
.all {
  max-height: 60vh;
  overflow: auto;
  white-space: pre-wrap;
  overflow-wrap: anywhere;
}
</style>
