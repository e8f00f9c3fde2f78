<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { useFromCupboard } from '../api/cupboard'
import ConversationLedger from '../components/chats/ConversationLedger.vue'
import { say } from '../lib/say'

/** A conversation of a backup in the cupboard, whatever tray it was made in. */
const route = useRoute()
const id = computed(() => String(route.params['backup']))
const query = useFromCupboard(id)
const one = computed(() => query.data.value)
const lacks = computed(() => {
  if (one.value === undefined) return query.error.value?.message ?? ''
  return one.value.look === null ? say('look.not_now') : ''
})
</script>

<template>
  <ConversationLedger
    :backup="one?.look ? id : null"
    :lacks="lacks"
    :is-closed="one?.look?.at_rest === true"
    :back="`/cupboard/${id}/look`"
    :back-title="say('look.back', { customer: one?.row.of.customer ?? '', edition: one?.row.of.edition ?? '' })"
  />
</template>
