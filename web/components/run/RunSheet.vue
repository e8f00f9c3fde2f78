<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { dateTime } from '../../lib/format'
import { address } from '../../lib/places'
import { say } from '../../lib/say'
import { moveStages, STAGES, stagesOf, stageWord, type Stage } from '../../lib/words'

/**
 * The run sheet with its evidence: what was done, when, by whom. Intake, Ready and Hand over stand once, the five
 * between for each account.
 */
const props = defineProps<{ tray: Schemas['Tray']; shown: Stage; move: Schemas['Move'] | undefined }>()

type State = 'now' | 'done' | 'ahead'
const place = (stage: Stage): number => STAGES.indexOf(stage) + 1

function row(stage: Stage, move: Schemas['Move'] | null, state: State) {
  const evidence = props.tray.steps.filter((s) => s.stage === stage && s.move === (move?.place ?? null))
  return {
    key: `${move?.place ?? 0}-${stage}`,
    stage,
    state,
    n: stagesOf(props.tray.errand).indexOf(stage) + 1,
    word: stageWord(stage, props.tray.errand),
    to: address(props.tray.number, stage, move?.place),
    isShown: stage === props.shown && (move === null || move.place === props.move?.place),
    count: evidence.length,
    last: evidence[evidence.length - 1],
  }
}

const hasBegun = computed(() => props.tray.stage !== 'ready')
function trayState(stage: Stage): State {
  if (props.tray.closed) return 'done'
  if (stage === 'intake') return 'done'
  if (stage === 'ready') return hasBegun.value ? 'done' : 'now'
  return props.tray.stage === 'hand_over' ? 'now' : 'ahead'
}
function moveState(move: Schemas['Move'], stage: Stage): State {
  // Where it is only backed up, nobody has to look.
  if (props.tray.errand === 'only_back_up' && stage === 'choose') return 'ahead'
  if (props.tray.closed || place(stage) < move.stage_place) return 'done'
  return move.stage === stage && (hasBegun.value || stage !== 'back_up') ? 'now' : 'ahead'
}
const groups = computed(() => [
  {
    key: 'before',
    move: null,
    rows: (['intake', 'ready'] as const)
      .filter((s) => stagesOf(props.tray.errand).includes(s))
      .map((s) => row(s, null, trayState(s))),
  },
  ...props.tray.moves.map((move) => ({
    key: `move-${move.place}`,
    move,
    rows: move.left_out ? [] : moveStages(props.tray.errand).map((s) => row(s, move, moveState(move, s))),
  })),
  { key: 'after', move: null, rows: [row('hand_over', null, trayState('hand_over'))] },
])
const several = computed(() => props.tray.moves.length > 1)
</script>

<template>
  <nav class="run" :aria-label="say('tray.run_sheet')">
    <template v-for="group in groups" :key="group.key">
      <h2 v-if="group.move && several" class="edition" :class="{ out: group.move.left_out }">
        {{ group.move.edition }}<span v-if="group.move.left_out" class="soft small"> · {{ say('tray.left_out') }}</span>
      </h2>
      <ol v-if="group.rows.length > 0" :class="{ inner: group.move && several }">
        <li v-for="r in group.rows" :key="r.key" :class="[r.state, { shown: r.isShown }]">
          <RouterLink :to="r.to" :aria-current="r.isShown ? 'step' : undefined">
            <span class="place" aria-hidden="true">{{ r.state === 'done' ? '✓' : r.n }}</span>
            <span class="word"
              >{{ r.word }}<span class="sr">, {{ say(`state.${r.state}`) }}</span></span
            >
          </RouterLink>
          <p v-if="r.last" class="evidence" :title="r.last.text">
            <span class="told">{{ r.last.text }}</span>{{ ' ' }}
            <span class="by"
              >{{ dateTime(r.last.at) }}, {{ r.last.by
              }}<template v-if="r.count > 1"> · {{ say('tray.entries', { count: r.count }) }}</template></span
            >
          </p>
        </li>
      </ol>
    </template>
  </nav>
</template>

<style scoped>
ol {
  list-style: none;
  padding: 0;
  margin: 0;
}
li {
  position: relative;
  padding: 0 0 8px 34px;
}
li::before {
  content: '';
  position: absolute;
  left: 12px;
  top: 20px;
  bottom: -4px;
  width: 3px;
  background: var(--line);
}
li.done::before {
  background: var(--soft);
}
li:last-child::before {
  display: none;
}
a {
  display: flex;
  align-items: center;
  text-decoration: none;
  color: var(--ink);
  min-height: 26px;
  border-radius: 4px;
}
.place {
  position: absolute;
  left: 1px;
  width: 25px;
  height: 25px;
  border-radius: 50%;
  border: 2px solid var(--line);
  background: var(--background);
  color: var(--soft);
  display: grid;
  place-items: center;
  font-size: var(--t-small);
  font-weight: 650;
}
.done .place {
  background: var(--soft);
  border-color: var(--soft);
  color: var(--background);
}
.now .place {
  background: var(--ribbon);
  border-color: var(--ribbon);
  color: var(--on-ribbon);
}
.ahead .word {
  color: var(--soft);
}
.now .word,
.shown .word {
  font-weight: 700;
}
.shown .word {
  text-decoration: underline;
  text-decoration-thickness: 2px;
  text-underline-offset: 4px;
}
.evidence {
  font-size: var(--t-small);
  line-height: 1.3;
}
.told {
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  overflow: hidden;
}
.by {
  display: block;
  color: var(--soft);
}
.edition {
  font-size: var(--t-base);
  padding: 2px 0 6px;
}
.edition.out {
  color: var(--soft);
}
ol.inner {
  border-left: 3px solid var(--line);
  padding-left: 8px;
  margin: 0 0 8px 2px;
}
ol.inner .told {
  -webkit-line-clamp: 1;
}
</style>
