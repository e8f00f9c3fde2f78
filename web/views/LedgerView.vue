<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { useTray } from '../api/tray'
import ConversationLedger from '../components/chats/ConversationLedger.vue'
import { say } from '../lib/say'

/** A conversation of what an account of a tray brings; which backup that is can change while it is looked into. */
const route = useRoute()
const number = computed(() => Number(route.params['number']))
const place = computed(() => Number(route.params['place']))
const tray = useTray(number)
const move = computed(() => tray.data.value?.moves.find((m) => m.place === place.value))
const backup = computed(() => move.value?.backup?.id ?? null)
const lacks = computed(() => {
  if (tray.data.value === undefined) return tray.error.value?.message ?? ''
  return backup.value === null ? say('ledger.no_backup') : ''
})
</script>

<template>
  <ConversationLedger
    :backup="backup"
    :lacks="lacks"
    :is-closed="tray.data.value?.closed === true"
    :back="`/trays/${number}/accounts/${place}/choose`"
    :back-title="say('ledger.back', { number, edition: move?.edition ?? '' })"
  />
</template>
