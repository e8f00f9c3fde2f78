<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../../api/client'
import { useFindings } from '../../api/arrival'
import { type At } from '../../api/common'
import { bytes, count, date, dateTime, phoneNumber } from '../../lib/format'
import { say, word } from '../../lib/say'
import { kindWord, type Verdict } from '../../lib/words'

const props = defineProps<{
  at: At
  check: number
  rows: Schemas['ArrivalRow'][]
  losses: Schemas['Loss'][]
}>()
const picked = defineModel<number | null>('picked', { required: true })
const show = ref<'all' | 'differences' | Verdict>('all')
const find = ref('')
const findings = useFindings(
  computed(() => props.at),
  computed(() => props.check),
  picked,
)
const counts = computed(() => {
  const n: Record<string, number> = {
    all: props.rows.length,
    differences: props.rows.filter((r) => r.verdict === 'missing' || r.verdict === 'extra').length,
  }
  for (const row of props.rows) n[row.verdict] = (n[row.verdict] ?? 0) + 1
  return n
})
const filters = computed(() =>
  (['all', 'differences', 'missing', 'extra', 'left_out', 'changed', 'arrived'] as const).filter(
    (f) => f === 'all' || (f === 'differences' ? (counts.value['extra'] ?? 0) > 0 : (counts.value[f] ?? 0) > 0),
  ),
)
const shown = computed(() =>
  props.rows.filter(
    (r) =>
      (show.value === 'all' ||
        (show.value === 'differences' ? r.verdict === 'missing' || r.verdict === 'extra' : r.verdict === show.value)) &&
      (r.title ?? '').toLocaleLowerCase().includes((find.value ?? '').trim().toLocaleLowerCase()),
  ),
)
/** A rule's sentence, and what was chosen where there was a choice. */
function sentence(rule: string): string {
  const loss = props.losses.find((l) => l.rule === rule)
  if (!loss) return rule
  const chosen = loss.choices.length > 1 ? loss.choices.find((c) => c.key === loss.choice) : undefined
  return chosen ? `${loss.sentence} ${chosen.words}.` : loss.sentence
}
/** What can be done about what is found in the conversation that is open. */
const remedies = computed(() => [...new Set((findings.data.value ?? []).map((f) => word('remedy', f.reason)))])
const pair = (expected: number, found: number): string =>
  expected === found ? count(found) : say('check.of', { found, expected })
const aspects = (list: string[]): string => list.map((a) => word('aspect', a)).join(', ')
</script>

<template>
  <div class="sheet">
    <div class="tools">
      <div class="filters" role="group" :aria-label="say('check.show')">
        <button v-for="f in filters" :key="f" type="button" :aria-pressed="show === f" @click="show = f">
          {{ say(`verdict.${f}`) }} <b>{{ count(counts[f] ?? 0) }}</b>
        </button>
      </div>
      <v-text-field v-model="find" :label="say('app.find_title')" clearable />
    </div>
    <div class="scroll" tabindex="0" role="region" :aria-label="say('check.region')">
      <table class="plain compared">
        <colgroup>
          <col />
          <col class="w-verdict" />
          <col class="w-count" />
          <col class="w-count" />
          <col class="w-people" />
          <col class="w-date" />
          <col class="w-date" />
        </colgroup>
        <thead>
          <tr>
            <th scope="col">{{ say('check.conversation') }}</th>
            <th scope="col">{{ say('check.verdict') }}</th>
            <th scope="col" class="n">{{ say('check.messages') }}</th>
            <th scope="col" class="n">{{ say('check.attachments') }}</th>
            <th scope="col" class="n">{{ say('check.people') }}</th>
            <th scope="col" class="n">{{ say('check.first') }}</th>
            <th scope="col" class="n">{{ say('check.last') }}</th>
          </tr>
        </thead>
        <tbody>
          <template v-for="r in shown" :key="r.id">
            <tr class="pick" :class="{ open: picked === r.id }" @click="picked = picked === r.id ? null : r.id">
              <td class="title">
                <button type="button" :aria-expanded="picked === r.id" class="clip" :title="r.title ?? undefined">
                  {{ r.title === null ? say('app.untitled') : phoneNumber(r.title) }}
                </button>
              </td>
              <td>
                <span class="verdict account" :class="r.verdict">{{
                  say(`verdict_short.${r.verdict}`) + (r.missing > 0 ? ` ${count(r.missing)}` : '')
                }}</span>
              </td>
              <td class="n">{{ pair(r.messages_expected - r.left_out, r.messages_found) }}</td>
              <td class="n" :class="{ hole: r.attachments_found < r.attachments_expected && r.verdict === 'missing' }">
                {{ pair(r.verdict === 'left_out' ? 0 : r.attachments_expected, r.attachments_found) }}
              </td>
              <td class="n">{{ pair(r.verdict === 'left_out' ? 0 : r.people_expected, r.people_found) }}</td>
              <td class="n">
                <template v-if="r.first_found === r.first_expected || r.verdict === 'left_out'">{{
                  date(r.first_expected ?? r.first_found)
                }}</template>
                <template v-else
                  ><span class="hole">{{ date(r.first_found) }}</span
                  ><br /><span class="soft small">{{
                    say('check.meant', { at: date(r.first_expected) })
                  }}</span></template
                >
              </td>
              <td class="n">
                <template v-if="r.last_found === r.last_expected || r.verdict === 'left_out'">{{
                  date(r.last_expected ?? r.last_found)
                }}</template>
                <template v-else
                  ><span class="hole">{{ date(r.last_found) }}</span
                  ><br /><span class="soft small">{{
                    say('check.meant', { at: date(r.last_expected) })
                  }}</span></template
                >
              </td>
            </tr>
            <tr v-if="picked === r.id" class="detail">
              <td colspan="7">
                <p v-if="r.settings.length > 0" class="hole">
                  {{ say('check.other_settings', { list: aspects(r.settings) }) }}
                </p>
                <p v-for="rule in r.rules" :key="rule" class="soft">{{ sentence(rule) }}</p>
                <p v-for="remedy in remedies" :key="remedy" class="remedy">{{ remedy }}</p>
                <p v-if="findings.isPending.value" class="soft" role="status">{{ say('check.looking') }}</p>
                <p v-else-if="findings.error.value" class="trouble" role="alert">{{ findings.error.value.message }}</p>
                <table v-else-if="(findings.data.value ?? []).length > 0" class="plain inner">
                  <thead>
                    <tr>
                      <th scope="col">{{ say('check.sent') }}</th>
                      <th scope="col">{{ say('check.by') }}</th>
                      <th scope="col">{{ say('check.meant_to_arrive') }}</th>
                      <th scope="col">{{ say('check.on_phone') }}</th>
                    </tr>
                  </thead>
                  <tbody>
                    <tr v-for="f in findings.data.value" :key="f.id">
                      <td class="when">{{ dateTime(f.sent_at) }}</td>
                      <td>{{ f.from_owner ? say('ledger.owner') : phoneNumber(f.sender) }}</td>
                      <td>
                        {{ f.account === 'extra' ? say('check.nothing') : kindWord(f.kind)
                        }}<template v-if="f.attachment && f.account !== 'extra'"
                          >, {{ bytes(f.attachment.bytes) }}</template
                        >
                      </td>
                      <td class="hole">
                        {{ word('reason', f.reason)
                        }}<template v-if="f.reason === 'different'">: {{ aspects(f.aspects) }}</template>
                        <dl v-if="f.sides.length > 0" class="sides small">
                          <template v-for="s in f.sides" :key="s.aspect">
                            <dt>{{ word('aspect', s.aspect) }}</dt>
                            <dd>
                              <span class="soft">{{ say('check.side_meant', { value: s.meant }) }}</span>
                              <span>{{ say('check.side_there', { value: s.there }) }}</span>
                            </dd>
                          </template>
                        </dl>
                      </td>
                    </tr>
                  </tbody>
                </table>
                <p v-else-if="r.rules.length === 0 && r.settings.length === 0">
                  {{ say('check.as_it_was') }}
                </p>
              </td>
            </tr>
          </template>
        </tbody>
      </table>
      <p v-if="shown.length === 0" class="pad soft">{{ say('check.no_match') }}</p>
    </div>
  </div>
</template>

<style scoped>
.sides {
  margin: 4px 0 0;
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  gap: 2px var(--gap-3);
  color: var(--ink);
}
.sides dt {
  font-weight: 600;
}
.sides dd {
  margin: 0;
  display: grid;
  overflow-wrap: anywhere;
}
.tools {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: var(--gap-4);
  padding: var(--gap-2) var(--gap-3);
}
.tools .v-text-field {
  flex: 0 0 180px;
}
.scroll {
  max-height: 62vh;
  overflow: auto;
  border-top: 1px solid var(--line);
}
thead th {
  position: sticky;
  top: 0;
  background: var(--surface);
  z-index: 1;
}
.inner thead th {
  position: static;
  background: transparent;
}
.compared {
  table-layout: fixed;
  /* Narrower than this it is moved sideways: a title can always be read. */
  min-width: 680px;
  font-size: 0.875rem;
}
.compared .n {
  white-space: normal;
}
.compared > thead th,
.compared > tbody > tr > td {
  padding-left: 8px;
  padding-right: 8px;
}
.w-verdict {
  width: 106px;
}
.w-count {
  width: 88px;
}
.w-people {
  width: 60px;
}
.w-date {
  width: 94px;
}
.title button {
  max-width: 100%;
  font-weight: 600;
  text-align: left;
}
.verdict {
  font-weight: 600;
  white-space: nowrap;
}
.hole {
  color: var(--missing);
}
.open td {
  background: var(--sunk);
}
.detail > td {
  padding: var(--gap-2) var(--gap-4) var(--gap-4);
  background: var(--sunk);
}
.remedy {
  font-weight: 600;
}
.when {
  white-space: nowrap;
}
</style>
