import { computed } from 'vue'
import { useInfiniteQuery } from '@tanstack/vue-query'
import { api, body } from './client'

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
