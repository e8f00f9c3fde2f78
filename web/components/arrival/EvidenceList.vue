<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { dateTime } from '../../lib/format'
import { say } from '../../lib/say'
import type { Stage } from '../../lib/words'

/** All that the run sheet has for one stage: of the tray, or of one account. */
const props = defineProps<{ tray: Schemas['Tray']; stage: Stage; move?: Schemas['Move'] | undefined }>()
const entries = computed(() =>
  props.tray.steps.filter((s) => s.stage === props.stage && s.move === (props.move?.place ?? null)),
)
</script>

<template>
  <div v-if="entries.length > 0">
    <h3>{{ say('tray.on_sheet') }}</h3>
    <table class="plain">
      <tbody>
        <tr v-for="(entry, n) in entries" :key="n">
          <td class="when">{{ dateTime(entry.at) }}</td>
          <td class="by">{{ entry.by }}</td>
          <td>{{ entry.text }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.when {
  white-space: nowrap;
  color: var(--soft);
  width: 150px;
}
.by {
  width: 70px;
}
</style>
