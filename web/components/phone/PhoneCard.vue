<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { bytes, dateTime, phoneNumber, time } from '../../lib/format'
import { say } from '../../lib/say'
import { platformWord } from '../../lib/words'
import RoleMark from './RoleMark.vue'

/** One phone: tag, role, state as last seen, and what each account on it holds. */
const props = defineProps<{ phone: Schemas['TrayPhone'] }>()
const live = computed(() => props.phone.live)
/** What was made of the chats, where nothing has them as they are now. */
const only = (account: Schemas['Account']): Schemas['Offer'] | null => {
  const first = account.holds?.offers?.[0]
  return first === undefined || first.made_at === null ? null : first
}
/** Of one that is away nobody knows whether it is locked, or lets this computer in. */
const facts = computed(() => (live.value.plugged ? seen.value : [{ ok: false, word: say('phone.not_connected') }]))
const seen = computed(() => [
  { ok: true, word: say('phone.connected') },
  { ok: live.value.unlocked, word: live.value.unlocked ? say('phone.unlocked') : say('phone.locked') },
  { ok: live.value.open, word: live.value.open ? say('phone.allowed') : say('phone.not_allowed') },
])
</script>

<template>
  <section
    class="sheet card"
    :class="phone.role"
    :aria-label="say('phone.label', { tag: phone.tag, role: say(`role.${phone.role}`) })"
  >
    <header>
      <span class="tag slab">{{ phone.tag }}</span>
      <RoleMark :role="phone.role" />
    </header>
    <div class="name">
      <b>{{ live.model === '' ? live.serial : `${live.maker} ${live.model}` }}</b>
      <span class="soft small"
        >{{ platformWord(live.platform) }} <bdi>{{ live.os_version }}</bdi><template v-if="live.battery !== null">
          · {{ say('phone.battery', { percent: live.battery }) }}</template
        ><template v-if="!live.fresh && live.seen_at">
          · {{ say('phone.old', { at: time(live.seen_at) }) }}</template
        ></span
      >
    </div>
    <template v-if="!live.on_bench">
      <p class="gone">{{ say('phone.gone') }}</p>
      <p v-if="phone.look_alike" role="status">{{ say('phone.look_alike', { serial: phone.look_alike }) }}</p>
    </template>
    <ul v-else class="facts">
      <li v-for="fact in facts" :key="fact.word" :class="{ bad: !fact.ok }">{{ fact.word }}</li>
      <li v-if="live.free_bytes !== null">{{ say('phone.free', { size: bytes(live.free_bytes) }) }}</li>
    </ul>
    <ul v-if="live.accounts && live.accounts.length > 0" class="accounts">
      <li v-for="a in live.accounts" :key="a.app">
        <b>{{ a.edition }}</b>
        <span class="soft small">{{
          a.number ? phoneNumber(a.number) : a.signed_out ? say('phone.signed_out') : say('phone.not_registered')
        }}</span>
        <span v-if="!a.known" class="soft">{{ say('phone.unknown_app', { name: a.edition }) }}</span>
        <template v-else-if="only(a)">
          <span>{{ say('phone.local_backup', { size: bytes(only(a)?.bytes ?? 0) }) }}</span>
          <span class="soft small">{{ dateTime(only(a)?.made_at ?? null) }}</span>
        </template>
        <template v-else-if="a.holds?.counts">
          <span v-if="a.holds.counts.messages === 0">{{ say('phone.no_chats') }}</span>
          <template v-else>
            <span>{{
              say('phone.holds', {
                messages: a.holds.counts.messages,
                conversations: a.holds.counts.conversations,
              })
            }}</span>
            <span class="soft small">{{ say('phone.newest', { at: dateTime(a.holds.counts.newest_at) }) }}</span>
          </template>
          <span v-if="a.holds.counts.lost > 0 || a.holds.counts.loss_uncounted" class="lost small">{{
            say('phone.lost', {
              count: a.holds.counts.lost,
              more: a.holds.counts.lost > 0 && a.holds.counts.loss_uncounted ? 'yes' : 'no',
            })
          }}</span>
        </template>
        <span v-else-if="!a.holds" class="soft">{{ say('phone.not_looked') }}</span>
        <span v-else class="soft">{{ a.holds.looking ? say('phone.looking') : say('phone.unreadable') }}</span>
      </li>
    </ul>
    <p v-else-if="live.on_bench" class="soft holds">
      {{ live.accounts === null ? say('phone.silent') : say('phone.no_app') }}
    </p>
  </section>
</template>

<style scoped>
.lost {
  color: var(--missing);
}
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
.accounts {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 6px;
}
.accounts li {
  display: flex;
  flex-direction: column;
  border-top: 1px solid var(--sunk);
  padding-top: 6px;
}
p.gone {
  color: var(--missing);
  font-weight: 600;
}
p.holds {
  display: block;
}
</style>
