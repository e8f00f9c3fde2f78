<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { dateTime } from '../../lib/format'
import { say } from '../../lib/say'

/** Who gives, as what the phones hold says it, with the reasons. */
const props = defineProps<{ proposal: NonNullable<Schemas['Tray']['proposal']> }>()
const reasons = computed(() => {
  const { there, other } = props.proposal
  const list: string[] = []
  if (there.messages > other.messages) list.push(say('proposal.more', { there: there.messages, other: other.messages }))
  if (there.newest_at !== null && (other.newest_at === null || there.newest_at > other.newest_at))
    list.push(
      other.newest_at === null
        ? say('proposal.newest_alone', { at: dateTime(there.newest_at) })
        : say('proposal.newest', { at: dateTime(there.newest_at), other: dateTime(other.newest_at) }),
    )
  if (props.proposal.same_number) list.push(say('proposal.same_number'))
  return list
})
</script>

<template>
  <div class="small proposal" :class="{ soft: proposal.agrees }">
    <p>{{ say('proposal.gives', { tag: proposal.gives }) }}</p>
    <ul>
      <li v-for="reason in reasons" :key="reason">{{ reason }}</li>
    </ul>
  </div>
</template>

<style scoped>
.proposal ul {
  margin: 0;
  padding-left: 1.2em;
}
</style>
