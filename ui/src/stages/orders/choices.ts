import { computed, watch, type Ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap, type StandingCharge } from '@/api/client'
import { companyQuery } from '@/api/queries'
import { show } from '@/parts/numbers'
import { filledLine, type DraftOrder } from './entry'

/** What can be ordered from the supplier of a draft; in a fresh one, where and for what this person orders is filled in. */
export function useChoices(draft: Ref<DraftOrder>, fresh: boolean) {
  const { data: frame } = useQuery(companyQuery)
  const taxOf = (kind: string) => frame.value?.charges.find((k) => k.name === kind)?.taxCode ?? ''
  const { data: choices } = useQuery({
    queryKey: ['order-choices', computed(() => draft.value.supplier)],
    queryFn: () => unwrap(api.GET('/api/orders/choices', { params: { query: { supplier: draft.value.supplier } } })),
    enabled: computed(() => draft.value.supplier !== ''),
  })
  /** Where and for what this person orders stands there already; it is typed over like anything else. */
  watch(choices, (c) => {
    if (!c || !fresh) return
    if (draft.value.place === '') draft.value.place = c.place
    const worth = (s: StandingCharge) => (s.percent ? `${show(s.percent)}%` : show(s.amount))
    const granted = c.standing.find((s) => s.kind === 'discount')
    if (draft.value.discount === '' && granted) draft.value.discount = worth(granted)
    if (draft.value.charges.length === 0)
      draft.value.charges = c.standing
        .filter((s) => s !== granted)
        .map((s) => ({ kind: s.kind, description: '', amount: worth(s), taxRate: taxOf(s.kind) }))
    for (const l of draft.value.lines) if (!filledLine(l) && l.budget === '') l.budget = c.budget
  })
  return choices
}
