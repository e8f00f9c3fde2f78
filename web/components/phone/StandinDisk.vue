<script setup lang="ts">
import { useSecondDisk, useSwitchDisk } from '../../api/standin'
import { say } from '../../lib/say'

/** The stand-in second disk, and the hand at its switch. */
const query = useSecondDisk()
const hand = useSwitchDisk()
</script>

<template>
  <section v-if="query.data.value?.is_made" class="disk" :aria-label="say('desk.second_disk')">
    <h2>{{ say('desk.second_disk') }}</h2>
    <p>
      <span class="soft small">{{ say(query.data.value.is_on ? 'desk.disk_on' : 'desk.disk_off') }}</span>
      <v-btn size="small" @click="hand.mutate(query.data.value.is_on ? 'off' : 'on')">{{
        say(query.data.value.is_on ? 'desk.switch_off' : 'desk.switch_on')
      }}</v-btn>
      <RouterLink to="/second-place">{{ say('place.title') }}</RouterLink>
    </p>
    <p v-if="hand.error.value" class="trouble" role="alert">{{ hand.error.value.message }}</p>
  </section>
</template>

<style scoped>
.disk p {
  display: flex;
  gap: var(--gap-3);
  align-items: center;
}
</style>
