<script setup lang="ts">
import { useHandleStick, useStandinSticks } from '../../api/standin'
import { bytes } from '../../lib/format'
import { say } from '../../lib/say'

/** The stand-in sticks, and the hands that put them in and pull them out. */
const query = useStandinSticks()
const hand = useHandleStick()
</script>

<template>
  <section class="sticks" :aria-label="say('desk.sticks')">
    <h2>{{ say('desk.sticks') }}</h2>
    <ul>
      <li v-for="stick in query.data.value ?? []" :key="stick.id">
        <b>{{ stick.label }}</b>
        <span class="soft small">{{
          stick.is_in
            ? say('desk.stick_is_in', { free: bytes(stick.free_bytes), size: bytes(stick.bytes) })
            : say('desk.stick_is_out')
        }}</span>
        <i class="small said">{{ stick.said === '' ? '' : say('desk.stick_says', { words: stick.said }) }}</i>
        <span class="acts">
          <v-btn v-if="!stick.is_in" size="small" @click="hand.mutate({ stick: stick.id, hand: 'put-in' })">{{
            say('desk.put_in')
          }}</v-btn>
          <template v-else>
            <v-btn size="small" @click="hand.mutate({ stick: stick.id, hand: 'pull-out' })">{{
              say('desk.pull_out')
            }}</v-btn>
            <v-btn size="small" variant="text" @click="hand.mutate({ stick: stick.id, hand: 'pull-in-the-middle' })">{{
              say('desk.pull_in_the_middle')
            }}</v-btn>
          </template>
        </span>
      </li>
    </ul>
    <p v-if="hand.error.value" class="trouble" role="alert">{{ hand.error.value.message }}</p>
  </section>
</template>

<style scoped>
.sticks ul {
  list-style: none;
  margin: 0;
  padding: 0;
  max-width: 900px;
}
.sticks li {
  display: grid;
  grid-template-columns: 120px 190px minmax(0, 1fr) auto;
  gap: var(--gap-3);
  align-items: center;
  min-height: 40px;
  border-bottom: 1px solid var(--line);
}
.acts {
  display: flex;
  gap: var(--gap-2);
}
</style>
