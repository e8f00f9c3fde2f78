import { computed, type Ref } from 'vue'
import { keepPreviousData, useInfiniteQuery, useQuery } from '@tanstack/vue-query'
import { api, body } from './client'

/** Who has been here before; their name goes in a body, into no log of addresses. */
export function useKnownCustomers(words: Ref<string>, enabled: Ref<boolean>) {
  return useQuery({
    queryKey: computed(() => ['customers', words.value]),
    queryFn: () => body(api.POST('/api/customers/find', { body: { words: words.value } })).then((r) => r.customers),
    enabled,
    placeholderData: keepPreviousData,
    gcTime: 0,
  })
}

/** Backups that are kept behind a hand-over; what they are looked for by goes in a body, into no log of addresses. */
export function useKeptBackups(words: Ref<string>) {
  return useInfiniteQuery({
    queryKey: computed(() => ['kept', words.value]),
    initialPageParam: undefined as number | undefined,
    queryFn: ({ pageParam }) =>
      body(
        api.POST('/api/backups/find', {
          body: { words: words.value, ...(pageParam === undefined ? {} : { behind: pageParam }) },
        }),
      ),
    getNextPageParam: (page) => page.behind ?? undefined,
    gcTime: 0,
  })
}

/** All that the shop knows of one. */
export function useCustomer(id: Ref<number>) {
  return useQuery({
    queryKey: computed(() => ['cupboard', 'customer', id.value]),
    queryFn: () => body(api.GET('/api/customers/{customer}', { params: { path: { customer: id.value } } })),
    refetchInterval: 20_000,
    gcTime: 0,
  })
}
