<script setup lang="ts">
import { say } from '../../lib/say'

/** What can't be read of the phone that receives: told in numbers wherever it is about to be written over. */
defineProps<{ tag: string; lost: number; uncounted: boolean; isDone?: boolean }>()
</script>

<template>
  <section v-if="lost > 0 || uncounted" class="damage" role="status">
    <p>
      <b>{{ say(isDone ? 'phone.lost_was' : 'phone.lost_title', { count: lost, tag }) }}</b>
    </p>
    <p v-if="isDone">{{ say('phone.lost_kept', { more: uncounted ? 'yes' : 'no' }) }}</p>
    <p v-else>{{ say('phone.lost_how', { tag, more: uncounted ? 'yes' : 'no' }) }}</p>
  </section>
</template>

<style scoped>
.damage {
  padding: var(--gap-2) var(--gap-3);
  border-inline-start: 4px solid var(--missing);
  background: var(--sunk);
}
p {
  margin: 0;
}
</style>
