<script setup lang="ts">
import { computed } from 'vue'
import { useTheme } from 'vuetify'
import { mdiBellOffOutline, mdiBellOutline, mdiHelp, mdiLogoutVariant, mdiThemeLightDark } from '@mdi/js'
import type { Schemas } from '../api/client'
import { share, type TrayTag } from '../lib/shelf'
import TrayTagMark from './TrayTagMark.vue'
import WordMark from './WordMark.vue'

const props = defineProps<{ trays: TrayTag[]; user: NonNullable<Schemas['Session']['user']> }>()
const emit = defineEmits<{ signOut: []; help: [] }>()
const sound = defineModel<boolean>('sound', { required: true })
const theme = useTheme()

const open = computed(() => props.trays.filter((t) => !t.closed).sort((a, b) => a.number - b.number))
const isDark = computed(() => theme.global.current.value.dark)

function changeTheme(): void {
  const next = isDark.value ? 'light' : 'dark'
  localStorage.setItem('geschenk.theme', next)
  theme.change(next)
}

function title(tray: TrayTag): string {
  return `Tray ${tray.number}, ${tray.customer}: ${tray.waits.text}`
}
</script>

<template>
  <header class="bar">
    <RouterLink to="/" class="home" aria-label="Geschenk, to the shelf"><WordMark /></RouterLink>
    <nav class="strip" aria-label="Trays">
      <RouterLink
        v-for="(tray, n) in open"
        :key="tray.number"
        :to="`/trays/${tray.number}`"
        class="tray"
        :title="title(tray)"
        :aria-label="title(tray)"
      >
        <TrayTagMark :number="tray.number" :waits="tray.waits.for" size="small" />
        <span v-if="tray.waits.for === 'machine'" class="progress" aria-hidden="true">
          <svg viewBox="0 0 100 3" preserveAspectRatio="none">
            <rect :width="100 * (share(tray.waits.progress) ?? 0.06)" height="3" />
          </svg>
        </span>
        <span class="key" :data-key="n < 9 ? n + 1 : ''" aria-hidden="true"></span>
      </RouterLink>
    </nav>
    <nav class="more" aria-label="More">
      <RouterLink to="/stand-in" class="link standin">Stand-in desk</RouterLink>
      <RouterLink v-if="user.role === 'manager'" to="/log" class="link">Log</RouterLink>
      <v-btn
        :icon="sound ? mdiBellOutline : mdiBellOffOutline"
        size="small"
        variant="text"
        :aria-label="sound ? 'Sound is on: switch it off' : 'Sound is off: switch it on'"
        @click="sound = !sound"
      />
      <v-btn
        :icon="mdiThemeLightDark"
        size="small"
        variant="text"
        :aria-label="isDark ? 'Light colours' : 'Dark colours'"
        @click="changeTheme"
      />
      <v-btn :icon="mdiHelp" size="small" variant="text" aria-label="Keys and words" @click="emit('help')" />
      <span class="who clip">{{ user.display_name }}</span>
      <v-btn :icon="mdiLogoutVariant" size="small" variant="text" aria-label="Sign out" @click="emit('signOut')" />
    </nav>
  </header>
</template>

<style scoped>
.bar {
  display: flex;
  align-items: center;
  gap: var(--gap-4);
  height: 52px;
  padding: 0 var(--gap-4);
  background: var(--surface);
  border-bottom: 1px solid var(--line);
  position: sticky;
  top: 0;
  z-index: 5;
}
.home {
  display: flex;
  text-decoration: none;
}
.strip {
  display: flex;
  gap: 6px;
  flex: 1;
  min-width: 0;
  overflow-x: auto;
  padding: 4px 2px;
}
.tray {
  position: relative;
  display: flex;
  align-items: center;
  gap: 4px;
  text-decoration: none;
  color: var(--soft);
  padding-bottom: 3px;
}
.tray.router-link-active::after {
  content: '';
  position: absolute;
  left: 0;
  right: 14px;
  bottom: -2px;
  height: 3px;
  background: var(--ink);
}
/* Not text of the link: a hint for the eye. */
.key::after {
  content: attr(data-key);
  font-size: 0.75rem;
  color: var(--soft);
}
.progress {
  position: absolute;
  left: 7px;
  right: 15px;
  bottom: 4px;
  height: 3px;
  background: var(--line);
}
.progress svg {
  display: block;
  width: 100%;
  height: 3px;
  fill: var(--ribbon);
}
.more {
  display: flex;
  align-items: center;
  gap: 4px;
}
.more .v-btn {
  border: 0;
  width: 34px;
  height: 34px;
}
.link {
  color: var(--ink);
  text-decoration: none;
  padding: 6px 8px;
  border-radius: 4px;
  white-space: nowrap;
}
.link:hover,
.link.router-link-active {
  background: var(--sunk);
}
.standin {
  border: 1px dashed var(--soft);
}
.who {
  max-width: 120px;
  color: var(--soft);
  padding: 0 4px;
}
</style>
