import { useQuery } from '@tanstack/vue-query'
import { api, body } from './client'

/** What the shop's jobs come to over some months; for the manager. */
export function useFigures(months: () => number) {
  return useQuery({
    queryKey: ['figures', months],
    queryFn: () => body(api.GET('/api/figures', { params: { query: { months: months() } } })),
  })
}
