<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { useFromCupboard } from '../api/cupboard'
import AcrossChats from '../components/chats/AcrossChats.vue'
import ConversationTable from '../components/chats/ConversationTable.vue'
import { dateTime } from '../lib/format'
import { say } from '../lib/say'
import { ACROSS, type Across } from '../lib/words'

/** What is in a backup of the cupboard: its conversations, and all of a kind; what they say is covered. */
const route = useRoute()
const id = computed(() => String(route.params['backup']))
const query = useFromCupboard(id)
const one = computed(() => query.data.value)
const look = ref<Across | 'conversations'>('conversations')
const find = ref('')
const ledger = computed(() => `/cupboard/${id.value}/conversations`)
</script>

<template>
  <div class="page wide">
    <RouterLink :to="`/cupboard/${id}`" class="soft">‹ {{ say('copies.back') }}</RouterLink>
    <p v-if="one === undefined && query.error.value" class="trouble" role="alert">{{ query.error.value.message }}</p>
    <p v-else-if="one === undefined" class="soft" role="status">{{ say('cupboard.looking') }}</p>
    <template v-else>
      <header>
        <h1>{{ say('look.title', { customer: one.row.of.customer }) }}</h1>
        <p class="soft">
          {{ say('cupboard.of', { edition: one.row.of.edition, at: dateTime(one.row.of.taken_at) }) }} ·
          {{ say(one.look?.at_rest ? 'look.closed' : 'look.covered') }}
        </p>
      </header>
      <p v-if="one.look === null" class="sheet pad" role="status">{{ say('look.not_now') }}</p>
      <div v-else class="sheet">
        <div class="filters looks" role="group" :aria-label="say('across.what')">
          <button type="button" :aria-pressed="look === 'conversations'" @click="look = 'conversations'">
            {{ say('across.conversations') }}
          </button>
          <button v-for="kind in ACROSS" :key="kind" type="button" :aria-pressed="look === kind" @click="look = kind">
            {{ say(`across.${kind}`) }}
          </button>
        </div>
        <AcrossChats
          v-if="look !== 'conversations'"
          :ledger="ledger"
          :backup="id"
          :what="look"
          :closed="one.look.at_rest"
        />
        <template v-else>
          <v-text-field v-model="find" class="word" :label="say('app.find_title')" hide-details clearable />
          <ConversationTable :ledger="ledger" :backup="id" :find="find ?? ''" />
        </template>
      </div>
    </template>
  </div>
</template>

<style scoped>
.page {
  display: grid;
  gap: var(--gap-3);
}
.looks {
  padding: var(--gap-3) var(--gap-4);
}
.word {
  margin: 0 var(--gap-4) var(--gap-3);
  max-width: 380px;
}
</style>
