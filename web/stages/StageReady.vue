<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import { useBackUp } from '../api/runs'
import { useReadiness } from '../api/tray'
import EvidenceList from '../components/arrival/EvidenceList.vue'
import KeyField from '../components/backup/KeyField.vue'
import NumberCheck from '../components/phone/NumberCheck.vue'
import PointToDo from '../components/phone/PointToDo.vue'
import RoleMark from '../components/phone/RoleMark.vue'
import WaysIn from '../components/backup/WaysIn.vue'
import WhyNot from '../components/run/WhyNot.vue'
import { mayBegin } from '../lib/runs'
import { say } from '../lib/say'
import { chosenWay, isLocked, lackingFor, wayAsked, waysIn, whyNotBy, type Way } from '../lib/ways'

const props = defineProps<{ tray: Schemas['Tray'] }>()
const number = computed(() => props.tray.number)
const readiness = useReadiness(number, ref(true))
const backUp = useBackUp(number)
const phones = computed(() => readiness.data.value ?? [])
const lacking = computed(() =>
  phones.value.flatMap((p) =>
    p.points.filter((c) => c.status !== 'ready' && c.severity === 'blocks').map((point) => ({ tag: p.tag, point })),
  ),
)
/** No hindrance, and better done. */
const advised = computed(() =>
  phones.value.flatMap((p) =>
    p.points.filter((c) => c.status === 'to_do' && c.severity === 'warns').map((point) => ({ tag: p.tag, point })),
  ),
)
const first = computed(() => lacking.value.find((l) => l.point.status === 'to_do') ?? advised.value[0])
const giving = computed(() => props.tray.phones.find((p) => p.role === 'gives')?.tag ?? '')
const isNow = computed(() => props.tray.stage === 'ready')
const accounts = computed(() => props.tray.moves.filter((m) => !m.left_out && m.backup === null))
const keys = ref<Record<number, string>>({})
/** The offer that was chosen for an account, by its place. */
const chosen = ref<Record<number, Way>>({})
const orders = computed(() =>
  accounts.value.map((move) => {
    const ways = waysIn(props.tray, move)
    return { move, ways, way: chosenWay(ways, chosen.value[move.place]) }
  }),
)
/** Why nothing can be backed up yet. The other phone may still be set up meanwhile. */
const why = computed(() => {
  const tag = giving.value
  if (!phones.value.some((p) => p.tag === tag && p.points.length > 0)) return say('why.not_seen', { tag })
  const count = lacking.value.filter((l) => l.tag === tag).length
  if (count > 0) return say('why.points', { tag, count })
  if (accounts.value.length === 0) return say('why.no_account', { tag })
  return (
    orders.value.map(({ move, way }) => whyNotBy(move, way, keys.value[move.place], tag)).find((w) => w !== '') ?? ''
  )
})
function start(): void {
  if (backUp.isPending.value || why.value !== '') return
  const asked = orders.value.map(({ move, way }) => ({ place: move.place, ...wayAsked(way, keys.value[move.place]) }))
  backUp.mutate(asked, { onSuccess: () => (keys.value = {}) })
}
function mark(point: Schemas['Point']): string {
  if (point.status === 'unseen') return '?'
  return point.severity === 'warns' ? '~' : '!'
}
</script>

<template>
  <section class="panel">
    <header class="top">
      <div>
        <h2 v-if="readiness.data.value">
          {{
            lacking.length > 0
              ? say('ready.left', { count: lacking.length })
              : phones.length === 0
                ? say('ready.unknown')
                : say(phones.length > 1 ? 'ready.both' : 'ready.one')
          }}
        </h2>
        <p class="soft">
          {{ say('ready.live') }}
          <template v-if="advised.length > 0">{{ say('ready.advised', { count: advised.length }) }}</template>
          <RouterLink v-if="mayBegin(tray, 'print_labels')" class="labels" :to="`/trays/${tray.number}/labels`">{{
            say('labels.open')
          }}</RouterLink>
        </p>
      </div>
      <div v-if="isNow && giving !== ''" class="act">
        <v-btn class="next" :disabled="why !== ''" :loading="backUp.isPending.value" @click="start">{{
          accounts.length > 1
            ? say('ready.back_up_all', { count: accounts.length, tag: giving })
            : say('ready.back_up', { tag: giving })
        }}</v-btn>
        <WhyNot :because="readiness.data.value ? why : ''" />
      </div>
    </header>
    <p v-if="backUp.error.value" class="trouble" role="alert">{{ backUp.error.value.message }}</p>
    <p v-if="!readiness.data.value && readiness.error.value" class="trouble" role="alert">
      {{ say('ready.failed') }} {{ readiness.error.value.message }}
    </p>
    <p v-else-if="!readiness.data.value" class="soft" role="status">{{ say('ready.loading') }}</p>
    <PointToDo v-if="isNow && first" :tag="first.tag" :point="first.point" />
    <template v-if="isNow">
      <template v-for="{ move, ways, way } in orders" :key="move.place">
        <WaysIn
          v-if="ways.length > 1 || lackingFor(move, way).length > 0"
          :model-value="way"
          :tray="tray"
          :move="move"
          @update:model-value="chosen[move.place] = $event"
        />
        <KeyField
          v-if="isLocked(way)"
          :model-value="keys[move.place] ?? ''"
          :tag="giving"
          :edition="move.edition"
          :made-at="way.made_at"
          :lock="way.lock"
          @update:model-value="keys[move.place] = $event"
        />
      </template>
    </template>
    <div class="phones">
      <article
        v-for="phone in phones"
        :key="phone.tag"
        class="sheet phone"
        :aria-label="say('ready.phone', { tag: phone.tag })"
      >
        <header>
          <b class="slab tag">{{ phone.tag }}</b><RoleMark :role="phone.role" />
        </header>
        <ul>
          <li
            v-for="point in phone.points.filter((p) => p.status !== 'ready')"
            :key="point.id + (point.app ?? '')"
            :class="[point.status, point.severity]"
          >
            <span class="tickbox" aria-hidden="true">{{ mark(point) }}</span>
            <span>
              <span class="what"
                >{{ point.what }}<span class="sr">: {{ say(`point_state.${point.status}`) }}</span></span
              >
              <span v-if="point.how && point !== first?.point" class="how">{{ point.how }}</span>
            </span>
          </li>
        </ul>
        <ul class="done" :aria-label="say('ready.done', { tag: phone.tag })">
          <li
            v-for="point in phone.points.filter((p) => p.status === 'ready')"
            :key="point.id + (point.app ?? '')"
            class="ready"
          >
            <span class="tick" aria-hidden="true">✓</span>
            <span
              >{{ point.what }}<span class="sr">: {{ say('point_state.ready') }}</span></span
            >
          </li>
        </ul>
      </article>
    </div>
    <template v-if="tray.errand !== 'only_back_up'">
      <NumberCheck v-for="m in accounts" :key="m.place" :tray="tray" :move="m" quiet />
    </template>
    <EvidenceList :tray="tray" stage="ready" />
  </section>
</template>

<style scoped>
.labels {
  display: block;
  width: fit-content;
  color: inherit;
}
.act {
  flex: none;
  max-width: 260px;
  display: grid;
  justify-items: end;
  gap: var(--gap-1);
  text-align: end;
}
.phones {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: var(--gap-4);
  align-items: start;
}
.phone {
  padding: var(--gap-3) var(--gap-4);
}
.phone header {
  display: flex;
  justify-content: space-between;
  align-items: center;
  padding-bottom: 6px;
  border-bottom: 1px solid var(--sunk);
}
.tag {
  font-size: 1.25rem;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 24px 1fr;
  gap: 8px;
  padding: 6px 0;
}
/* What is ready is evidence: there to be read, and out of the way. */
.done {
  padding-top: 6px;
  font-size: var(--t-small);
  color: var(--soft);
}
li.ready {
  grid-template-columns: 24px 1fr;
  padding: 1px 0;
}
.tick {
  text-align: center;
  font-weight: 700;
  color: var(--arrived);
}
.to_do .tickbox {
  background: var(--missing);
  border-color: var(--missing);
  color: var(--surface);
  border-radius: 50%;
}
.unseen .tickbox {
  border-style: dashed;
}
.to_do.warns .tickbox {
  background: transparent;
  border-color: var(--changed);
  color: var(--changed);
}
.to_do .what {
  font-weight: 650;
}
.unseen .what {
  color: var(--soft);
}
.how {
  display: block;
}
</style>
