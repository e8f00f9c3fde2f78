<script setup lang="ts">
import { computed, onUnmounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useQueryClient } from '@tanstack/vue-query'
import { whenOtherLanguage, whenSignedOut } from './api/client'
import { forgetOldFailures, line } from './api/line'
import { signOut as endSession, useSession } from './api/session'
import { useShelf } from './api/shelf'
import HelpOverlay from './components/frame/HelpOverlay.vue'
import TopBar from './components/frame/TopBar.vue'
import NowhereView from './views/NowhereView.vue'
import SignInView from './views/SignInView.vue'
import WallView from './views/WallView.vue'
import { useCalls } from './lib/calls'
import { forgetAsked } from './lib/cupboard'
import { forgetDraft } from './lib/draft'
import { time } from './lib/format'
import { useIdle } from './lib/idle'
import { useKeys } from './lib/keys'
import { language, say } from './lib/say'

const session = useSession()
const client = useQueryClient()
const router = useRouter()
const route = useRoute()
const user = computed(() => session.data.value?.user ?? null)
const hasDesk = computed(() => session.data.value?.desk === true)
const isSignedIn = computed(() => user.value !== null)
/** A screen above the bench: it is shown one page and no other. */
const isWall = computed(() => user.value?.role === 'wall')
const isAtWork = computed(() => isSignedIn.value && !isWall.value)
const shelf = useShelf(isAtWork)
const trays = computed(() => (isAtWork.value ? (shelf.data.value ?? []) : []))
const helpOpen = ref(false)
const signOutTrouble = ref('')
const { soundOn } = useCalls(trays, isSignedIn)

whenSignedOut(() => void client.invalidateQueries({ queryKey: ['session'] }))
whenOtherLanguage(() => {
  if (client.isFetching({ queryKey: ['session'] }) === 0) void client.invalidateQueries({ queryKey: ['session'] })
})
watch(language, (now) => (document.documentElement.lang = now), { immediate: true })
// What the server said in the other one is asked for again.
watch(language, () => void client.invalidateQueries({ predicate: (query) => query.queryKey[0] !== 'session' }))

async function signOut(): Promise<void> {
  signOutTrouble.value = ''
  try {
    await endSession(client)
    forgetDraft()
    forgetAsked()
    await router.push('/')
  } catch (error) {
    signOutTrouble.value = say('app.sign_out_failed', { why: error instanceof Error ? error.message : '' })
  }
}

useKeys(
  {
    '?': () => (helpOpen.value = true),
    '0': () => void router.push('/'),
    n: () => void router.push('/trays/new'),
    b: () => void router.push('/bench'),
    c: () => void router.push('/cupboard'),
    s: () => void (hasDesk.value && router.push('/stand-in')),
    digit: (digit) => {
      const tray = trays.value.filter((t) => !t.closed).sort((a, b) => a.number - b.number)[digit - 1]
      if (tray) void router.push(`/trays/${tray.number}`)
    },
  },
  isAtWork,
)

/** Whoever signs in behind a session that ran out is not shown what somebody else looked for. */
watch(
  () => user.value?.name,
  (now, before) => before !== undefined && now !== before && forgetAsked(),
)
useIdle(isAtWork, () => void signOut())

const sweep = setInterval(() => forgetOldFailures(), 2_000)
onUnmounted(() => clearInterval(sweep))
/** Steady: it stands until all that is asked has been answered again. */
const lost = computed(() => {
  const now = line.value
  if (now === null) return ''
  const key = now.trouble === 'gone' ? 'app.lost' : 'app.troubled'
  return now.since === null ? say(`${key}_early`) : say(key, { at: time(new Date(now.since).toISOString()) })
})
/** Whatever address a screen on the wall is given, it is where it belongs. */
watch(isWall, (is) => is && void router.replace('/wall'), { immediate: true })
watch(
  () => route.fullPath,
  () => (helpOpen.value = false),
)
</script>

<template>
  <v-app>
    <a class="skip" href="#main">{{ say('app.skip') }}</a>
    <div v-if="session.data.value === undefined" class="starting" role="status">
      {{ lost === '' ? say('app.starting') : lost }}
    </div>
    <SignInView v-else-if="user === null" />
    <main v-else-if="isWall || route.name === 'wall'" id="main" tabindex="-1">
      <div v-if="signOutTrouble !== ''" class="trouble lost" role="alert">{{ signOutTrouble }}</div>
      <div v-if="lost !== ''" class="trouble lost" role="alert">{{ lost }}</div>
      <WallView :is-screen="isWall" @sign-out="signOut" />
    </main>
    <template v-else>
      <TopBar
        v-model:sound="soundOn"
        :trays="trays"
        :user="user"
        :desk="hasDesk"
        @sign-out="signOut"
        @help="helpOpen = true"
      />
      <div v-if="lost !== ''" class="trouble lost" role="alert">{{ lost }}</div>
      <div v-if="signOutTrouble !== ''" class="trouble lost" role="alert">{{ signOutTrouble }}</div>
      <main id="main" tabindex="-1">
        <NowhereView v-if="route.name === 'stand-in' && !hasDesk" />
        <RouterView v-else />
      </main>
      <HelpOverlay v-model="helpOpen" :desk="hasDesk" />
    </template>
  </v-app>
</template>

<style scoped>
main {
  outline: none;
  min-height: 0;
}
.starting {
  padding: var(--gap-8);
}
.lost {
  margin: var(--gap-3) var(--gap-6) 0;
}
.skip {
  position: absolute;
  left: -999px;
}
.skip:focus {
  left: 8px;
  top: 8px;
  z-index: 20;
  background: var(--surface);
  padding: 8px;
}
</style>
