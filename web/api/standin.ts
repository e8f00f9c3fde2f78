import type { Ref } from 'vue'
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { api, body, type Schemas } from './client'

/** What is done at the desk with the stand-in phones shows everywhere. */
function useDesk<Input>(
  serial: Ref<string>,
  act: (at: { params: { path: { serial: string } } }, input: Input) => Promise<unknown>,
) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (input: Input) => act({ params: { path: { serial: serial.value } } }, input),
    onSuccess: () => client.invalidateQueries(),
  })
}

export function useHands(serial: Ref<string>) {
  return useDesk(serial, (at, done: { act: string; typed?: string }) =>
    body(api.POST('/api/standin/phones/{serial}/acts', { ...at, body: done })),
  )
}

export function useCableSpeed(serial: Ref<string>) {
  return useDesk(serial, (at, speed: number) =>
    body(api.PUT('/api/standin/phones/{serial}/cable', { ...at, body: { megabytes_per_second: speed } })),
  )
}

/** What is to happen to it while nobody looks. */
export function usePlan(serial: Ref<string>) {
  return useDesk(serial, (at, plan: { fault: Schemas['Fault']; when: 'minutes' | 'copying'; amount: number }) =>
    body(api.POST('/api/standin/phones/{serial}/plan', { ...at, body: plan })),
  )
}

export function useForgetPlan(serial: Ref<string>) {
  return useDesk<undefined>(serial, (at) => body(api.DELETE('/api/standin/phones/{serial}/plan', at)))
}

export function useStandinSticks() {
  return useQuery({
    queryKey: ['standin-sticks'],
    queryFn: async () => (await body(api.GET('/api/standin/sticks'))).sticks,
    refetchInterval: 2_000,
  })
}

export function useHandleStick() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (path: { stick: string; hand: 'put-in' | 'pull-out' | 'pull-in-the-middle' }) =>
      body(api.POST('/api/standin/sticks/{stick}/{hand}', { params: { path } })),
    onSuccess: () => client.invalidateQueries(),
  })
}

export function useSecondDisk() {
  return useQuery({
    queryKey: ['second-disk'],
    queryFn: () => body(api.GET('/api/standin/second-disk')),
    refetchInterval: 5_000,
  })
}

export function useSwitchDisk() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (turn: 'on' | 'off') =>
      body(api.POST('/api/standin/second-disk/{turn}', { params: { path: { turn } } })),
    onSuccess: () => client.invalidateQueries(),
  })
}
