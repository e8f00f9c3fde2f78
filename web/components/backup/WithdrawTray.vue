<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../../api/client'
import { useWithdraw } from '../../api/keeping'
import { mayBegin } from '../../lib/runs'
import { say } from '../../lib/say'
import TypedDialog from '../frame/TypedDialog.vue'

/** The way out of a tray at every stage: nothing is chosen beforehand of what becomes of what is kept. */
const props = defineProps<{ tray: Schemas['Tray'] }>()
const withdraw = useWithdraw(() => props.tray.number)
const isAsking = ref(false)
const keep = ref<boolean | null>(null)
const typed = ref('')
const tag = computed(() => props.tray.phones.find((p) => p.role === 'receives')?.tag ?? '')
const isWritten = computed(() => props.tray.moves.some((m) => m.restored_at !== null))
const why = computed(() => {
  if (keep.value === null) return say('why.keep')
  return typed.value.trim() === String(props.tray.number) ? '' : say('why.number')
})
function end(): void {
  if (keep.value === null) return
  withdraw.mutate({ number: typed.value, keep: keep.value }, { onSuccess: () => (isAsking.value = false) })
}
</script>

<template>
  <v-btn v-if="mayBegin(tray, 'withdraw')" variant="text" @click="isAsking = true">{{ say('hand.withdraw') }}</v-btn>
  <TypedDialog
    v-model:open="isAsking"
    v-model:typed="typed"
    :title="say('hand.withdraw_ask', { number: tray.number })"
    :label="say('keeping.type', { number: tray.number })"
    :act="say('hand.withdraw_do')"
    :why="why"
    :busy="withdraw.isPending.value"
    :error="withdraw.error.value"
    @confirm="end"
  >
    <p>{{ say('hand.withdraw_how') }}</p>
    <p v-if="isWritten">{{ say('hand.withdraw_restored', { tag }) }}</p>
    <fieldset>
      <legend class="sr">{{ say('keeping.title') }}</legend>
      <label>
        <input type="radio" name="keep" :checked="keep === true" @change="keep = true" />
        {{ say('hand.withdraw_keep') }}
      </label>
      <label>
        <input type="radio" name="keep" :checked="keep === false" @change="keep = false" />
        {{ say('hand.withdraw_erase') }}
      </label>
    </fieldset>
  </TypedDialog>
</template>

<style scoped>
fieldset {
  border: 0;
  margin: 0;
  padding: 0;
  display: grid;
  gap: var(--gap-2);
}
label {
  display: flex;
  gap: var(--gap-2);
  align-items: center;
  min-height: 28px;
}
input[type='radio'] {
  width: 18px;
  height: 18px;
  margin: 0;
  accent-color: var(--ribbon);
}
</style>
