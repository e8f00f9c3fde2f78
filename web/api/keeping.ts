import { type Ref } from 'vue'
import { useMutation } from '@tanstack/vue-query'
import { api, body } from './client'
import { useTrayChange } from './common'

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

export function useNoteBackup(number: () => number) {
  return useTrayChange(number, ({ id, text }: { id: string; text: string }) =>
    body(api.PUT('/api/backups/{backup}/note', { params: { path: { backup: id } }, body: { text } })),
  )
}

/** Under a password that its customer has typed. */
export function useLockBackup(number: () => number) {
  return useTrayChange(number, ({ id, password }: { id: string; password: string }) =>
    body(api.POST('/api/backups/{backup}/lock', { params: { path: { backup: id } }, body: { password } })),
  )
}

export function useUnlockBackup(number: () => number) {
  return useTrayChange(number, ({ id, password }: { id: string; password: string }) =>
    body(api.POST('/api/backups/{backup}/unlock', { params: { path: { backup: id } }, body: { password } })),
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
