import { computed, type Ref } from 'vue'
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { api, body, type Schemas } from './client'
import { type At, path, useTrayChange } from './common'

/** @param check an earlier check; null for the newest */
export function useArrival(at: Ref<At>, check: Ref<number | null>, stamp: Ref<string>) {
  return useQuery({
    queryKey: computed(() => ['arrival', at.value, check.value, stamp.value]),
    queryFn: () =>
      body(
        api.GET('/api/trays/{number}/moves/{place}/arrival', {
          params: { ...path(at.value), query: check.value === null ? {} : { check: check.value } },
        }),
      ),
  })
}

/** A check held against an earlier one. */
export function useSinceCheck(at: Ref<At>, check: Ref<number>, earlier: Ref<number | null>) {
  return useQuery({
    queryKey: computed(() => ['since', at.value, check.value, earlier.value]),
    queryFn: () =>
      body(
        api.GET('/api/trays/{number}/moves/{place}/arrival/since', {
          params: { ...path(at.value), query: { check: check.value, earlier: earlier.value ?? 0 } },
        }),
      ),
    enabled: computed(() => earlier.value !== null),
  })
}

export function useFindings(at: Ref<At>, check: Ref<number>, conversation: Ref<number | null>) {
  return useQuery({
    queryKey: computed(() => ['findings', at.value, check.value, conversation.value]),
    queryFn: () =>
      body(
        api.GET('/api/trays/{number}/moves/{place}/arrival/{id}', {
          params: { path: { ...at.value, id: conversation.value ?? 0 }, query: { check: check.value } },
        }),
      ),
    select: (data) => data.findings,
    enabled: computed(() => conversation.value !== null),
  })
}

/** @param asked which pictures are drawn, and whether texts and pictures are shown */
export function useEyes(at: Ref<At>, asked: Ref<{ seed: number; uncovered: boolean }>, stamp: Ref<string>) {
  return useQuery({
    queryKey: computed(() => ['eyes', at.value, asked.value, stamp.value]),
    queryFn: () =>
      body(
        api.GET('/api/trays/{number}/moves/{place}/eyes', {
          params: {
            ...path(at.value),
            query: { seed: asked.value.seed, ...(asked.value.uncovered ? { uncovered: 1 } : {}) },
          },
        }),
      ),
    placeholderData: keepPreviousData,
  })
}

export function useUncoverEyes(at: Ref<At>) {
  return useMutation({
    mutationFn: (seed: number) =>
      body(
        api.PUT('/api/trays/{number}/moves/{place}/eyes/uncovered', { params: { ...path(at.value), query: { seed } } }),
      ),
  })
}

export function useTickEye(at: Ref<At>) {
  const client = useQueryClient()
  return useTrayChange(
    () => at.value.number,
    async ({ point, same }: { point: Schemas['EyePoint']; same: boolean }) => {
      const tray = await body(
        api.PUT('/api/trays/{number}/moves/{place}/eyes/{point}', {
          params: { path: { ...at.value, point } },
          body: { same },
        }),
      )
      await client.invalidateQueries({ queryKey: ['eyes', at.value] })
      return tray
    },
  )
}
