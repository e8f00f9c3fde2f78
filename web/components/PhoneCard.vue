<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { phoneState, useHoldings } from '../api/queries'
import { bytes, count, dateTime, phoneNumber } from '../lib/format'
import RoleMark from './RoleMark.vue'

/** One phone: tag, role, live state, and what it holds, read from the phone. */
const props = defineProps<{ phone: Schemas['TrayPhone'] }>()
const live = computed(() => props.phone.live)
const serial = computed(() => live.value.serial)
const state = computed(() => phoneState(live.value))
const holdings = useHoldings(serial, state)
const counts = computed(() => holdings.data.value?.counts ?? null)
const sealed = computed(() => holdings.data.value?.sealed ?? null)
const facts = computed(() => [
  { ok: live.value.plugged, word: live.value.plugged ? 'connected' : 'not connected' },
  { ok: live.value.unlocked, word: live.value.unlocked ? 'unlocked' : 'locked' },
  { ok: live.value.open, word: live.value.open ? 'lets this computer in' : 'does not let this computer in' },
])
</script>

<template>
  <section class="sheet card" :class="phone.role" :aria-label="`Phone ${phone.tag}, ${phone.role}`">
    <header>
      <span class="tag slab">{{ phone.tag }}</span>
      <RoleMark :role="phone.role" />
    </header>
    <div class="name">
      <b>{{ live.maker }} {{ live.model }}</b>
      <span class="soft small"
        >{{ live.platform === 'ios' ? 'iOS' : 'Android' }} <bdi>{{ live.os_version }}</bdi><template
          v-if="live.battery !== null"
        >
          · {{ live.battery }} %</template
        ></span
      >
    </div>
    <ul class="facts">
      <li v-for="fact in facts" :key="fact.word" :class="{ bad: !fact.ok }">{{ fact.word }}</li>
      <li v-if="live.free_bytes !== null">{{ bytes(live.free_bytes) }} free</li>
    </ul>
    <dl class="holds">
      <template v-if="counts">
        <dt>holds</dt>
        <dd v-if="counts.messages === 0"><b>no chats</b></dd>
        <dd v-else>
          <b>{{ count(counts.messages) }}</b> messages in {{ count(counts.conversations) }}
        </dd>
        <template v-if="counts.messages > 0">
          <dt>newest</dt>
          <dd>{{ dateTime(counts.newest_at) }}</dd>
        </template>
        <dt>number</dt>
        <dd>{{ phoneNumber(live.messenger?.number ?? counts.number) }}</dd>
      </template>
      <template v-else-if="sealed">
        <dt>holds</dt>
        <dd><b>a sealed backup</b>, {{ bytes(sealed.bytes) }}</dd>
        <dt>made</dt>
        <dd>{{ dateTime(sealed.made_at) }}</dd>
        <template v-if="live.messenger?.number">
          <dt>number</dt>
          <dd>{{ phoneNumber(live.messenger.number) }}</dd>
        </template>
      </template>
      <template v-else>
        <dt>holds</dt>
        <dd class="soft">
          {{ holdings.isPending.value || holdings.data.value?.looking ? 'looking…' : 'can’t be seen yet' }}
        </dd>
      </template>
    </dl>
  </section>
</template>

<style scoped>
.card {
  padding: var(--gap-3) var(--gap-3) var(--gap-3) var(--gap-4);
  display: grid;
  gap: 6px;
  border-left-width: 5px;
}
.card.gives {
  border-left-color: var(--gives);
}
.card.receives {
  border-left-color: var(--receives);
}
header {
  display: flex;
  align-items: center;
  justify-content: space-between;
}
.tag {
  font-size: 1.25rem;
}
.name {
  display: flex;
  flex-direction: column;
}
.facts {
  list-style: none;
  display: flex;
  flex-wrap: wrap;
  gap: 0 var(--gap-3);
  padding: 0;
  margin: 0;
  font-size: var(--t-small);
  color: var(--soft);
}
.facts li.bad {
  color: var(--missing);
  font-weight: 600;
}
.holds {
  display: grid;
  grid-template-columns: 56px 1fr;
  gap: 1px 8px;
  margin: 0;
  border-top: 1px solid var(--sunk);
  padding-top: 6px;
}
dt {
  color: var(--soft);
  font-size: var(--t-small);
}
dd {
  margin: 0;
}
</style>
