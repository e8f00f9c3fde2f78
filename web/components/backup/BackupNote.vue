<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Schemas } from '../../api/client'
import { useNoteBackup } from '../../api/keeping'
import { say } from '../../lib/say'

/** What colleagues wrote beside a kept backup. What somebody is typing is not written over by what comes meanwhile. */
const props = defineProps<{ number: number; kept: Schemas['Keep'] }>()
const write = useNoteBackup(() => props.number)
const typed = ref('')
watch(
  () => props.kept.note,
  (now, before) => {
    if (typed.value === (before ?? '')) typed.value = now
  },
  { immediate: true },
)
const isNew = computed(() => typed.value.trim() !== props.kept.note)
function save(): void {
  if (isNew.value && !write.isPending.value) write.mutate({ id: props.kept.id, text: typed.value.trim() })
}
</script>

<template>
  <form class="note" @submit.prevent="save">
    <v-textarea
      v-model="typed"
      rows="2"
      auto-grow
      maxlength="500"
      :label="say('cupboard.note')"
      :hint="say('cupboard.note_hint')"
      persistent-hint
    />
    <v-btn v-if="isNew" type="submit" :loading="write.isPending.value">{{ say('cupboard.note_do') }}</v-btn>
    <p v-if="write.error.value" class="trouble" role="alert">{{ write.error.value.message }}</p>
  </form>
</template>

<style scoped>
.note {
  display: grid;
  gap: var(--gap-2);
  justify-items: start;
}
.note .v-textarea {
  width: 100%;
}
</style>
