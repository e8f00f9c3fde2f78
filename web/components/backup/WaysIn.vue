<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { useTellStep } from '../../api/runs'
import { bytes, dateTime, duration } from '../../lib/format'
import { say } from '../../lib/say'
import { ageOf, chosenWay, heldOn, lackingFor, waysIn, type Way } from '../../lib/ways'

/** The ways in for an account, each with its age, its size and what it holds; and how to have one made now. */
const props = defineProps<{ tray: Schemas['Tray']; move: Schemas['Move'] }>()
const chosen = defineModel<Way>({ required: true })
const tell = useTellStep(computed(() => ({ number: props.tray.number, place: props.move.place })))
const giving = computed(() => props.tray.phones.find((p) => p.role === 'gives'))
const tag = computed(() => giving.value?.tag ?? '')
const held = computed(() => heldOn(props.tray, props.move, 'gives'))
const ways = computed(() => waysIn(props.tray, props.move))
const way = computed(() => chosenWay(ways.value, chosen.value))
const phoneNewestAt = computed(() => held.value?.counts?.newest_at ?? null)

const DAY = 86_400
const span = (seconds: number): string =>
  seconds < 2 * DAY ? duration(seconds) : say('ways.age_days', { n: Math.floor(seconds / DAY) })
/** What is as the phone is now was counted there. */
const isOfNow = (one: Schemas['Offer']): boolean => one.made_at === null
function holds(one: Schemas['Offer']): string {
  const counts = isOfNow(one) ? held.value?.counts : one.counts
  return counts ? say('ways.holds', { messages: counts.messages, at: dateTime(counts.newest_at) }) : ''
}
function size(one: Schemas['Offer']): string {
  if (isOfNow(one)) {
    const all = held.value?.bytes ?? null
    return all === null ? '' : say('ways.all_size', { size: bytes(all) })
  }
  if (one.bytes === null) return ''
  return say('ways.size', {
    chats: bytes(one.bytes),
    count: one.attachments ?? 0,
    size: bytes(one.attachment_bytes ?? 0),
  })
}
function age(one: Schemas['Offer']): { words: string; isStale: boolean } {
  const found = ageOf(one, phoneNewestAt.value)
  if (found.is === 'unknown') return { words: '', isStale: false }
  if (found.is === 'newest') return { words: say('ways.is_newest'), isStale: false }
  const params = { age: span(found.seconds) }
  return {
    words: found.is === 'behind' ? say('ways.behind', params) : say('ways.made_before', params),
    isStale: true,
  }
}
const rows = computed(() =>
  ways.value.map((one) =>
    one === null
      ? { id: null, one, name: say('ways.unseen'), facts: [], age: null, why: null }
      : {
          id: one.id,
          one,
          name: say(`way.${one.way}.offer`, { at: dateTime(one.made_at) }),
          facts: [
            holds(one),
            size(one),
            (one.attachments ?? 0) > 0 && one.videos === 0 ? say('ways.no_videos') : '',
            isOfNow(one) && one.lock === 'open' ? '' : say('ways.lock', { lock: one.lock ?? 'other' }),
          ].filter((fact) => fact !== ''),
          age: isOfNow(one) ? null : age(one),
          why: one.why,
        },
  ),
)
const toDo = computed(() => lackingFor(props.move, way.value))
const all = computed(() => held.value?.bytes ?? null)
const free = computed(() => giving.value?.live.free_bytes ?? null)
const now = computed(() =>
  all.value === null
    ? []
    : (held.value?.could_be_made ?? []).map((name) =>
        say(`way.${name}.make`, { tag: tag.value, edition: props.move.edition, size: bytes(all.value ?? 0) }),
      ),
)
const noRoom = computed(() =>
  now.value.length > 0 && all.value !== null && free.value !== null && free.value < all.value
    ? say('ways.no_room', { free: bytes(free.value) })
    : '',
)
</script>

<template>
  <fieldset class="ways">
    <legend>
      {{ say(rows.length > 1 ? 'ways.title' : 'ways.one', { edition: move.edition, tag }) }}
    </legend>
    <label v-for="row in rows" :key="row.id ?? ''" class="way" :class="{ chosen: row.id === (way?.id ?? null) }">
      <input
        v-if="rows.length > 1"
        type="radio"
        :name="`way-${move.place}`"
        :checked="row.id === way?.id"
        @change="chosen = row.one"
      />
      <span>
        <b>{{ row.name }}</b>
        <span class="soft small facts">
          <span v-for="fact in row.facts" :key="fact">{{ fact }}</span>
        </span>
        <span v-if="row.age && row.age.words !== ''" class="small" :class="row.age.isStale ? 'stale' : 'soft'">
          {{ row.age.words }}
        </span>
        <span v-if="row.why" class="small stale">{{ row.why }}</span>
      </span>
    </label>
    <p v-for="point in toDo" :key="point.id" class="small" role="status">
      <b>{{ say('ways.to_do', { tag }) }}</b> {{ point.how ?? point.what }}
      <v-btn
        v-if="point.told"
        size="small"
        :loading="tell.isPending.value"
        @click="tell.mutate({ step: point.id, said: 'done' })"
        >{{ say('ways.done') }}</v-btn
      >
    </p>
    <p v-for="one in move.told" :key="one.step" class="small">
      ✓ {{ say('ways.told', { what: one.what, by: one.by, at: dateTime(one.at) }) }}
      <v-btn
        v-if="move.backup === null"
        size="small"
        variant="text"
        @click="tell.mutate({ step: one.step, said: 'taken-back' })"
        >{{ say('ways.take_back') }}</v-btn
      >
    </p>
    <p v-if="tell.error.value" class="trouble" role="alert">{{ tell.error.value.message }}</p>
    <p v-for="how in now" :key="how" class="soft small">
      {{ how }} <span v-if="noRoom !== ''" class="stale">{{ noRoom }}</span>
    </p>
  </fieldset>
</template>

<style scoped>
.ways {
  background: var(--surface);
  border: 1px solid var(--line);
  border-radius: 4px;
  margin: 0;
  padding: var(--gap-2) var(--gap-4) var(--gap-3);
  display: grid;
  gap: 2px;
}
/* Inside, so that the line around it has no gap where two grounds meet. */
legend {
  float: left;
  width: 100%;
  font-weight: 650;
  padding: 0;
}
.way {
  display: flex;
  gap: var(--gap-2);
  padding: var(--gap-2);
  border-radius: 4px;
}
.way:has(input) {
  cursor: pointer;
}
.way.chosen:has(input) {
  background: var(--sunk);
}
.way > span {
  display: grid;
  gap: 1px;
}
input {
  accent-color: var(--ribbon);
  margin-top: 4px;
  align-self: start;
}
.facts {
  display: flex;
  flex-wrap: wrap;
  column-gap: var(--gap-4);
}
.stale {
  color: var(--changed);
  font-weight: 600;
}
</style>
