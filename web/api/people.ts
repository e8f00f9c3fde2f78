import { type Ref } from 'vue'
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { api, body, type Schemas } from './client'
import { USERS } from './common'

/** Who works here and who is signed in; for the manager. */
export function useUsers() {
  return useQuery({
    queryKey: ['users'],
    queryFn: () => body(api.GET('/api/users')),
    select: (data) => data.users,
    refetchInterval: USERS,
  })
}

/** Changes to users answer with all of them, which are shown at once. */
function useUserChange<Input>(change: (input: Input) => Promise<{ users: Schemas['User'][] }>) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: change,
    onSuccess: (users) => client.setQueryData(['users'], users),
    onError: () => void client.invalidateQueries({ queryKey: ['users'] }),
  })
}

type Told = { password: string; own_password: string }

export function useAddUser() {
  return useUserChange((user: { name: string; display_name: string; role: Schemas['UserRole'] } & Told) =>
    body(api.POST('/api/users', { body: user })),
  )
}

export function useGivePassword() {
  return useUserChange(({ name, ...told }: { name: string } & Told) =>
    body(api.PUT('/api/users/{name}/password', { params: { path: { name } }, body: told })),
  )
}

export function useLetSignIn() {
  return useUserChange(({ name, disabled }: { name: string; disabled: boolean }) =>
    body(api.PUT('/api/users/{name}', { params: { path: { name } }, body: { disabled } })),
  )
}

export function useEndSession() {
  return useUserChange((path: { name: string; number: number }) =>
    body(api.DELETE('/api/users/{name}/sessions/{number}', { params: { path } })),
  )
}

/** Where one is signed in oneself. */
export function useOwnSessions(enabled: Ref<boolean>) {
  return useQuery({
    queryKey: ['own-sessions'],
    queryFn: () => body(api.GET('/api/session/others')),
    select: (data) => data.sessions,
    refetchInterval: USERS,
    enabled,
  })
}

export function useEndOwnSession() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (number: number) => body(api.DELETE('/api/session/others/{number}', { params: { path: { number } } })),
    onSuccess: (sessions) => client.setQueryData(['own-sessions'], sessions),
    onError: () => void client.invalidateQueries({ queryKey: ['own-sessions'] }),
  })
}
