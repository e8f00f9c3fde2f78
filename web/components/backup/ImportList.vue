<script setup lang="ts">
import { reactive } from 'vue'
import type { Schemas } from '../../api/client'
import { useGoOnWithImport, type ToldOn } from '../../api/imports'
import { bytes, dateTime, phoneNumber } from '../../lib/format'
import { say } from '../../lib/say'
import ProgressLine from '../run/ProgressLine.vue'
import RunActs from '../run/RunActs.vue'

/** What is being imported, and what was lately: what came of each. */
defineProps<{ list: Schemas['Import'][] }>()
const goOn = useGoOnWithImport()
const keys = reactive<Record<string, string>>({})
const parts = reactive<Record<string, string>>({})
const from = (one: Schemas['Import']): string =>
  one.stick === '' ? say('import.from_file') : say('import.from_stick', { stick: one.stick })
const hasToSay = (one: Schemas['Import']): boolean =>
  (one.wants_key && (keys[one.id] ?? '').trim() === '') || (one.parts.length > 0 && (parts[one.id] ?? '') === '')
function on(one: Schemas['Import']): void {
  const told: ToldOn = {}
  if (one.wants_key) told.key = keys[one.id] ?? ''
  if (one.parts.length > 0) told.part = parts[one.id] ?? ''
  goOn.mutate(
    { id: one.id, told },
    {
      onSuccess: () => {
        keys[one.id] = ''
        parts[one.id] = ''
      },
    },
  )
}
</script>

<template>
  <p v-if="list.length === 0" class="soft">{{ say('import.none') }}</p>
  <ul v-else class="imports">
    <li v-for="one in list" :key="one.id">
      <div class="whose">
        <RouterLink :to="`/customers/${one.customer_id}`" class="who clip">{{ one.customer }}</RouterLink>
        <span class="soft small clip"
          ><bdi>{{ one.name === '' ? say('import.no_name') : one.name }}</bdi></span
        >
        <span class="soft small">{{ say(`import_of.${one.sort}`) }} · {{ from(one) }}</span>
        <span class="soft small">{{ say('import.asked', { at: dateTime(one.asked_at), by: one.asked_by }) }}</span>
      </div>
      <div v-if="one.made" class="what">
        <RouterLink :to="`/cupboard/${one.made.backup}`" class="kept"
          >✓ {{ say('import.made', { edition: one.made.edition }) }}</RouterLink
        >
        <span class="small"
          ><bdi>{{ phoneNumber(one.made.account) }}</bdi> ·
          {{
            say('import.came', {
              messages: one.made.messages,
              conversations: one.made.conversations,
              attachments: one.made.attachments - one.made.attachments_absent,
            })
          }}</span
        >
        <span v-if="one.made.attachments_absent > 0" class="small lacks"
          >▲ {{ say('import.absent', { count: one.made.attachments_absent }) }}</span
        >
        <span v-if="one.made.lost > 0" class="small lacks">▲ {{ say('import.lost', { count: one.made.lost }) }}</span>
      </div>
      <div v-else-if="one.run !== null && one.run.may.length > 0" class="what">
        <p v-if="one.run.trouble" :class="one.parts.length > 0 ? 'asks' : 'trouble'" role="status">
          {{ one.run.trouble }}
        </p>
        <ProgressLine v-else :progress="one.run.progress" />
        <fieldset v-if="one.parts.length > 0 && one.run.may.includes('go_on')" class="parts">
          <legend class="small">{{ say('import.which') }}</legend>
          <label v-for="part in one.parts" :key="part.id" :class="{ chosen: parts[one.id] === part.id }">
            <input v-model="parts[one.id]" type="radio" :name="`part-${one.id}`" :value="part.id" />
            <span class="name"
              ><bdi>{{ part.name === '' ? say('import.all_of_it') : part.name }}</bdi>
              <span v-if="part.sort !== one.sort" class="small soft">{{ say(`import_of.${part.sort}`) }}</span></span
            >
            <span class="small soft at">{{
              part.at === null ? '' : say('import.part_at', { at: dateTime(part.at) })
            }}</span>
            <span class="small soft at">{{ part.bytes > 0 ? bytes(part.bytes) : '' }}</span>
          </label>
        </fieldset>
        <div class="acts">
          <template v-if="one.run.may.includes('go_on')">
            <v-text-field
              v-if="one.wants_key"
              v-model="keys[one.id]"
              class="key"
              type="password"
              autocomplete="off"
              maxlength="200"
              :label="say('import.key_anew')"
              hide-details
            />
            <v-btn :disabled="hasToSay(one)" :loading="goOn.isPending.value" @click="on(one)">{{
              say('keeping.go_on')
            }}</v-btn>
          </template>
          <RunActs :of="{ number: 0, import: one.id }" :run="one.run" />
        </div>
      </div>
      <p v-else class="what soft">{{ say('import.ended') }}</p>
    </li>
  </ul>
  <p v-if="goOn.error.value" class="trouble" role="alert">{{ goOn.error.value.message }}</p>
</template>

<style scoped>
.imports {
  list-style: none;
  margin: 0;
  padding: 0;
}
.imports > li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.6fr);
  gap: var(--gap-2) var(--gap-4);
  padding: var(--gap-3) 0;
  border-bottom: 1px solid var(--line);
}
.imports > li:last-child {
  border-bottom: 0;
}
.whose,
.what {
  display: grid;
  gap: 2px;
  align-content: start;
}
.who {
  font-weight: 600;
  color: var(--ink);
}
.kept {
  font-weight: 600;
  color: var(--arrived);
}
.lacks {
  color: var(--changed);
  font-weight: 600;
}
.asks {
  margin: 0;
  font-weight: 600;
}
.parts {
  display: grid;
  gap: 2px;
  max-height: 340px;
  margin: 0;
  padding: var(--gap-1) 0 0;
  border: 0;
  overflow-y: auto;
}
.parts label {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto minmax(64px, auto);
  gap: 0 var(--gap-3);
  align-items: baseline;
  padding: 4px var(--gap-3);
  border: 1px solid var(--line);
  border-left-width: 5px;
}
.parts label.chosen {
  border-left-color: var(--ribbon);
}
.parts input {
  accent-color: var(--ribbon);
}
.name {
  display: flex;
  flex-wrap: wrap;
  gap: 0 var(--gap-3);
  align-items: baseline;
  overflow-wrap: anywhere;
}
.at {
  font-variant-numeric: tabular-nums;
  text-align: right;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3);
  align-items: center;
  padding-top: var(--gap-2);
}
.key {
  flex: 0 1 240px;
}
@media (max-width: 760px) {
  .imports > li {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
