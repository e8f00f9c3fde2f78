import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { api, body } from './client'

type Act = 'go-on' | 'pause' | 'cancel'

/** How things stand at the second place; asked each second while something is brought there. */
export function useSecondPlace() {
  return useQuery({
    queryKey: ['second-place'],
    queryFn: () => body(api.GET('/api/second-place')),
    refetchInterval: (query) => (query.state.data?.run ? 1_000 : 10_000),
    gcTime: 0,
  })
}

function usePlaceChange<Input>(change: (input: Input) => ReturnType<typeof leave>) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: change,
    onSuccess: (now) => client.setQueryData(['second-place'], now),
  })
}

/** Has all that is not there brought there now. */
export function useBringThere() {
  return usePlaceChange<undefined>(() => body(api.POST('/api/second-place/runs')))
}

export function useActThere() {
  return usePlaceChange((path: { id: string; act: Act }) =>
    body(api.POST('/api/second-place/runs/{id}/{act}', { params: { path } })),
  )
}

function leave() {
  return body(api.POST('/api/second-place/leave'))
}

/** Has the shop forget it, so that another one is begun. */
export function useLeavePlace() {
  return usePlaceChange<undefined>(leave)
}
