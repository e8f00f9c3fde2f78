import { computed, type Ref } from 'vue'
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { api, body } from './client'

/** The earlier backups that one can be held against; asked each second while that is done. */
export function useAgainst(backup: Ref<string>) {
  return useQuery({
    queryKey: computed(() => ['against', backup.value]),
    queryFn: () => body(api.GET('/api/backups/{backup}/against', { params: { path: { backup: backup.value } } })),
    refetchInterval: (query) => (query.state.data?.run ? 1_000 : 20_000),
    gcTime: 0,
  })
}

/** What came of it; asked once more when it was made anew. */
export function useBetween(backup: Ref<string>, earlier: Ref<string>, madeAt: Ref<string | null>) {
  return useQuery({
    queryKey: computed(() => ['between', backup.value, earlier.value, madeAt.value]),
    queryFn: () =>
      body(
        api.GET('/api/backups/{backup}/against/{earlier}', {
          params: { path: { backup: backup.value, earlier: earlier.value } },
        }),
      ),
    enabled: computed(() => madeAt.value !== null),
    retry: false,
    gcTime: 0,
  })
}

export function useHoldAgainst(backup: Ref<string>) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (earlier: string) =>
      body(
        api.POST('/api/backups/{backup}/against', { params: { path: { backup: backup.value } }, body: { earlier } }),
      ),
    onSuccess: (now) => client.setQueryData(['against', backup.value], now),
  })
}

/** Has what is under way go on, rest or end. */
export function useActOnHolding(backup: Ref<string>) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: ({ id, act }: { id: string; act: 'go-on' | 'pause' | 'cancel' }) =>
      body(api.POST('/api/backups/{backup}/runs/{id}/{act}', { params: { path: { backup: backup.value, id, act } } })),
    onSuccess: () => client.invalidateQueries({ queryKey: ['against', backup.value] }),
  })
}
