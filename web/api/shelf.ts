import { computed, type Ref } from 'vue'
import { keepPreviousData, useInfiniteQuery, useQuery } from '@tanstack/vue-query'
import { api, body } from './client'
import { LIVE } from './common'

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

export function useBench() {
  return useQuery({
    queryKey: ['bench'],
    queryFn: () => body(api.GET('/api/phones')),
    select: (data) => data.phones,
    refetchInterval: LIVE,
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

/** What each open tray waits for, without a name. */
export function useWall() {
  return useQuery({
    queryKey: ['wall'],
    queryFn: () => body(api.GET('/api/wall')),
    refetchInterval: LIVE,
    refetchIntervalInBackground: true,
  })
}
