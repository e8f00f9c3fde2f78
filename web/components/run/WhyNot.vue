<script setup lang="ts">
/** Why the button beside it is grey; nothing where it is not. */
defineProps<{ because: string }>()
</script>

<template>
  <p v-if="because !== ''" class="why small" role="note">{{ because }}</p>
</template>

<style scoped>
.why {
  color: var(--soft);
  max-width: 44ch;
  margin: 0;
}
</style>
