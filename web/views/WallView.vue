<script setup lang="ts">
import { computed, onUnmounted, ref } from 'vue'
import { useWall } from '../api/shelf'
import { duration, percent } from '../lib/format'
import { say } from '../lib/say'
import { byWaiting, share, type WallTray } from '../lib/shelf'

/** For a screen above the bench: read from across the shop. No names of customers, no numbers, no chats. */
const props = defineProps<{ isScreen?: boolean }>()
const emit = defineEmits<{ signOut: [] }>()

const wall = useWall()
const now = ref(Date.now())
const clock = setInterval(() => (now.value = Date.now()), 5_000)
onUnmounted(() => clearInterval(clock))
const trays = computed(() => wall.data.value?.trays ?? [])
const broken = computed(() => wall.data.value?.broken ?? 0)
const calls = computed(() => trays.value.filter((t) => t.waits.for === 'person').sort(byWaiting))
const going = computed(() => trays.value.filter((t) => t.waits.for === 'machine'))

function waiting(tray: WallTray): string {
  if (tray.waits.since === null) return say('wall.now')
  const seconds = Math.max(0, (now.value - Date.parse(tray.waits.since)) / 1000)
  // Minutes that are over; nobody counts seconds from across the shop.
  return seconds < 60 ? say('wall.now') : duration(Math.floor(seconds / 60) * 60)
}
function done(tray: WallTray): string {
  const part = share(tray.waits.progress)
  return part === null ? '' : percent(part)
}
</script>

<template>
  <div class="wall">
    <p v-if="wall.data.value === undefined" class="large soft" role="status">
      {{ wall.error.value ? wall.error.value.message : say('wall.looking') }}
    </p>
    <template v-else>
      <section :aria-label="say('shelf.person')">
        <h1><span aria-hidden="true">▲</span> {{ say('shelf.person') }}</h1>
        <p v-if="calls.length + broken === 0" class="large soft">{{ say('wall.nobody') }}</p>
        <ol v-else>
          <li v-if="broken > 0" class="call">
            <b class="tag slab">✕</b>
            <span class="what">{{ say('cupboard.calls_broken', { count: broken }) }}</span>
          </li>
          <li v-for="tray in calls" :key="tray.number" class="call">
            <b class="tag slab">{{ tray.waits.tag ?? tray.number }}</b>
            <span class="what">{{ tray.waits.text }}</span>
            <span class="since">{{ waiting(tray) }}</span>
          </li>
        </ol>
      </section>
      <section v-if="going.length > 0" class="machine" :aria-label="say('shelf.machine')">
        <h2><span aria-hidden="true">◷</span> {{ say('shelf.machine') }}</h2>
        <ul>
          <li v-for="tray in going" :key="tray.number">
            <b class="slab">{{ tray.waits.tag ?? tray.number }}</b> {{ tray.waits.text }}
            <span class="soft">{{ done(tray) }}</span>
          </li>
        </ul>
      </section>
    </template>
    <nav class="back small">
      <button v-if="props.isScreen" type="button" @click="emit('signOut')">{{ say('app.sign_out') }}</button>
      <RouterLink v-else to="/">{{ say('app.to_shelf') }}</RouterLink>
    </nav>
  </div>
</template>

<style scoped>
.wall {
  min-height: 100vh;
  padding: 3vh 3vw;
  display: grid;
  gap: 4vh;
  align-content: start;
}
h1 {
  font-size: clamp(1.5rem, 3vw, 3rem);
  margin-bottom: 2vh;
}
h2 {
  font-size: clamp(1.1rem, 1.8vw, 1.9rem);
  margin-bottom: 1vh;
}
ol,
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 1.4vh;
}
.call {
  display: grid;
  grid-template-columns: minmax(4.2em, auto) 1fr auto;
  gap: 2vw;
  align-items: center;
  padding: 1.4vh 1.4vw;
  background: var(--surface);
  border: 1px solid var(--line);
  border-left: 1vw solid var(--ribbon);
  font-size: clamp(1.25rem, 3vw, 3rem);
  line-height: 1.2;
}
.tag {
  font-size: 1.35em;
  white-space: nowrap;
}
.since {
  white-space: nowrap;
  color: var(--soft);
  font-size: 0.75em;
}
.machine ul {
  grid-template-columns: repeat(auto-fill, minmax(24em, 1fr));
  font-size: clamp(1rem, 1.6vw, 1.6rem);
}
.back {
  position: fixed;
  right: 1vw;
  bottom: 1vh;
}
.back a,
.back button {
  color: var(--soft);
  padding: 6px;
  text-decoration: underline;
  text-underline-offset: 3px;
}
.large {
  font-size: clamp(1.25rem, 3vw, 3rem);
}
</style>
