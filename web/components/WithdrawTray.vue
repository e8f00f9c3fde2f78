<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import { useWithdraw } from '../api/queries'
import { say } from '../lib/say'

/** The way out of a tray at every stage: nothing is chosen beforehand of what becomes of what is kept. */
const props = defineProps<{ tray: Schemas['Tray'] }>()
const withdraw = useWithdraw(() => props.tray.number)
const isAsking = ref(false)
const keep = ref<boolean | null>(null)
const typed = ref('')
const tag = computed(() => props.tray.phones.find((p) => p.role === 'receives')?.tag ?? '')
const isWritten = computed(() => props.tray.moves.some((m) => m.restored_at !== null))
const isNamed = computed(() => typed.value.trim() === String(props.tray.number))
function end(): void {
  if (withdraw.isPending.value || !isNamed.value || keep.value === null) return
  withdraw.mutate({ number: typed.value, keep: keep.value }, { onSuccess: () => (isAsking.value = false) })
}
</script>

<template>
  <v-btn v-if="!tray.closed" variant="text" @click="isAsking = true">{{ say('hand.withdraw') }}</v-btn>
  <v-dialog v-model="isAsking" aria-labelledby="withdraw-title">
    <form class="sheet pad ask" @submit.prevent="end">
      <h2 id="withdraw-title">{{ say('hand.withdraw_ask', { number: tray.number }) }}</h2>
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
      <v-text-field
        v-model="typed"
        :label="say('keeping.type', { number: tray.number })"
        autocomplete="off"
        maxlength="9"
        autofocus
      />
      <p v-if="withdraw.error.value" class="trouble" role="alert">{{ withdraw.error.value.message }}</p>
      <div class="buttons">
        <v-btn type="submit" :disabled="!isNamed || keep === null" :loading="withdraw.isPending.value">{{
          say('hand.withdraw_do')
        }}</v-btn>
        <v-btn variant="text" @click="isAsking = false">{{ say('tray.keep') }}</v-btn>
      </div>
    </form>
  </v-dialog>
</template>

<style scoped>
.ask {
  display: grid;
  gap: var(--gap-3);
}
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
.ask .v-text-field {
  max-width: 360px;
}
.buttons {
  display: flex;
  gap: var(--gap-2);
}
</style>
