import { computed, type Ref } from 'vue'
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { api, body, type Schemas } from './client'
import { actOnBackupRun } from './runs'

export type CopyAsked = NonNullable<Schemas['CopyAsked']>
const at = (backup: string) => ({ params: { path: { backup } } })

/** Asked again while one is made, and often enough that a stick shows by itself. */
export function useCopies(backup: Ref<string>) {
  return useQuery({
    queryKey: computed(() => ['copies', backup.value]),
    queryFn: () => body(api.GET('/api/backups/{backup}/copies', at(backup.value))),
    refetchInterval: (query) => (query.state.data?.copies.some((copy) => copy.run !== null) ? 1_000 : 3_000),
    gcTime: 0,
  })
}

/** How much it is; null where what is chosen is none that could be asked for. */
export function useCopySum(backup: Ref<string>, asked: () => CopyAsked | null) {
  return useQuery({
    queryKey: computed(() => ['copy-sum', backup.value, asked()]),
    queryFn: () => body(api.POST('/api/backups/{backup}/copies/sum', { ...at(backup.value), body: asked() ?? {} })),
    enabled: computed(() => asked() !== null),
    placeholderData: keepPreviousData,
    gcTime: 0,
  })
}

/** Whether a page that somebody brings is of a copy of it. */
export function useComparePage(backup: () => string) {
  return useMutation({
    mutationFn: (code: string) =>
      body(api.POST('/api/backups/{backup}/copies/code', { ...at(backup()), body: { code } })),
  })
}

function useChange<Input>(backup: Ref<string>, act: (input: Input) => Promise<unknown>) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: act,
    onSettled: () =>
      Promise.all([
        client.invalidateQueries({ queryKey: ['copies', backup.value] }),
        client.invalidateQueries({ queryKey: ['cupboard'] }),
      ]),
  })
}

export function useTakeCopy(backup: Ref<string>) {
  return useChange(backup, (asked: CopyAsked) =>
    body(api.POST('/api/backups/{backup}/copies', { ...at(backup.value), body: asked })),
  )
}

export function useCopyAct(backup: Ref<string>) {
  return useChange(backup, ({ run, act }: { run: string; act: 'go-on' | 'pause' | 'cancel' }) =>
    actOnBackupRun(backup.value, run, act),
  )
}
