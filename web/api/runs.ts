import { type Ref } from 'vue'
import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { api, body, type Schemas } from './client'
import { actOnImport } from './imports'
import { type At, path, showTray, useTrayChange } from './common'

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

/** What a run is of: a move of a tray, a backup that a tray has made, or an import. */
export type RunOf = At | { number: number; backup: string } | { number: number; import: string }

/** Has a run rest, from where it can go on, or ends it: what it has done so far is removed then. */
export function useStop(of: Ref<RunOf>, act: 'pause' | 'cancel') {
  const client = useQueryClient()
  return useMutation({
    mutationFn: async (id: string) => {
      const at = of.value
      if ('import' in at) client.setQueryData(['imports'], await actOnImport(at.import, act))
      else showTray(client, await ('backup' in at ? actOnBackupRun(at.backup, id, act) : stopOfMove(at, id, act)))
    },
    onError: () => void client.invalidateQueries({ queryKey: ['tray', of.value.number] }),
  })
}

function stopOfMove(at: At, id: string, act: 'pause' | 'cancel') {
  const params = { path: { ...at, id } }
  return body(
    act === 'pause'
      ? api.POST('/api/trays/{number}/moves/{place}/runs/{id}/pause', { params })
      : api.POST('/api/trays/{number}/moves/{place}/runs/{id}/cancel', { params }),
  )
}

export function actOnBackupRun(backup: string, id: string, act: 'go-on' | 'pause' | 'cancel') {
  return body(api.POST('/api/backups/{backup}/runs/{id}/{act}', { params: { path: { backup, id, act } } }))
}

/** Has a run that is of a backup go on. */
export function useGoOnWithBackup(number: () => number) {
  return useTrayChange(number, ({ backup, run }: { backup: string; run: string }) =>
    actOnBackupRun(backup, run, 'go-on'),
  )
}

/** Says of a step that no phone shows that it is done, was not done after all, or is undone again. */
export function useTellStep(at: Ref<At>) {
  return useTrayChange(
    () => at.value.number,
    ({ step, said }: { step: string; said: 'done' | 'taken-back' | 'undone' }) =>
      body(
        api.POST('/api/trays/{number}/moves/{place}/told/{step}/{said}', {
          params: { path: { ...at.value, step, said } },
        }),
      ),
  )
}
