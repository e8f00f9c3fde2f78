import '@fontsource-variable/source-sans-3'
import '@fontsource-variable/bitter'
import '@fontsource-variable/noto-sans-arabic'
import '@fontsource-variable/noto-sans-jp'
import { createApp } from 'vue'
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { ApiProblem } from './api/client'
import App from './App.vue'
import { router } from './router'
import { makeVuetify } from './styles/vuetify'
import './styles/main.css'

/** Milliseconds between two tries of what failed. */
const AGAIN = 3_000
const nonce = document.querySelector<HTMLMetaElement>('meta[name="style-nonce"]')?.content
const client = new QueryClient({
  defaultOptions: {
    queries: {
      // What the server says no to, it says no to again; only a lost connection is worth another try.
      retry: (failures, error) => failures < 2 && error instanceof ApiProblem && error.status === 0,
      refetchOnWindowFocus: true,
      // What failed comes back by itself as soon as it can, also where nothing else asks for it again.
      refetchInterval: (query) => {
        const error = query.state.error
        return error instanceof ApiProblem && (error.status === 0 || error.status >= 500) ? AGAIN : false
      },
      staleTime: 300,
      // The server is on this computer or beside it: whether the internet can be reached says nothing.
      networkMode: 'always',
    },
    mutations: { networkMode: 'always' },
  },
})

createApp(App).use(makeVuetify(nonce)).use(VueQueryPlugin, { queryClient: client }).use(router).mount('#app')
