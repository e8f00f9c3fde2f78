<script setup lang="ts">
import { ref, watch } from 'vue'
import type { Schemas } from '../../api/client'
import { useCompareSheet } from '../../api/keeping'
import { say } from '../../lib/say'

/** Somebody brings a sheet: does it tell what the records hold? */
const props = defineProps<{ tray: Schemas['Tray'] }>()
const compare = useCompareSheet(() => props.tray.number)
const code = ref('')
watch(code, () => compare.reset())
function send(): void {
  if (code.value.trim() !== '' && !compare.isPending.value) compare.mutate(code.value)
}
</script>

<template>
  <details class="code">
    <summary>{{ say('sheet_code.title') }}</summary>
    <form @submit.prevent="send">
      <v-text-field
        v-model="code"
        :label="say('sheet_code.label')"
        autocomplete="off"
        spellcheck="false"
        maxlength="40"
      />
      <v-btn type="submit" :disabled="code.trim() === ''" :loading="compare.isPending.value">{{
        say('sheet_code.do')
      }}</v-btn>
    </form>
    <p v-if="compare.data.value" :class="compare.data.value.same ? 'same' : 'other'" role="status">
      {{ compare.data.value.text }}
    </p>
    <template v-if="(compare.data.value?.sums ?? []).length > 0">
      <p class="soft">{{ say('sheet_code.hold') }}</p>
      <ul>
        <li v-for="one in compare.data.value?.sums" :key="one">{{ one }}</li>
      </ul>
    </template>
    <p v-if="compare.error.value" class="trouble" role="alert">{{ compare.error.value.message }}</p>
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
