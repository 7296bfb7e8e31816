// What is asked of budgets by more than one of their parts.
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap } from '@/api/client'
import { show } from '@/parts/numbers'

/** A budget month by month of a year. */
export const useBudgetMonths = (of: { code: string; year: string }) =>
  useQuery({
    queryKey: ['budget-months', () => of.code, () => of.year],
    queryFn: () =>
      unwrap(api.GET('/api/budget-years/{code}', { params: { path: { code: of.code }, query: { year: of.year } } })),
  })

/** A sum of a budget as it stands in a table: nothing where it is not said, a dash for none. */
export const zero = (text: string | undefined) => (text === undefined ? '' : Number(text) === 0 ? '–' : show(text))
