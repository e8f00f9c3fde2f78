<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Schemas } from '../../api/client'
import { useEyes, useTickEye, useUncoverEyes } from '../../api/arrival'
import { contentLine } from '../../lib/contents'
import { date, dateTime, phoneNumber, time } from '../../lib/format'
import { useLease } from '../../lib/lease'
import { say } from '../../lib/say'
import { sourceName } from '../../lib/source'
import { kindWord } from '../../lib/words'

/** What a customer compares: both lists as the phones show them first, and some pictures; ticked off point by point. */
const props = defineProps<{ tray: Schemas['Tray']; move: Schemas['Move'] }>()
const at = computed(() => ({ number: props.tray.number, place: props.move.place }))
const seed = ref(Math.floor(Math.random() * 100_000))
const lease = useLease()
const isUncovered = lease.isUncovered
const query = useEyes(
  at,
  computed(() => ({ seed: seed.value, uncovered: isUncovered.value })),
  computed(() => String(props.move.checks[0]?.id ?? '')),
)
const uncover = useUncoverEyes(at)
const tick = useTickEye(at)
const eyes = computed(() => query.data.value)
const tagOf = (role: Schemas['Role']) => props.tray.phones.find((p) => p.role === role)?.tag ?? ''
const isKept = computed(() => tagOf('gives') === '')
const sides = computed(() =>
  (['gives', 'receives'] as const).map((role) => {
    const tag = tagOf(role)
    const word =
      tag === ''
        ? say('eyes.side_kept', { at: dateTime(props.move.backup?.taken_at ?? null) })
        : `${tag} · ${say(`role.${role}`)}`
    return { role, tag: tag === '' ? sourceName(props.tray, props.move) : tag, word }
  }),
)
const isDone = computed(() => eyes.value?.points.every((p) => p.by !== null) === true)
/** Covered as soon as somebody wishes it, whatever was told before still lies here. */
const isCovered = computed(() => !isUncovered.value || eyes.value?.covered !== false)
function open(): void {
  uncover.mutate(seed.value, { onSuccess: (granted) => lease.hold(granted.lease) })
}
function toggle(): void {
  if (isUncovered.value) lease.end()
  else open()
}
/** Other pictures are opened by a line of their own. */
function draw(): void {
  const wasUncovered = isUncovered.value
  lease.end()
  seed.value += 1
  if (wasUncovered) open()
}
watch(
  () => eyes.value?.covered === true && !query.isPlaceholderData.value,
  (isEnded) => {
    if (isEnded && isUncovered.value && !query.isFetching.value) lease.hold(null)
  },
)
function said(row: Schemas['EyeRow']): string {
  const last = row.last
  if (last === null) return say('eyes.empty')
  if (last.length > 0 && isCovered.value) return ''
  if (last.text !== null && last.text !== '') return last.text
  return contentLine(last) ?? kindWord(last.kind)
}
const isToday = (iso: string): boolean => date(iso) === date(new Date().toISOString())
const when = (iso: string): string => (isToday(iso) ? time(iso) : date(iso))
const address = (side: 'gives' | 'receives', one: Schemas['EyePicture']): string =>
  `/api/trays/${at.value.number}/moves/${at.value.place}/eyes/pictures/${side}/${one.conversation}/${one.message}`
const error = computed(() => query.error.value ?? tick.error.value ?? uncover.error.value)
</script>

<template>
  <section class="sheet eyes" :aria-label="say('eyes.title')">
    <header class="top">
      <div>
        <h2>{{ say('eyes.title') }}</h2>
        <p class="soft">{{ isDone ? say('eyes.done') : say(isKept ? 'eyes.how_kept' : 'eyes.how') }}</p>
      </div>
      <v-btn v-if="eyes" :loading="uncover.isPending.value" @click="toggle">{{
        say(isCovered ? 'eyes.uncover' : 'eyes.cover')
      }}</v-btn>
    </header>
    <p v-if="error" class="trouble" role="alert">{{ error.message }}</p>
    <template v-if="eyes">
      <ul class="points">
        <li v-for="p in eyes.points" :key="p.point">
          <label>
            <input
              type="checkbox"
              :checked="p.by !== null"
              :disabled="tick.isPending.value"
              @change="tick.mutate({ point: p.point, same: p.by === null })"
            />
            {{ say(`eyes.${p.point}`) }}
          </label>
          <span v-if="p.by" class="soft small">{{ say('eyes.ticked', { by: p.by, at: dateTime(p.at) }) }}</span>
        </li>
      </ul>
      <div class="sides">
        <div v-for="s in sides" :key="s.role" class="side" :class="s.role">
          <h3>{{ s.word }}</h3>
          <ol>
            <li v-for="(row, n) in eyes[s.role]" :key="n" :class="row.is">
              <span class="name clip"
                ><b>{{ row.title === '' ? say('app.untitled') : phoneNumber(row.title) }}</b>
                <span v-if="row.pinned" class="soft small"> · {{ say('eyes.pinned') }}</span></span
              >
              <span class="soft small n">{{ row.last ? when(row.last.sent_at) : '' }}</span>
              <span class="line clip" :title="said(row)">
                <span v-if="row.last?.sender && !row.last.from_owner" class="soft">{{ row.last.sender }}: </span>
                <span
                  v-if="said(row) === '' && row.last"
                  class="cover"
                  :style="{ width: `${Math.min(220, 16 + row.last.length * 3)}px` }"
                  role="img"
                  :aria-label="say('eyes.covered', { count: row.last.length })"
                />
                <template v-else>{{ said(row) }}</template>
              </span>
              <span class="small mark">
                <template v-if="row.unread > 0">{{ say('eyes.unread', { count: row.unread }) }}</template>
                <b v-if="row.is !== 'same'">{{ say(`eyes.${row.is}`) }}</b>
              </span>
            </li>
          </ol>
        </div>
      </div>
      <p v-if="eyes.pictures.length === 0" class="soft">{{ say('eyes.no_pictures') }}</p>
      <div v-else class="pictures">
        <figure v-for="(one, n) in eyes.pictures" :key="n">
          <template v-for="s in sides" :key="s.role">
            <img
              v-if="!isCovered"
              :src="address(s.role, one[s.role])"
              :alt="`${s.tag}: ${one.title}`"
              width="96"
              height="96"
            />
            <span v-else class="hidden" role="img" :aria-label="s.tag" />
          </template>
          <figcaption class="small soft">{{ one.title }} · {{ date(one.sent_at) }}</figcaption>
        </figure>
        <v-btn variant="text" size="small" @click="draw">{{ say('eyes.draw') }}</v-btn>
      </div>
    </template>
  </section>
</template>

<style scoped>
.eyes {
  padding: var(--gap-4);
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: var(--gap-3);
}
.points {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 2px;
}
.points li {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 0 var(--gap-3);
}
.points label {
  display: inline-flex;
  align-items: center;
  gap: 8px;
  min-height: 28px;
  font-weight: 600;
}
.points input {
  width: 20px;
  height: 20px;
  margin: 0;
  accent-color: var(--ribbon);
}
.sides {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: var(--gap-4);
}
.side {
  border-top: 4px solid var(--gives);
  min-width: 0;
}
.side.receives {
  border-color: var(--receives);
}
.side h3 {
  margin: var(--gap-2) 0;
}
.side ol {
  list-style: none;
  margin: 0;
  padding: 0;
}
.side li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 0 var(--gap-2);
  padding: 5px 8px;
  height: 54px;
  border-bottom: 1px solid var(--sunk);
  border-inline-start: 4px solid transparent;
}
.side li:not(.same) {
  border-inline-start-color: var(--changed);
}
.side li.missing {
  border-inline-start-color: var(--missing);
}
.side li.left_out,
.side li.kept {
  border-inline-start: 4px dashed var(--left_out);
}
.mark {
  text-align: right;
}
.mark b {
  margin-inline-start: 6px;
}
.missing .mark b {
  color: var(--missing);
}
.cover {
  display: inline-block;
  height: 0.8em;
  background: var(--line);
  vertical-align: middle;
}
.pictures {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-4);
  align-items: center;
}
figure {
  margin: 0;
  display: grid;
  grid-template-columns: 96px 96px;
  gap: 4px;
}
figcaption {
  grid-column: 1 / -1;
  max-width: 196px;
  overflow-wrap: anywhere;
}
img,
.hidden {
  width: 96px;
  height: 96px;
  object-fit: cover;
  border: 1px solid var(--line);
}
.hidden {
  background: repeating-linear-gradient(45deg, var(--sunk) 0 6px, var(--line) 6px 7px);
}
</style>
