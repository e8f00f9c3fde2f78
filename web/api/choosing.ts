import { computed, ref, watch, type Ref } from 'vue'
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { api, body, type Schemas } from './client'
import { CALM, STILL, type At, path, useTrayChange } from './common'

export function useLosses(at: Ref<At>, stamp: Ref<string>) {
  return useQuery({
    queryKey: computed(() => ['losses', at.value, stamp.value]),
    queryFn: () => body(api.GET('/api/trays/{number}/moves/{place}/losses', { params: path(at.value) })),
  })
}

/** Chooses what becomes of something that the receiving side can't hold; the rehearsal is made anew. */
export function useChoose(at: Ref<At>) {
  return useTrayChange(
    () => at.value.number,
    ({ rule, choice }: { rule: string; choice: string }, after) =>
      body(
        api.PUT('/api/trays/{number}/moves/{place}/choices/{rule}', {
          params: { path: { ...at.value, rule }, query: after(at.value.place) },
          body: { choice },
        }),
      ),
  )
}

/** @param stamp what changes when something else may be chosen */
export function useScope(at: Ref<At>, stamp: Ref<string>, enabled: Ref<boolean>) {
  return useQuery({
    queryKey: computed(() => ['scope', at.value, stamp.value]),
    queryFn: () => body(api.GET('/api/trays/{number}/moves/{place}/scope', { params: path(at.value) })),
    placeholderData: keepPreviousData,
    enabled,
  })
}

/** What a choice would bring, while it is being made. */
export function useScopeSum(at: Ref<At>, asked: Ref<Schemas['NewScope'] | null>, stamp: Ref<string>) {
  const calm = ref(asked.value)
  let waiting: ReturnType<typeof setTimeout> | undefined
  watch(asked, (now, before) => {
    clearTimeout(waiting)
    const settle = (): void => void (calm.value = now)
    if (before === null) settle()
    else waiting = setTimeout(settle, CALM)
  })
  return useQuery({
    queryKey: computed(() => ['scope-sum', at.value, stamp.value, calm.value]),
    queryFn: () =>
      body(
        api.POST('/api/trays/{number}/moves/{place}/scope/sum', {
          params: path(at.value),
          body: calm.value ?? {},
        }),
      ),
    placeholderData: keepPreviousData,
    enabled: computed(() => calm.value !== null),
    staleTime: STILL,
  })
}

export function useChooseScope(at: Ref<At>) {
  const client = useQueryClient()
  return useTrayChange(
    () => at.value.number,
    async (scope: Schemas['NewScope'], after) => {
      const tray = await body(
        api.PUT('/api/trays/{number}/moves/{place}/scope', {
          params: { ...path(at.value), query: after(at.value.place) },
          body: scope,
        }),
      )
      await client.invalidateQueries({ queryKey: ['scope', at.value] })
      return tray
    },
  )
}

/** What the shop usually leaves out. */
export function useKeepHabit(at: Ref<At>) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (habit: Schemas['Habit']) => body(api.PUT('/api/habit', { body: habit })),
    onSuccess: () => client.invalidateQueries({ queryKey: ['scope', at.value] }),
  })
}
