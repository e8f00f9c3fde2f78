<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { say } from '../../lib/say'

/** What is still to happen on the phone that has received; each point as it is seen there. */
const props = defineProps<{ tray: Schemas['Tray']; move: Schemas['Move'] }>()
const tag = computed(() => props.tray.phones.find((p) => p.role === 'receives')?.tag ?? '')
const isDone = computed(() => props.move.after_restore.every((point) => point.status === 'ready'))
const next = computed(() => props.move.after_restore.find((point) => point.status === 'to_do'))
</script>

<template>
  <section v-if="move.after_restore.length > 0" class="after" :aria-label="say('check.after', { tag })">
    <p v-if="isDone" class="soft">{{ say('check.after_done', { tag }) }}</p>
    <template v-else>
      <h3>{{ say('check.after', { tag }) }}</h3>
      <p v-if="next">{{ next.how }}</p>
      <ul>
        <li v-for="point in move.after_restore" :key="point.id" :class="{ soft: point.status === 'ready' }">
          <span aria-hidden="true">{{ point.status === 'ready' ? '✓' : point.status === 'unseen' ? '?' : '○' }}</span>
          {{ point.what }}
          <span class="away">{{ say(`point_state.${point.status}`) }}</span>
        </li>
      </ul>
      <p class="soft small">{{ say('check.after_how') }}</p>
    </template>
  </section>
</template>

<style scoped>
.after {
  display: grid;
  gap: var(--gap-2);
}
.after ul {
  list-style: none;
  margin: 0;
  padding: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 4px var(--gap-4);
}
.away {
  position: absolute;
  width: 1px;
  height: 1px;
  overflow: hidden;
  clip-path: inset(50%);
}
</style>
