<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../../api/client'
import { useStop } from '../../api/runs'
import type { RunOf } from '../../api/runs'
import { say } from '../../lib/say'
import { vBeginHere } from '../../lib/focus'

/** Has a run rest, or ends it with what it has done so far. */
const props = defineProps<{ of: RunOf; run: Schemas['Run'] }>()
const of = computed(() => props.of)
const pause = useStop(of, 'pause')
const cancel = useStop(of, 'cancel')
const asks = ref(false)
const canRest = computed(() => props.run.may.includes('pause'))
const canBeCancelled = computed(() => props.run.may.includes('cancel'))
const what = computed(() => say(`run.${props.run.kind}`))
/** Of the phone that it is at; one that is at none speaks of none. */
const tag = computed(() => props.run.tag ?? '')
const trouble = computed(() => pause.error.value?.message ?? cancel.error.value?.message ?? '')

function doCancel(): void {
  if (cancel.isPending.value) return
  cancel.mutate(props.run.id, { onSettled: () => (asks.value = false) })
}
</script>

<template>
  <p v-if="trouble !== ''" class="trouble" role="alert">{{ trouble }}</p>
  <v-btn v-if="canRest" :loading="pause.isPending.value" @click="pause.mutate(run.id)">{{ say('tray.pause') }}</v-btn>
  <v-btn v-if="canBeCancelled" variant="text" @click="asks = true">{{ say('tray.cancel') }}</v-btn>
  <v-dialog v-model="asks" aria-labelledby="cancel-title">
    <div class="sheet pad ask">
      <h2 id="cancel-title">{{ say('tray.cancel_title', { what }) }}</h2>
      <p>{{ say(`run.${run.kind}_cancel`, { tag }) }}</p>
      <p v-if="canRest" class="soft">{{ say('tray.cancel_pause') }}</p>
      <div class="buttons">
        <v-btn :loading="cancel.isPending.value" @click="doCancel">{{ say('tray.cancel_do', { what }) }}</v-btn>
        <v-btn v-begin-here @click="asks = false">{{ say('tray.cancel_not') }}</v-btn>
      </div>
    </div>
  </v-dialog>
</template>

<style scoped>
.ask {
  display: grid;
  gap: var(--gap-3);
}
.buttons {
  display: flex;
  gap: var(--gap-2);
}
</style>
