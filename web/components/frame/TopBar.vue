<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { useTheme } from 'vuetify'
import { mdiBellOffOutline, mdiBellOutline, mdiHelp, mdiLogoutVariant, mdiThemeLightDark } from '@mdi/js'
import type { Schemas } from '../../api/client'
import { useCupboardCalls } from '../../api/cupboard'
import { useSpeak } from '../../api/session'
import { language, LANGUAGES, nextLanguage, say } from '../../lib/say'
import { share, type TrayTag } from '../../lib/shelf'
import PasswordDialog from '../people/PasswordDialog.vue'
import TrayTagMark from './TrayTagMark.vue'
import WordMark from './WordMark.vue'

const props = defineProps<{ trays: TrayTag[]; user: NonNullable<Schemas['Session']['user']>; desk: boolean }>()
const emit = defineEmits<{ signOut: []; help: [] }>()
const sound = defineModel<boolean>('sound', { required: true })
const theme = useTheme()
const next = computed(() => nextLanguage(language.value))
const speak = useSpeak()
const route = useRoute()
const strip = ref<HTMLElement | null>(null)
const passwordOpen = ref(false)
const calls = useCupboardCalls()
/** What is not whole comes before what goes. */
const called = computed(() => {
  const told = calls.data.value
  if (told === undefined) return null
  const { broken, due } = told
  if (broken > 0)
    return { isBroken: true, mark: '✕', count: String(broken), words: say('cupboard.calls_broken', { count: broken }) }
  if (told.place_is_late) return { isBroken: false, mark: '▲', count: '', words: say('place.calls_late') }
  return due > 0
    ? { isBroken: false, mark: '▲', count: String(due), words: say('cupboard.calls_due', { count: due }) }
    : null
})

const open = computed(() => props.trays.filter((t) => !t.closed).sort((a, b) => a.number - b.number))
const isDark = computed(() => theme.global.current.value.dark)

function changeTheme(): void {
  const next = isDark.value ? 'light' : 'dark'
  localStorage.setItem('geschenk.theme', next)
  theme.change(next)
}

function title(tray: TrayTag): string {
  return say('app.tray_title', { number: tray.number, customer: tray.customer, waits: tray.waits.text })
}

/** With many trays the one that is open is brought into sight. */
watch(
  () => [route.params['number'], open.value.length],
  async () => {
    await nextTick()
    strip.value?.querySelector('.router-link-active')?.scrollIntoView?.({ block: 'nearest', inline: 'nearest' })
  },
  { immediate: true },
)
</script>

<template>
  <header class="bar">
    <RouterLink to="/" class="home" :aria-label="say('app.home')"><WordMark /></RouterLink>
    <nav ref="strip" class="strip" :aria-label="say('app.trays')">
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
    <nav class="more" :aria-label="say('app.more')">
      <RouterLink
        to="/cupboard"
        class="link"
        :title="called?.words"
        :aria-label="called ? `${say('cupboard.title')}: ${called.words}` : undefined"
      >
        {{ say('cupboard.title') }}
        <b v-if="called" class="called" :class="{ broken: called.isBroken }">{{
          `${called.mark} ${called.count}`.trim()
        }}</b>
      </RouterLink>
      <RouterLink v-if="desk" to="/stand-in" class="link standin">{{ say('app.desk') }}</RouterLink>
      <RouterLink v-if="user.role === 'manager'" to="/figures" class="link">{{ say('figures.title') }}</RouterLink>
      <RouterLink v-if="user.role === 'manager'" to="/users" class="link">{{ say('users.title') }}</RouterLink>
      <RouterLink v-if="user.role === 'manager'" to="/log" class="link">{{ say('app.log') }}</RouterLink>
      <v-btn
        :icon="sound ? mdiBellOutline : mdiBellOffOutline"
        size="small"
        variant="text"
        :aria-label="sound ? say('app.sound_on') : say('app.sound_off')"
        @click="sound = !sound"
      />
      <v-btn
        :icon="mdiThemeLightDark"
        size="small"
        variant="text"
        :aria-label="isDark ? say('app.light') : say('app.dark')"
        @click="changeTheme"
      />
      <v-btn :icon="mdiHelp" size="small" variant="text" :aria-label="say('app.keys')" @click="emit('help')" />
      <button type="button" class="language" :lang="next" @click="speak.mutate(next)">
        {{ LANGUAGES[next] }}
      </button>
      <span v-if="speak.error.value" class="trouble" role="alert">{{ speak.error.value.message }}</span>
      <button
        type="button"
        class="who clip"
        :aria-label="say('password.open', { name: user.display_name })"
        @click="passwordOpen = true"
      >
        {{ user.display_name }}
      </button>
      <PasswordDialog v-model="passwordOpen" :name="user.display_name" />
      <v-btn
        :icon="mdiLogoutVariant"
        size="small"
        variant="text"
        :aria-label="say('app.sign_out')"
        @click="emit('signOut')"
      />
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
.called {
  margin-left: 2px;
  font-size: var(--t-small);
  color: var(--changed);
  font-variant-numeric: tabular-nums;
}
.called.broken {
  color: var(--missing);
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
  padding: 4px;
  min-height: 28px;
  text-decoration: underline;
  text-underline-offset: 3px;
}
.language {
  font-size: var(--t-small);
  padding: 4px 8px;
  min-height: 28px;
  text-decoration: underline;
  text-underline-offset: 3px;
}
</style>
