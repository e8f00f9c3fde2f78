<script setup lang="ts">
import type { Schemas } from '../../api/client'
import { dateTime, time } from '../../lib/format'
import { say } from '../../lib/say'

/** Where somebody is signed in just now; the one that looks is ended by signing out. */
defineProps<{ sessions: Schemas['SignIn'][]; name: string; busy: boolean }>()
const emit = defineEmits<{ end: [number] }>()
</script>

<template>
  <ul class="sessions" :aria-label="say('users.sessions_of', { name })">
    <li v-for="s in sessions" :key="s.number">
      <span
        >{{ say('users.session', { begun: dateTime(s.begun_at), address: s.address }) }}
        <span class="soft small">{{
          s.own ? say('users.own_session') : say('users.used', { at: time(s.used_at) })
        }}</span></span
      >
      <button
        v-if="!s.own"
        type="button"
        class="end"
        :disabled="busy"
        :aria-label="say('users.end_session', { name, begun: dateTime(s.begun_at), address: s.address })"
        @click="emit('end', s.number)"
      >
        {{ say('users.end') }}
      </button>
    </li>
  </ul>
</template>

<style scoped>
.sessions {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 2px;
}
li {
  display: flex;
  align-items: baseline;
  justify-content: space-between;
  gap: var(--gap-3);
}
.end {
  font-size: var(--t-small);
  min-height: 28px;
  padding: 2px 6px;
  text-decoration: underline;
  text-underline-offset: 3px;
}
</style>
