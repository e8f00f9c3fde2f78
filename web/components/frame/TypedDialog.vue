<script setup lang="ts">
import { useId } from 'vue'
import { say } from '../../lib/say'
import WhyNot from '../run/WhyNot.vue'
import { vBeginHere } from '../../lib/focus'

/** What can't be undone is asked for in a dialog, and confirmed by typing what it is about. */
defineProps<{
  title: string
  /** of the field */
  label: string
  /** of the button that does it */
  act: string
  /** why it can't be pressed yet; empty where it can */
  why: string
  busy: boolean
  error: Error | null
}>()
const emit = defineEmits<{ confirm: [] }>()
const open = defineModel<boolean>('open', { required: true })
const typed = defineModel<string>('typed', { required: true })
const id = useId()
</script>

<template>
  <v-dialog v-model="open" :aria-labelledby="id">
    <form class="sheet pad ask" @submit.prevent="why === '' && !busy && emit('confirm')">
      <h2 :id="id">{{ title }}</h2>
      <slot />
      <v-text-field v-model="typed" v-begin-here :label="label" autocomplete="off" maxlength="20" />
      <p v-if="error" class="trouble" role="alert">{{ error.message }}</p>
      <div class="buttons">
        <v-btn type="submit" :disabled="why !== ''" :loading="busy">{{ act }}</v-btn>
        <v-btn variant="text" @click="open = false">{{ say('tray.keep') }}</v-btn>
      </div>
      <WhyNot :because="why" />
    </form>
  </v-dialog>
</template>

<style scoped>
.ask {
  display: grid;
  gap: var(--gap-3);
}
.ask .v-text-field {
  max-width: 360px;
}
.buttons {
  display: flex;
  gap: var(--gap-2);
}
</style>
