<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { useCopyAct } from '../../api/copies'
import { bytes, dateTime } from '../../lib/format'
import { say } from '../../lib/say'
import ProgressLine from '../run/ProgressLine.vue'
import RunActs from '../run/RunActs.vue'

/** What of a backup has left the shop, and what is under way. */
const props = defineProps<{ backup: string; list: Schemas['ReadingCopy'][] }>()
const act = useCopyAct(computed(() => props.backup))
const forms = (copy: Schemas['ReadingCopy']): string =>
  [
    ...copy.forms.map((form) => say(`copy_form.${form}`)),
    say(`packing.${copy.packing}`),
    say(copy.is_all ? 'copies.in_all' : 'copies.in_part'),
    say(copy.is_locked ? 'copies.locked' : 'copies.is_open'),
  ].join(' · ')
</script>

<template>
  <p v-if="list.length === 0" class="soft">{{ say('copies.none') }}</p>
  <ul v-else class="copies">
    <li v-for="copy in list" :key="copy.id">
      <b v-if="copy.name !== null"
        ><bdi>{{ say('copies.one', { name: copy.name, stick: copy.stick }) }}</bdi></b
      >
      <b v-else>{{ say('copies.one_begun', { stick: copy.stick }) }}</b>
      <span class="soft small">{{ forms(copy) }}</span>
      <span v-if="copy.made_at !== null" class="small whole">
        ✓
        {{
          say('copies.one_made', {
            at: dateTime(copy.made_at),
            by: copy.asked_by,
            files: copy.files ?? 0,
            size: bytes(copy.bytes ?? 0),
          })
        }}
      </span>
      <span v-if="copy.made_at !== null && copy.spoilt > 0" class="small spoilt">
        ✕ {{ say('copies.spoilt', { count: copy.spoilt }) }}
      </span>
      <span v-if="copy.made_at === null" class="small soft">
        {{ say('copies.one_asked', { at: dateTime(copy.asked_at), by: copy.asked_by }) }}
        <template v-if="copy.run === null || copy.run.may.length === 0"> · {{ say('copies.ended') }}</template>
      </span>
      <span v-if="copy.sha256 !== null" class="small soft sum">{{ say('copies.sums') }}: {{ copy.sha256 }}</span>
      <div v-if="copy.run !== null && copy.run.may.length > 0" class="run">
        <p v-if="copy.run.trouble" class="trouble" role="status">{{ copy.run.trouble }}</p>
        <ProgressLine v-else class="far" :progress="copy.run.progress" />
        <v-btn
          v-if="copy.run.may.includes('go_on')"
          :loading="act.isPending.value"
          @click="act.mutate({ run: copy.run.id, act: 'go-on' })"
          >{{ say('copies.go_on') }}</v-btn
        >
        <RunActs :of="{ number: 0, backup }" :run="copy.run" />
      </div>
    </li>
  </ul>
  <p v-if="act.error.value" class="trouble" role="alert">{{ act.error.value.message }}</p>
</template>

<style scoped>
.copies {
  list-style: none;
  margin: 0;
  padding: 0;
}
.copies li {
  display: grid;
  gap: 2px;
  padding: var(--gap-3) 0;
  border-bottom: 1px solid var(--line);
}
.run {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: var(--gap-3);
  padding-top: var(--gap-2);
}
.run .trouble,
.far {
  flex: 1 1 320px;
}
.sum {
  overflow-wrap: anywhere;
  font-variant-numeric: tabular-nums;
}
.spoilt {
  color: var(--missing);
  font-weight: 600;
}
.whole {
  color: var(--arrived);
  font-weight: 600;
}
</style>
