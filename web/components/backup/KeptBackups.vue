<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../../api/client'
import { useKeptBackups } from '../../api/customers'
import { bytes, date, dateTime, phoneNumber } from '../../lib/format'
import { say } from '../../lib/say'

/** Which of the backups that the shop keeps is brought: found by what the customer knows, one of each messenger. */
const chosen = defineModel<Schemas['KeptBackup'][]>({ required: true })
const typed = ref('')
const asked = ref('')
const query = useKeptBackups(asked)
const found = computed(() => query.data.value?.pages.flatMap((page) => page.backups) ?? [])
const isChosen = (one: Schemas['KeptBackup']): boolean => chosen.value.some((other) => other.id === one.id)
function look(): void {
  asked.value = typed.value.trim()
}
/** Another backup of the same messenger takes the place of the one before; another customer's, that of them all. */
function pick(one: Schemas['KeptBackup']): void {
  const others = chosen.value.filter((other) => other.app !== one.app && other.customer_id === one.customer_id)
  chosen.value = isChosen(one) ? chosen.value.filter((other) => other.id !== one.id) : [...others, one]
}
</script>

<template>
  <section class="kept" :aria-label="say('kept.title')">
    <h2>{{ say('kept.title') }}</h2>
    <form class="find" role="search" @submit.prevent="look">
      <v-text-field v-model="typed" :label="say('kept.find')" :hint="say('kept.hint')" maxlength="120" type="search" />
      <v-btn type="submit" :loading="query.isFetching.value">{{ say('kept.do') }}</v-btn>
    </form>
    <p v-if="query.error.value" class="trouble" role="alert">{{ query.error.value.message }}</p>
    <p v-else-if="query.data.value === undefined" class="soft" role="status">{{ say('kept.looking') }}</p>
    <p v-else-if="found.length === 0" class="sheet pad" role="status">
      {{ say(asked === '' ? 'kept.none' : 'kept.no_match') }}
    </p>
    <ul v-else class="list">
      <li v-for="one in found" :key="one.id">
        <label class="sheet backup" :class="{ chosen: isChosen(one) }">
          <input type="checkbox" :checked="isChosen(one)" @change="pick(one)" />
          <span class="of">
            <b>{{ one.customer }}</b>
            <span class="soft small">{{ one.contact }} · {{ say('kept.tray', { tray: one.tray }) }}</span>
          </span>
          <span class="of">
            <span
              ><b>{{ one.edition }}</b> <bdi class="soft small">{{ phoneNumber(one.account) }}</bdi></span
            >
            <span class="soft small">{{
              say('kept.what', {
                messages: one.messages,
                conversations: one.conversations,
                size: bytes(one.attachment_bytes),
              })
            }}</span>
          </span>
          <span class="of when">
            <span>{{ dateTime(one.taken_at) }}</span>
            <span v-if="one.kept_until" class="soft small">{{
              say('kept.until', { at: date(new Date(Date.parse(one.kept_until) - 1).toISOString()) })
            }}</span>
          </span>
          <span v-if="one.lost > 0" class="lost small">{{ say('kept.lost', { count: one.lost }) }}</span>
        </label>
      </li>
    </ul>
    <v-btn
      v-if="query.hasNextPage.value"
      variant="text"
      :loading="query.isFetchingNextPage.value"
      @click="query.fetchNextPage()"
      >{{ say('kept.more') }}</v-btn
    >
  </section>
</template>

<style scoped>
.kept {
  display: grid;
  gap: var(--gap-2);
}
.list {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: var(--gap-2);
}
.backup {
  display: grid;
  grid-template-columns: 22px minmax(140px, 1fr) minmax(200px, 1.4fr) auto;
  gap: 2px var(--gap-4);
  align-items: center;
  padding: var(--gap-3) var(--gap-4);
  border-left: 5px solid var(--line);
  cursor: pointer;
}
.backup.chosen {
  border-left-color: var(--gives);
}
.backup input {
  accent-color: var(--ribbon);
  width: 18px;
  height: 18px;
}
.backup:focus-within {
  outline: 2px solid var(--ribbon);
  outline-offset: 1px;
}
.of {
  display: grid;
  min-width: 0;
  overflow-wrap: anywhere;
}
.when {
  text-align: end;
}
.lost {
  grid-column: 2 / -1;
  color: var(--missing);
}
</style>
