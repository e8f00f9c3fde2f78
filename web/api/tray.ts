import { computed, type Ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { type Language } from '../lib/say'
import { api, body, type Schemas } from './client'
import type { paths } from './schema'
import { LIVE, type At, path, useTrayChange } from './common'

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

export function useCorrect(number: () => number) {
  return useTrayChange(number, (told: { customer: string; contact: string; language: Language }) =>
    body(api.PUT('/api/trays/{number}/customer', { params: { path: { number: number() } }, body: told })),
  )
}

type NewTray = NonNullable<paths['/api/trays']['post']['requestBody']>['content']['application/json']

export function openTray(asked: NewTray): Promise<Schemas['Tray']> {
  return body(api.POST('/api/trays', { body: asked }))
}
