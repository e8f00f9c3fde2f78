import { useMutation, useQuery, useQueryClient, type QueryClient } from '@tanstack/vue-query'
import { language, type Language } from '../lib/say'
import { api, body, forgetAnswers, setToken, type Schemas } from './client'
import { LIVE, USERS } from './common'

export function useSession() {
  return useQuery({
    queryKey: ['session'],
    queryFn: async () => {
      const session = await body(api.GET('/api/session'))
      setToken(session.token)
      language.value = session.language
      return session
    },
    staleTime: Infinity,
    // A session that could not be asked for is asked for again, until it is known who is there.
    refetchInterval: (query) => (query.state.status === 'error' ? LIVE : false),
  })
}

/** Whether the clock that erasing goes by is in doubt. */
export function useClock() {
  return useQuery({ queryKey: ['clock'], queryFn: () => body(api.GET('/api/clock')), refetchInterval: USERS })
}

export function useConfirmClock() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: () => body(api.POST('/api/clock/confirm')),
    onSuccess: (clock) => client.setQueryData(['clock'], clock),
  })
}

/** Takes over a new session; what the one before had read is forgotten. */
export function enter(client: QueryClient, session: Schemas['Session']): void {
  setToken(session.token)
  forgetAnswers()
  language.value = session.language
  client.removeQueries({ predicate: (query) => query.queryKey[0] !== 'session' })
  client.setQueryData(['session'], session)
}

/** Changes the user's language. */
export function useSpeak() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (chosen: Language) => body(api.PUT('/api/session/language', { body: { language: chosen } })),
    onSuccess: (session) => {
      language.value = session.language
      client.setQueryData(['session'], session)
    },
  })
}

/** Signs in, with a fresh token first: the page may have been open since before the last session ended. */
export async function signIn(client: QueryClient, username: string, password: string): Promise<void> {
  setToken((await body(api.GET('/api/session'))).token)
  enter(client, await body(api.POST('/api/session', { body: { username, password } })))
}

export async function signOut(client: QueryClient): Promise<void> {
  enter(client, await body(api.DELETE('/api/session')))
}

/** @returns the session that goes on with the other password */
export function changePassword(password: string, another: string): Promise<Schemas['Session']> {
  return body(api.PUT('/api/session/password', { body: { password, another } }))
}
