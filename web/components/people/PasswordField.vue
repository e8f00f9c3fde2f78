<script setup lang="ts">
/** A password that is known, or one that is to be: browsers fill in and offer accordingly. */
defineProps<{ label: string; isNew?: boolean }>()
const password = defineModel<string>({ required: true })
</script>

<template>
  <v-text-field
    v-model="password"
    :label="label"
    type="password"
    :autocomplete="isNew ? 'new-password' : 'current-password'"
    hide-details
  />
</template>
