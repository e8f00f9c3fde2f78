<script setup lang="ts">
import { ref, watch, type Ref } from 'vue'
import { say } from '../../lib/say'

/** Somebody brings paper with a check code: does it tell what the records hold? */
const props = defineProps<{
  title: string
  label: string
  compare: {
    mutate: (code: string) => void
    reset: () => void
    isPending: Ref<boolean>
    data: Ref<{ same: boolean; text: string } | undefined>
    error: Ref<Error | null>
  }
}>()
const { isPending, data, error } = props.compare
const code = ref('')
watch(code, () => props.compare.reset())
function send(): void {
  if (code.value.trim() !== '' && !isPending.value) props.compare.mutate(code.value)
}
</script>

<template>
  <details class="code">
    <summary>{{ title }}</summary>
    <form @submit.prevent="send">
      <v-text-field v-model="code" :label="label" autocomplete="off" spellcheck="false" maxlength="40" />
      <v-btn type="submit" :disabled="code.trim() === ''" :loading="isPending">{{ say('sheet_code.do') }}</v-btn>
    </form>
    <p v-if="data" :class="data.same ? 'same' : 'other'" role="status">{{ data.text }}</p>
    <slot />
    <p v-if="error" class="trouble" role="alert">{{ error.message }}</p>
  </details>
</template>

<style scoped>
summary {
  min-height: 28px;
  cursor: pointer;
  color: var(--soft);
}
form {
  display: flex;
  gap: var(--gap-3);
  align-items: center;
  padding: var(--gap-2) 0;
}
.v-text-field {
  max-width: 300px;
}
.same {
  color: var(--arrived);
  font-weight: 600;
}
.other {
  color: var(--missing);
  font-weight: 600;
}
</style>
