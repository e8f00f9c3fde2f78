<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { useChoose, useLosses } from '../../api/choosing'
import AccountsBar from '../run/AccountsBar.vue'
import { count, dateTime } from '../../lib/format'
import { say } from '../../lib/say'
import { kindWord } from '../../lib/words'

/** Losses before the fact: rule, count, one example, the choice where one is due; and how the dry run added up. */
const props = defineProps<{ tray: Schemas['Tray']; move: Schemas['Move'] }>()
const at = computed(() => ({ number: props.tray.number, place: props.move.place }))
const query = useLosses(
  at,
  computed(() => props.move.run?.finished_at ?? ''),
)
const data = computed(() => query.data.value)
const choose = useChoose(at)
type Loss = Schemas['Loss']
/** Where there is something to choose, it comes first. */
const losses = computed(() =>
  [...(data.value?.losses ?? [])].sort((a, b) => Number(b.choices.length > 1) - Number(a.choices.length > 1)),
)
function example(loss: Loss): string {
  const found = loss.example
  if (found === null) return ''
  const conversation = found.conversation
  if (found.kind === null || found.sent_at === null) return say('convert.example', { conversation })
  return say('convert.example_message', { conversation, kind: kindWord(found.kind), at: dateTime(found.sent_at) })
}
</script>

<template>
  <div class="sheet losses">
    <p v-if="data === undefined && query.error.value" class="trouble" role="alert">{{ query.error.value.message }}</p>
    <p v-else-if="data === undefined" class="soft" role="status">{{ say('convert.reading') }}</p>
    <template v-else>
      <div>
        <h2>{{ data.totals.complete ? say('convert.adds_up') : say('convert.does_not') }}</h2>
        <p class="soft">{{ say('convert.how') }}</p>
      </div>
      <AccountsBar :totals="data.totals" />
      <p v-if="choose.error.value" class="trouble" role="alert">{{ choose.error.value.message }}</p>
      <table v-if="losses.length > 0" class="plain">
        <thead>
          <tr>
            <th scope="col">{{ say('convert.what') }}</th>
            <th scope="col" class="n">{{ say('choose.messages') }}</th>
            <th scope="col" class="n">{{ say('choose.conversations') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="loss in losses" :key="loss.rule">
            <td>
              <span class="fate" :class="loss.outcome">{{ say(`outcome.${loss.outcome}`) }}</span>
              {{ loss.sentence }}
              <fieldset v-if="loss.choices.length > 1" class="choices">
                <legend class="small">{{ data.may_choose ? say('convert.ask') : say('convert.chosen') }}</legend>
                <label v-for="c in loss.choices" :key="c.key" :class="{ chosen: c.key === loss.choice }">
                  <input
                    type="radio"
                    :name="loss.rule"
                    :value="c.key"
                    :checked="c.key === loss.choice"
                    :disabled="!data.may_choose || choose.isPending.value"
                    @change="choose.mutate({ rule: loss.rule, choice: c.key })"
                  />
                  {{ c.words }}
                </label>
              </fieldset>
              <span v-if="loss.example" class="soft small">{{ example(loss) }}</span>
            </td>
            <td class="n">{{ loss.messages > 0 ? count(loss.messages) : '–' }}</td>
            <td class="n">{{ count(loss.conversations) }}</td>
          </tr>
        </tbody>
      </table>
      <p v-else>{{ say('convert.nothing_lost') }}</p>
      <p v-if="data.attachments_absent > 0" class="soft">
        {{ say('convert.absent', { count: data.attachments_absent }) }}
      </p>
    </template>
  </div>
</template>

<style scoped>
.losses {
  padding: var(--gap-4);
  display: grid;
  gap: var(--gap-4);
}
.fate {
  font-weight: 650;
  margin-right: 4px;
}
.changed,
.spread {
  color: var(--changed);
}
.left_out,
.noticed {
  color: var(--left_out);
}
.choices {
  border: 0;
  border-inline-start: 3px solid var(--line);
  margin: 6px 0;
  padding: 0 0 0 var(--gap-3);
  display: grid;
}
.choices legend {
  font-weight: 650;
  padding: 0;
}
.choices label {
  display: flex;
  align-items: flex-start;
  gap: 8px;
  padding: 3px 0;
}
.choices input {
  flex: none;
  width: 18px;
  height: 18px;
  margin: 2px 0 0;
  accent-color: var(--ribbon);
}
.chosen {
  font-weight: 600;
}
</style>
