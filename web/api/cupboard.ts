import { computed, type Ref } from 'vue'
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { api, body, type Schemas } from './client'

export interface CupboardAsked {
  words: string
  shown: Schemas['Shown']
  sorted_by: Schemas['SortedBy']
  descending: boolean
  page: number
}

/** What it is looked for by goes in a body, into no log of addresses. */
export function useCupboard(asked: () => CupboardAsked) {
  return useQuery({
    queryKey: computed(() => ['cupboard', asked()]),
    queryFn: () => body(api.POST('/api/cupboard/find', { body: asked() })),
    placeholderData: keepPreviousData,
    // Others erase, keep and back up meanwhile.
    refetchInterval: 20_000,
    gcTime: 0,
  })
}

/** What of it calls somebody, for every page. */
export function useCupboardCalls() {
  return useQuery({
    queryKey: ['cupboard', 'calls'],
    queryFn: () => body(api.GET('/api/cupboard/calls')),
    refetchInterval: 30_000,
    gcTime: 0,
  })
}

/** Asked again while it is worked with. */
export function useFromCupboard(backup: Ref<string>) {
  return useQuery({
    queryKey: computed(() => ['cupboard', 'one', backup.value]),
    queryFn: () => body(api.GET('/api/cupboard/{backup}', { params: { path: { backup: backup.value } } })),
    refetchInterval: (query) => {
      const keeping = query.state.data?.keeping
      return keeping?.state === 'erasing' || (keeping?.run ?? null) !== null ? 1_000 : 20_000
    },
    gcTime: 0,
  })
}
