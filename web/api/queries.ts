import { computed, type Ref } from 'vue'
import { keepPreviousData, useMutation, useQuery, useQueryClient, type QueryClient } from '@tanstack/vue-query'
import { api, body, setToken, type Schemas } from './client'

const LIVE = 1_500

export function useSession() {
  return useQuery({
    queryKey: ['session'],
    queryFn: async () => {
      const session = await body(api.GET('/api/session'))
      setToken(session.token)
      return session
    },
    staleTime: Infinity,
  })
}

/** Takes over a new session; what the one before had read is forgotten. */
export function enter(client: QueryClient, session: Schemas['Session']): void {
  setToken(session.token)
  client.removeQueries({ predicate: (query) => query.queryKey[0] !== 'session' })
  client.setQueryData(['session'], session)
}

export function useShelf(enabled: Ref<boolean>) {
  return useQuery({
    queryKey: ['trays'],
    queryFn: () => body(api.GET('/api/trays')),
    select: (data) => data.trays,
    refetchInterval: LIVE,
    refetchIntervalInBackground: true,
    enabled,
  })
}

export function useTray(number: Ref<number>) {
  return useQuery({
    queryKey: computed(() => ['tray', number.value]),
    queryFn: () => body(api.GET('/api/trays/{number}', { params: { path: { number: number.value } } })),
    refetchInterval: (query) => (query.state.data?.waits.for === 'machine' ? 600 : LIVE),
  })
}

export function useReadiness(number: Ref<number>, enabled: Ref<boolean>) {
  return useQuery({
    queryKey: computed(() => ['readiness', number.value]),
    queryFn: () => body(api.GET('/api/trays/{number}/readiness', { params: { path: { number: number.value } } })),
    select: (data) => data.phones,
    refetchInterval: LIVE,
    enabled,
  })
}

export function useBench() {
  return useQuery({
    queryKey: ['bench'],
    queryFn: () => body(api.GET('/api/phones')),
    select: (data) => data.phones,
    refetchInterval: LIVE,
  })
}

/** @param state changes whenever the phone should be read anew */
/** What changes when a phone's holdings may have. */
export function phoneState(live: Schemas['Live'] | undefined): string {
  return `${live?.open}${live?.free_bytes}${live?.messenger?.number}`
}

export function useHoldings(serial: Ref<string>, state: Ref<string>) {
  return useQuery({
    queryKey: computed(() => ['holdings', serial.value, state.value]),
    queryFn: () => body(api.GET('/api/phones/{serial}/holdings', { params: { path: { serial: serial.value } } })),
    placeholderData: keepPreviousData,
    enabled: computed(() => serial.value !== ''),
    // Until the worker that looks has answered.
    refetchInterval: (query) => (query.state.data?.looking ? LIVE : false),
  })
}

/** The sealed backup that a tray's giving phone holds its chats in; null where they lie open. */
export function useSealedBackup(tray: Ref<Schemas['Tray']>) {
  const giving = computed(() => tray.value.phones.find((p) => p.role === 'gives'))
  const holdings = useHoldings(
    computed(() => giving.value?.live.serial ?? ''),
    computed(() => phoneState(giving.value?.live)),
  )
  return computed(() => holdings.data.value?.sealed ?? null)
}

export function useConversations(number: Ref<number>) {
  return useQuery({
    queryKey: computed(() => ['conversations', number.value]),
    queryFn: () => body(api.GET('/api/trays/{number}/conversations', { params: { path: { number: number.value } } })),
    staleTime: Infinity,
  })
}

export function useLosses(number: Ref<number>, stamp: Ref<string>) {
  return useQuery({
    queryKey: computed(() => ['losses', number.value, stamp.value]),
    queryFn: () => body(api.GET('/api/trays/{number}/losses', { params: { path: { number: number.value } } })),
  })
}

/** Chooses what becomes of something that the receiving side can't hold; the rehearsal is made anew. */
export function useChoose(number: Ref<number>) {
  return useTrayChange(number, ({ rule, choice }: { rule: string; choice: string }) =>
    body(
      api.PUT('/api/trays/{number}/choices/{rule}', {
        params: { path: { number: number.value, rule } },
        body: { choice },
      }),
    ),
  )
}

export function useArrival(number: Ref<number>, stamp: Ref<string>) {
  return useQuery({
    queryKey: computed(() => ['arrival', number.value, stamp.value]),
    queryFn: () => body(api.GET('/api/trays/{number}/arrival', { params: { path: { number: number.value } } })),
  })
}

export function useFindings(number: Ref<number>, conversation: Ref<number | null>) {
  return useQuery({
    queryKey: computed(() => ['findings', number.value, conversation.value]),
    queryFn: () =>
      body(
        api.GET('/api/trays/{number}/arrival/{id}', {
          params: { path: { number: number.value, id: conversation.value ?? 0 } },
        }),
      ),
    select: (data) => data.findings,
    enabled: computed(() => conversation.value !== null),
  })
}

export function useStandins() {
  return useQuery({
    queryKey: ['standins'],
    queryFn: () => body(api.GET('/api/standin/phones')),
    select: (data) => data.phones,
    refetchInterval: LIVE,
  })
}

export function useLog() {
  return useQuery({ queryKey: ['log'], queryFn: () => body(api.GET('/api/log')), select: (data) => data.entries })
}

/** Changes to a tray answer with the tray, which is shown at once. */
function useTrayChange<Input>(number: Ref<number>, change: (input: Input) => Promise<Schemas['Tray']>) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: change,
    onSuccess: async (tray) => {
      client.setQueryData(['tray', number.value], tray)
      await client.invalidateQueries({ queryKey: ['trays'] })
    },
  })
}

export function useAskForRun(number: Ref<number>) {
  return useTrayChange(number, (input: { kind: Schemas['RunKind']; confirmed_tag?: string; key?: string }) =>
    body(api.POST('/api/trays/{number}/runs', { params: { path: { number: number.value } }, body: input })),
  )
}

export function useGoOn(number: Ref<number>) {
  return useTrayChange(number, ({ id, key }: { id: string; key?: string }) =>
    body(
      api.POST('/api/trays/{number}/runs/{id}/go-on', {
        params: { path: { number: number.value, id } },
        ...(key === undefined ? {} : { body: { key } }),
      }),
    ),
  )
}

export function useStop(number: Ref<number>) {
  return useTrayChange(number, (id: string) =>
    body(api.POST('/api/trays/{number}/runs/{id}/stop', { params: { path: { number: number.value, id } } })),
  )
}

export function useGiveRoles(number: Ref<number>) {
  return useTrayChange(number, (tag: string) =>
    body(
      api.PUT('/api/trays/{number}/roles', { params: { path: { number: number.value } }, body: { giving_tag: tag } }),
    ),
  )
}

export function useHandOver(number: Ref<number>) {
  return useTrayChange(number, () =>
    body(api.POST('/api/trays/{number}/hand-over', { params: { path: { number: number.value } } })),
  )
}
