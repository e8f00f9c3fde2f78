import { computed, type Ref } from 'vue'
import { useInfiniteQuery, useMutation, useQueries, useQuery, useQueryClient } from '@tanstack/vue-query'
import { api, body, type Schemas } from './client'

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

/** A conversation of a backup. */
export interface Spot {
  backup: string
  id: number
}

/** Messages of one page of a ledger. */
export const PAGE = 200
const uncoveredAt = '/api/backups/{backup}/conversations/{id}/uncovered' as const

function readPage(of: Spot, page: number, isUncovered: boolean) {
  return body(
    api.GET('/api/backups/{backup}/conversations/{id}/messages', {
      params: {
        path: of,
        query: { from: page * PAGE + 1, limit: PAGE, ...(isUncovered ? { uncovered: 1 as const } : {}) },
      },
    }),
  )
}

/**
 * A conversation's messages page by page, each fetched once it is wanted: 200,000 of them cost as much as 200. What was
 * read stays as long as the conversation is looked at; what is uncovered is kept by itself, and goes when it is covered.
 */
export function useMessages(spot: Ref<Spot | null>, wanted: Ref<number[]>, isUncovered: Ref<boolean>) {
  const client = useQueryClient()
  const key = (page: number) => ['messages', spot.value, isUncovered.value, page]
  const pages = useQueries({
    queries: computed(() => {
      const of = spot.value
      if (of === null) return []
      const isOpen = isUncovered.value
      return wanted.value.map((page) => ({
        queryKey: key(page),
        queryFn: () => readPage(of, page, isOpen),
        staleTime: Infinity,
        gcTime: Infinity,
        refetchOnWindowFocus: false,
      }))
    }),
  })
  return {
    pages,
    /** What was read of a page, whether it is wanted now or was before. */
    read: (page: number) => client.getQueryData<Awaited<ReturnType<typeof readPage>>>(key(page)),
    /** Texts are gone from here at once. */
    cover: () =>
      client.removeQueries({ predicate: ({ queryKey }) => queryKey[0] === 'messages' && queryKey[2] === true }),
    /** Of what nobody looks at any more. */
    forget: () => client.removeQueries({ queryKey: ['messages'], type: 'inactive' }),
  }
}

/** The place of the first message of a day. */
export function usePlaceOfDay(spot: Ref<Spot | null>) {
  return useMutation({
    mutationFn: (day: string) =>
      body(
        api.GET('/api/backups/{backup}/conversations/{id}/place', {
          params: { path: spot.value ?? { backup: '', id: 0 }, query: { day } },
        }),
      ),
  })
}

/** @returns the lease under which it is uncovered; of a closed tray for a reason */
export function useUncover() {
  return useMutation({
    mutationFn: ({ spot, reason }: { spot: Spot; reason: string | null }) =>
      body(api.PUT(uncoveredAt, { params: { path: spot }, ...(reason === null ? {} : { body: { reason } }) })),
  })
}
