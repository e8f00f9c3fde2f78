import { type QueryClient, useMutation, useQueryClient } from '@tanstack/vue-query'
import { type Schemas } from './client'

export const LIVE = 1_500

/** Milliseconds until a choice that is being made is counted, and for how long the count holds. */
export const CALM = 250

export const STILL = 10_000

/** Milliseconds: who is signed in is noted once a minute. */
export const USERS = 15_000

/** Where a move is: its tray's number, and its place in it. */
export interface At {
  number: number
  place: number
}

export const path = (at: At) => ({ path: { number: at.number, place: at.place } })

/** The shelf comes when it comes: no dialog stands above what is done for as long as that takes. */
export function showTray(client: QueryClient, tray: Schemas['Tray']): void {
  client.setQueryData(['tray', tray.number], tray)
  void client.invalidateQueries({ queryKey: ['trays'] })
  void client.invalidateQueries({ queryKey: ['cupboard'] })
}

/** Changes to a tray answer with the tray, which is shown at once. */
export function useTrayChange<Input>(
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
    onSuccess: (tray) => showTray(client, tray),
  })
}
