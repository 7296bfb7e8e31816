// What is asked of budgets by more than one of their parts.
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap } from '@/api/client'

/** A budget month by month of a year. */
export const useBudgetMonths = (of: { code: string; year: string }) =>
  useQuery({
    queryKey: ['budget-months', () => of.code, () => of.year],
    queryFn: () =>
      unwrap(api.GET('/api/budget-years/{code}', { params: { path: { code: of.code }, query: { year: of.year } } })),
  })
