<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { useTellStep } from '../../api/runs'
import { say } from '../../lib/say'

/** What a told step has left on the phone that gives: no phone shows that it is undone, a person says so. */
const props = defineProps<{ tray: Schemas['Tray']; move: Schemas['Move'] }>()
const tell = useTellStep(computed(() => ({ number: props.tray.number, place: props.move.place })))
const tag = computed(() => props.tray.phones.find((p) => p.role === 'gives')?.tag ?? '')
const left = computed(() => props.move.told.filter((one) => one.undo !== null))
</script>

<template>
  <ul v-if="left.length > 0" class="left" :aria-label="say('hand.switch_back')">
    <li v-for="one in left" :key="one.step">
      <span class="tickbox" aria-hidden="true"></span>
      <b>{{ tag }}</b>
      <span>{{ one.undo }}</span>
      <v-btn
        v-if="!tray.closed"
        size="small"
        :loading="tell.isPending.value"
        @click="tell.mutate({ step: one.step, said: 'undone' })"
        >{{ say('ways.undone') }}</v-btn
      >
    </li>
  </ul>
  <p v-if="tell.error.value" class="trouble" role="alert">{{ tell.error.value.message }}</p>
</template>

<style scoped>
.left {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: var(--gap-2);
}
.left li {
  display: flex;
  align-items: center;
  gap: var(--gap-2);
}
</style>
