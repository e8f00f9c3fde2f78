<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useQueryClient } from '@tanstack/vue-query'
import { api, body, whenSignedOut } from './api/client'
import { enter, useSession, useShelf } from './api/queries'
import HelpOverlay from './components/HelpOverlay.vue'
import TopBar from './components/TopBar.vue'
import SignInView from './views/SignInView.vue'
import { useCalls } from './lib/calls'
import { useKeys } from './lib/keys'

const session = useSession()
const client = useQueryClient()
const router = useRouter()
const route = useRoute()
const user = computed(() => session.data.value?.user ?? null)
const shelf = useShelf(computed(() => user.value !== null))
const trays = computed(() => shelf.data.value ?? [])
const helpOpen = ref(false)
const { soundOn } = useCalls(trays)

whenSignedOut(() => void client.invalidateQueries({ queryKey: ['session'] }))

async function signOut(): Promise<void> {
  enter(client, await body(api.DELETE('/api/session')))
  await router.push('/')
}

useKeys({
  '?': () => (helpOpen.value = !helpOpen.value),
  '0': () => void router.push('/'),
  n: () => void router.push('/trays/new'),
  s: () => void router.push('/stand-in'),
  digit: (digit) => {
    const tray = trays.value.filter((t) => !t.closed).sort((a, b) => a.number - b.number)[digit - 1]
    if (tray && user.value) void router.push(`/trays/${tray.number}`)
  },
})

const lost = computed(() => shelf.isError.value && !shelf.isFetching.value)
watch(
  () => route.fullPath,
  () => (helpOpen.value = false),
)
</script>

<template>
  <v-app>
    <a class="skip" href="#main">To the work</a>
    <div v-if="session.isPending.value" class="starting" role="status">Opening the shop…</div>
    <SignInView v-else-if="user === null" />
    <template v-else>
      <TopBar v-model:sound="soundOn" :trays="trays" :user="user" @sign-out="signOut" @help="helpOpen = true" />
      <div v-if="lost" class="trouble lost" role="alert">
        The server can’t be reached. Work on the trays goes on; this page comes back by itself.
      </div>
      <main id="main" tabindex="-1">
        <RouterView />
      </main>
      <HelpOverlay v-model="helpOpen" />
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
