<script setup lang="ts">
import { computed, watch } from 'vue'
import type { Schemas } from '../api/client'
import { useHoldings } from '../api/queries'
import { bytes, count, dateTime, phoneNumber } from '../lib/format'

/** A phone that lies on the bench and may be given a role. */
const props = defineProps<{ live: Schemas['Live']; role: Schemas['Role'] | null }>()
const emit = defineEmits<{ give: []; receive: []; held: [counts: Schemas['Holdings']['counts']] }>()
const serial = computed(() => props.live.serial)
const state = computed(() => `${props.live.open}${props.live.free_bytes}${props.live.messenger?.number}`)
const holdings = useHoldings(serial, state)
const counts = computed(() => holdings.data.value?.counts ?? null)
watch(counts, (now) => emit('held', now), { immediate: true })
const name = computed(() => `${props.live.maker} ${props.live.model}`)
</script>

<template>
  <article class="sheet phone" :class="role" :aria-label="name">
    <div class="name">
      <b>{{ name }}</b>
      <span class="soft small"
        >{{ live.platform === 'ios' ? 'iOS' : 'Android' }} <bdi>{{ live.os_version }}</bdi> · {{ live.serial }}</span
      >
    </div>
    <div class="holds">
      <template v-if="counts">
        <p v-if="counts.messages > 0">
          <b>{{ count(counts.messages) }}</b> messages in {{ count(counts.conversations) }} conversations
        </p>
        <p v-else><b>No chats</b></p>
        <p class="soft small">
          {{ phoneNumber(live.messenger?.number ?? counts.number)
          }}<template v-if="counts.messages > 0"> · newest {{ dateTime(counts.newest_at) }}</template>
        </p>
      </template>
      <p v-else-if="holdings.isPending.value || holdings.data.value?.looking" class="soft">Looking at what it holds…</p>
      <template v-else-if="holdings.data.value?.sealed">
        <p><b>A sealed backup</b> of {{ bytes(holdings.data.value.sealed.bytes) }}</p>
        <p class="soft small">
          <template v-if="live.messenger?.number">{{ phoneNumber(live.messenger.number) }} · </template>made
          {{ dateTime(holdings.data.value.sealed.made_at) }}; its owner’s key opens it
        </p>
      </template>
      <template v-else>
        <p>Can’t be seen yet</p>
        <p class="soft small">{{ holdings.data.value?.why ?? 'The phone does not answer.' }}</p>
      </template>
    </div>
    <div class="buttons">
      <v-btn :aria-pressed="role === 'gives'" class="gives" @click="emit('give')">Gives</v-btn>
      <v-btn :aria-pressed="role === 'receives'" class="receives" @click="emit('receive')">Receives</v-btn>
    </div>
  </article>
</template>

<style scoped>
.phone {
  display: grid;
  grid-template-columns: minmax(180px, 0.8fr) minmax(220px, 1fr) auto;
  gap: var(--gap-4);
  align-items: center;
  padding: var(--gap-3) var(--gap-4);
  border-left: 5px solid var(--line);
}
.phone.gives {
  border-left-color: var(--gives);
}
.phone.receives {
  border-left-color: var(--receives);
}
.name {
  display: flex;
  flex-direction: column;
}
.buttons {
  display: flex;
  gap: 6px;
}
.v-btn.gives {
  color: var(--gives);
}
.v-btn.receives {
  color: var(--receives);
}
.v-btn.gives[aria-pressed='true'] {
  background: var(--gives);
  color: var(--background);
}
.v-btn.receives[aria-pressed='true'] {
  background: var(--receives);
  color: var(--background);
}
</style>
