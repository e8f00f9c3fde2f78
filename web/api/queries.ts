import { computed, ref, watch, type Ref } from 'vue'
import {
  keepPreviousData,
  useInfiniteQuery,
  useMutation,
  useQuery,
  useQueryClient,
  type QueryClient,
} from '@tanstack/vue-query'
import { language, type Language } from '../lib/say'
import { api, body, forgetAnswers, setToken, type Schemas } from './client'

const LIVE = 1_500
/** Milliseconds until a choice that is being made is counted, and for how long the count holds. */
const CALM = 250
const STILL = 10_000
/** Milliseconds: who is signed in is noted once a minute. */
const USERS = 15_000

/** Where a move is: its tray's number, and its place in it. */
export interface At {
  number: number
  place: number
}

const path = (at: At) => ({ path: { number: at.number, place: at.place } })

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

/** What the earlier trays are behind that the shelf does not show; null where it shows all. */
export function useShelfEnd() {
  return useQuery({
    queryKey: ['trays'],
    queryFn: () => body(api.GET('/api/trays')),
    select: (data) => data.behind,
    enabled: false,
  })
}

/** Trays that were handed over long ago, page by page, once somebody asks for them. */
export function useEarlierTrays(behind: Ref<number | null>, enabled: Ref<boolean>) {
  return useInfiniteQuery({
    queryKey: computed(() => ['earlier', behind.value]),
    initialPageParam: undefined as number | undefined,
    queryFn: ({ pageParam }) =>
      body(api.GET('/api/trays', { params: { query: { behind: pageParam ?? behind.value ?? 0 } } })),
    getNextPageParam: (page) => page.behind ?? undefined,
    enabled: computed(() => enabled.value && behind.value !== null),
    placeholderData: keepPreviousData,
  })
}

export function useTray(number: Ref<number>) {
  return useQuery({
    queryKey: computed(() => ['tray', number.value]),
    queryFn: () => body(api.GET('/api/trays/{number}', { params: { path: { number: number.value } } })),
    refetchInterval: (query) => (query.state.data?.moves.some((m) => m.waits.for === 'machine') ? 600 : LIVE),
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

/** @param backup its id; null while there is none */
export function useConversations(backup: Ref<string | null>) {
  return useQuery({
    queryKey: computed(() => ['conversations', backup.value]),
    queryFn: () =>
      body(api.GET('/api/backups/{backup}/conversations', { params: { path: { backup: backup.value ?? '' } } })),
    enabled: computed(() => backup.value !== null),
    staleTime: Infinity,
  })
}

export function useLosses(at: Ref<At>, stamp: Ref<string>) {
  return useQuery({
    queryKey: computed(() => ['losses', at.value, stamp.value]),
    queryFn: () => body(api.GET('/api/trays/{number}/moves/{place}/losses', { params: path(at.value) })),
  })
}

/** Chooses what becomes of something that the receiving side can't hold; the rehearsal is made anew. */
export function useChoose(at: Ref<At>) {
  return useTrayChange(
    () => at.value.number,
    ({ rule, choice }: { rule: string; choice: string }, after) =>
      body(
        api.PUT('/api/trays/{number}/moves/{place}/choices/{rule}', {
          params: { path: { ...at.value, rule }, query: after(at.value.place) },
          body: { choice },
        }),
      ),
  )
}

/** @param stamp what changes when something else may be chosen */
export function useScope(at: Ref<At>, stamp: Ref<string>, enabled: Ref<boolean>) {
  return useQuery({
    queryKey: computed(() => ['scope', at.value, stamp.value]),
    queryFn: () => body(api.GET('/api/trays/{number}/moves/{place}/scope', { params: path(at.value) })),
    placeholderData: keepPreviousData,
    enabled,
  })
}

/** What a choice would bring, while it is being made. */
export function useScopeSum(at: Ref<At>, asked: Ref<Schemas['NewScope'] | null>, stamp: Ref<string>) {
  const calm = ref(asked.value)
  let waiting: ReturnType<typeof setTimeout> | undefined
  watch(asked, (now, before) => {
    clearTimeout(waiting)
    const settle = (): void => void (calm.value = now)
    if (before === null) settle()
    else waiting = setTimeout(settle, CALM)
  })
  return useQuery({
    queryKey: computed(() => ['scope-sum', at.value, stamp.value, calm.value]),
    queryFn: () =>
      body(
        api.POST('/api/trays/{number}/moves/{place}/scope/sum', {
          params: path(at.value),
          body: calm.value ?? {},
        }),
      ),
    placeholderData: keepPreviousData,
    enabled: computed(() => calm.value !== null),
    staleTime: STILL,
  })
}

export function useChooseScope(at: Ref<At>) {
  const client = useQueryClient()
  return useTrayChange(
    () => at.value.number,
    async (scope: Schemas['NewScope'], after) => {
      const tray = await body(
        api.PUT('/api/trays/{number}/moves/{place}/scope', {
          params: { ...path(at.value), query: after(at.value.place) },
          body: scope,
        }),
      )
      await client.invalidateQueries({ queryKey: ['scope', at.value] })
      return tray
    },
  )
}

/** What the shop usually leaves out. */
export function useKeepHabit(at: Ref<At>) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (habit: Schemas['Habit']) => body(api.PUT('/api/habit', { body: habit })),
    onSuccess: () => client.invalidateQueries({ queryKey: ['scope', at.value] }),
  })
}

/** @param check an earlier check; null for the newest */
export function useArrival(at: Ref<At>, check: Ref<number | null>, stamp: Ref<string>) {
  return useQuery({
    queryKey: computed(() => ['arrival', at.value, check.value, stamp.value]),
    queryFn: () =>
      body(
        api.GET('/api/trays/{number}/moves/{place}/arrival', {
          params: { ...path(at.value), query: check.value === null ? {} : { check: check.value } },
        }),
      ),
  })
}

/** Messages of a kind in all conversations, page by page; what they say where all was uncovered. */
export function useAcross(
  backup: Ref<string>,
  kind: Ref<Schemas['ByKind']>,
  uncovered: Ref<boolean>,
  enabled: Ref<boolean>,
) {
  return useInfiniteQuery({
    queryKey: computed(() => ['across', backup.value, kind.value, uncovered.value]),
    initialPageParam: undefined as number | undefined,
    queryFn: ({ pageParam }) =>
      body(
        api.GET('/api/backups/{backup}/across/kinds/{kind}', {
          params: {
            path: { backup: backup.value, kind: kind.value },
            query: {
              ...(uncovered.value ? { uncovered: 1 } : {}),
              ...(pageParam === undefined ? {} : { behind: pageParam }),
            },
          },
        }),
      ),
    getNextPageParam: (page) => page.behind ?? undefined,
    enabled,
    gcTime: 0,
  })
}

/** Who has been here before; their name goes in a body, into no log of addresses. */
export function useKnownCustomers(words: Ref<string>, enabled: Ref<boolean>) {
  return useQuery({
    queryKey: computed(() => ['customers', words.value]),
    queryFn: () => body(api.POST('/api/customers/find', { body: { words: words.value } })).then((r) => r.customers),
    enabled,
    placeholderData: keepPreviousData,
    gcTime: 0,
  })
}

/** Backups that are kept behind a hand-over; what they are looked for by goes in a body, into no log of addresses. */
export function useKeptBackups(words: Ref<string>) {
  return useInfiniteQuery({
    queryKey: computed(() => ['kept', words.value]),
    initialPageParam: undefined as number | undefined,
    queryFn: ({ pageParam }) =>
      body(
        api.POST('/api/backups/find', {
          body: { words: words.value, ...(pageParam === undefined ? {} : { behind: pageParam }) },
        }),
      ),
    getNextPageParam: (page) => page.behind ?? undefined,
    gcTime: 0,
  })
}

/** Messages in which words stand; asked only where all was uncovered. */
export function useFoundWords(backup: Ref<string>, words: Ref<string>, enabled: Ref<boolean>) {
  return useInfiniteQuery({
    queryKey: computed(() => ['words', backup.value, words.value]),
    initialPageParam: undefined as number | undefined,
    queryFn: ({ pageParam }) =>
      body(
        api.POST('/api/backups/{backup}/across/words', {
          params: { path: { backup: backup.value } },
          body: { words: words.value, ...(pageParam === undefined ? {} : { behind: pageParam }) },
        }),
      ),
    getNextPageParam: (page) => page.behind ?? undefined,
    enabled: computed(() => enabled.value && words.value !== ''),
    gcTime: 0,
    retry: false,
    refetchOnWindowFocus: false,
  })
}

export function useUncoverAll(backup: Ref<string>) {
  return useMutation({
    mutationFn: () =>
      body(api.PUT('/api/backups/{backup}/across/uncovered', { params: { path: { backup: backup.value } } })),
  })
}

/** A check held against an earlier one. */
export function useSinceCheck(at: Ref<At>, check: Ref<number>, earlier: Ref<number | null>) {
  return useQuery({
    queryKey: computed(() => ['since', at.value, check.value, earlier.value]),
    queryFn: () =>
      body(
        api.GET('/api/trays/{number}/moves/{place}/arrival/since', {
          params: { ...path(at.value), query: { check: check.value, earlier: earlier.value ?? 0 } },
        }),
      ),
    enabled: computed(() => earlier.value !== null),
  })
}

export function useFindings(at: Ref<At>, check: Ref<number>, conversation: Ref<number | null>) {
  return useQuery({
    queryKey: computed(() => ['findings', at.value, check.value, conversation.value]),
    queryFn: () =>
      body(
        api.GET('/api/trays/{number}/moves/{place}/arrival/{id}', {
          params: { path: { ...at.value, id: conversation.value ?? 0 }, query: { check: check.value } },
        }),
      ),
    select: (data) => data.findings,
    enabled: computed(() => conversation.value !== null),
  })
}

/** @param asked which pictures are drawn, and whether texts and pictures are shown */
export function useEyes(at: Ref<At>, asked: Ref<{ seed: number; uncovered: boolean }>, stamp: Ref<string>) {
  return useQuery({
    queryKey: computed(() => ['eyes', at.value, asked.value, stamp.value]),
    queryFn: () =>
      body(
        api.GET('/api/trays/{number}/moves/{place}/eyes', {
          params: {
            ...path(at.value),
            query: { seed: asked.value.seed, ...(asked.value.uncovered ? { uncovered: 1 } : {}) },
          },
        }),
      ),
    placeholderData: keepPreviousData,
  })
}

export function useUncoverEyes(at: Ref<At>) {
  return useMutation({
    mutationFn: (seed: number) =>
      body(
        api.PUT('/api/trays/{number}/moves/{place}/eyes/uncovered', { params: { ...path(at.value), query: { seed } } }),
      ),
  })
}

export function useTickEye(at: Ref<At>) {
  const client = useQueryClient()
  return useTrayChange(
    () => at.value.number,
    async ({ point, same }: { point: Schemas['EyePoint']; same: boolean }) => {
      const tray = await body(
        api.PUT('/api/trays/{number}/moves/{place}/eyes/{point}', {
          params: { path: { ...at.value, point } },
          body: { same },
        }),
      )
      await client.invalidateQueries({ queryKey: ['eyes', at.value] })
      return tray
    },
  )
}

export function useStandins() {
  return useQuery({
    queryKey: ['standins'],
    queryFn: () => body(api.GET('/api/standin/phones')),
    select: (data) => data.phones,
    refetchInterval: LIVE,
  })
}

export type LogAsked = { kind?: 'sign_in' | 'look' | 'work'; by?: string; tray?: number; day?: string }

/** Page by page: older ones are asked for when somebody wants them. Not asked again by itself, for reading is logged. */
export function useLog(asked: () => LogAsked) {
  return useInfiniteQuery({
    queryKey: ['log', computed(asked)],
    initialPageParam: undefined as number | undefined,
    queryFn: ({ pageParam }) =>
      body(
        api.GET('/api/log', {
          params: { query: { ...asked(), ...(pageParam === undefined ? {} : { before: pageParam }) } },
        }),
      ),
    getNextPageParam: (page) => (page.older ? page.entries.at(-1)?.id : undefined),
    refetchOnWindowFocus: false,
    refetchOnReconnect: false,
    gcTime: 0,
  })
}

/** What each open tray waits for, without a name. */
export function useWall() {
  return useQuery({
    queryKey: ['wall'],
    queryFn: () => body(api.GET('/api/wall')),
    select: (data) => data.trays,
    refetchInterval: LIVE,
    refetchIntervalInBackground: true,
  })
}

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

/** Changes to a tray answer with the tray, which is shown at once. */
function useTrayChange<Input>(
  number: () => number,
  change: (input: Input, after: (place: number) => { after: string }) => Promise<Schemas['Tray']>,
) {
  const client = useQueryClient()
  // What is asked for counts for the state that is shown: what somebody else has begun meanwhile is not begun twice.
  const after = (place: number): { after: string } => {
    const tray = client.getQueryData<Schemas['Tray']>(['tray', number()])
    return { after: tray?.moves.find((move) => move.place === place)?.run?.id ?? 'none' }
  }
  return useMutation({
    mutationFn: (input: Input) => change(input, after),
    onError: () => void client.invalidateQueries({ queryKey: ['tray', number()] }),
    // The shelf comes when it comes: no dialog stands above what is done for as long as that takes.
    onSuccess: (tray) => {
      client.setQueryData(['tray', number()], tray)
      void client.invalidateQueries({ queryKey: ['trays'] })
    },
  })
}

export function useAskForRun(at: Ref<At>) {
  return useTrayChange(
    () => at.value.number,
    (input: { kind: Schemas['RunKind']; confirmed_tag?: string; key?: string }, after) =>
      body(
        api.POST('/api/trays/{number}/moves/{place}/runs', {
          params: { ...path(at.value), query: after(at.value.place) },
          body: input,
        }),
      ),
  )
}

/** Has several accounts backed up, one after the other: each waits for its turn. */
export function useBackUp(number: Ref<number>) {
  return useTrayChange(
    () => number.value,
    // All of them at once: who goes elsewhere leaves none behind.
    (accounts: { place: number; offer?: string; key?: string }[], after) =>
      body(
        api.POST('/api/trays/{number}/backups', {
          params: { path: { number: number.value } },
          body: { accounts: accounts.map((one) => ({ ...one, ...after(one.place) })) },
        }),
      ),
  )
}

export function useGoOn(at: Ref<At>) {
  return useTrayChange(
    () => at.value.number,
    ({ id, key }: { id: string; key?: string }) =>
      body(
        api.POST('/api/trays/{number}/moves/{place}/runs/{id}/go-on', {
          params: { path: { ...at.value, id } },
          ...(key === undefined ? {} : { body: { key } }),
        }),
      ),
  )
}

/** Brings what the newest check found missing; rehearsed first, like every merge. */
export function useBringMissing(number: () => number) {
  return useTrayChange(number, (place: number, after) =>
    body(
      api.POST('/api/trays/{number}/moves/{place}/missing', {
        params: { ...path({ number: number(), place }), query: after(place) },
      }),
    ),
  )
}

/** Brings what a trial left for later; rehearsed first, like every merge. */
export function useBringRest(number: () => number) {
  return useTrayChange(number, (place: number, after) =>
    body(
      api.POST('/api/trays/{number}/moves/{place}/rest', {
        params: { ...path({ number: number(), place }), query: after(place) },
      }),
    ),
  )
}

/** What a run is of: a move of a tray, or a backup that a tray has made. */
export type RunOf = At | { number: number; backup: string }

/** Has a run rest, from where it can go on, or ends it: what it has done so far is removed then. */
export function useStop(of: Ref<RunOf>, act: 'pause' | 'cancel') {
  return useTrayChange(
    () => of.value.number,
    (id: string) => {
      const at = of.value
      if ('backup' in at) return actOnBackupRun(at.backup, id, act)
      const params = { path: { ...at, id } }
      return body(
        act === 'pause'
          ? api.POST('/api/trays/{number}/moves/{place}/runs/{id}/pause', { params })
          : api.POST('/api/trays/{number}/moves/{place}/runs/{id}/cancel', { params }),
      )
    },
  )
}

function actOnBackupRun(backup: string, id: string, act: 'go-on' | 'pause' | 'cancel') {
  return body(api.POST('/api/backups/{backup}/runs/{id}/{act}', { params: { path: { backup, id, act } } }))
}

/** Has a run that is of a backup go on. */
export function useGoOnWithBackup(number: () => number) {
  return useTrayChange(number, ({ backup, run }: { backup: string; run: string }) =>
    actOnBackupRun(backup, run, 'go-on'),
  )
}

/** Leaves an account out of the job, or takes it in again. */
export function useLeaveOut(at: Ref<At>) {
  return useTrayChange(
    () => at.value.number,
    (isOut: boolean) =>
      body(api.PUT('/api/trays/{number}/moves/{place}', { params: path(at.value), body: { left_out: isOut } })),
  )
}

export function useGiveRoles(number: Ref<number>) {
  return useTrayChange(
    () => number.value,
    (tag: string) =>
      body(
        api.PUT('/api/trays/{number}/roles', { params: { path: { number: number.value } }, body: { giving_tag: tag } }),
      ),
  )
}

export function useCompareSheet(number: () => number) {
  return useMutation({
    mutationFn: (code: string) =>
      body(api.POST('/api/trays/{number}/sheet-code', { params: { path: { number: number() } }, body: { code } })),
  })
}

export function useHandOver(number: Ref<number>) {
  return useTrayChange(
    () => number.value,
    (told: { keepUntil: string | null; open: string[] }) =>
      body(
        api.POST('/api/trays/{number}/hand-over', {
          params: { path: { number: number.value } },
          body: { keep_until: told.keepUntil, open: told.open },
        }),
      ),
  )
}

/** Ends a tray without a hand-over. */
export function useWithdraw(number: () => number) {
  return useTrayChange(number, (told: { number: string; keep: boolean }) =>
    body(api.POST('/api/trays/{number}/withdraw', { params: { path: { number: number() } }, body: told })),
  )
}

export function useCorrect(number: () => number) {
  return useTrayChange(number, (told: { customer: string; contact: string; language: Language }) =>
    body(api.PUT('/api/trays/{number}/customer', { params: { path: { number: number() } }, body: told })),
  )
}

/** Until when the backups are kept behind the hand-over. */
export function useKeep(number: () => number) {
  return useTrayChange(number, (day: string) =>
    body(api.PUT('/api/trays/{number}/keeping', { params: { path: { number: number() } }, body: { keep_until: day } })),
  )
}

/** @see EraseConfirmed: the tray's number as it was typed */
export function useErase(number: () => number) {
  return useTrayChange(number, (typed: string) =>
    body(api.POST('/api/trays/{number}/erase', { params: { path: { number: number() } }, body: { number: typed } })),
  )
}

export function useVerifyBackup(number: () => number) {
  return useTrayChange(number, (id: string) =>
    body(api.POST('/api/backups/{backup}/verify', { params: { path: { backup: id } } })),
  )
}

/** Keeps one backup until a day of its own. */
export function useKeepBackup(number: () => number) {
  return useTrayChange(number, ({ id, day }: { id: string; day: string }) =>
    body(api.PUT('/api/backups/{backup}/keeping', { params: { path: { backup: id } }, body: { keep_until: day } })),
  )
}

export function useEraseBackup(number: () => number) {
  return useTrayChange(number, ({ id, typed }: { id: string; typed: string }) =>
    body(api.POST('/api/backups/{backup}/erase', { params: { path: { backup: id } }, body: { number: typed } })),
  )
}

/** Opens a tray anew; for another phone that receives where one is named. */
export function useReopen(number: () => number) {
  return useTrayChange(number, (receiving: string) =>
    body(
      api.POST('/api/trays/{number}/reopen', {
        params: { path: { number: number() } },
        body: receiving === '' ? {} : { receiving },
      }),
    ),
  )
}
