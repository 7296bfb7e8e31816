import { computed, watch, type Ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap } from '@/api/client'
import { filledLine, type DraftOrder } from './entry'

/** What can be ordered from the supplier of a draft; in a fresh one, where and for what this person orders is filled in. */
export function useChoices(draft: Ref<DraftOrder>, fresh: boolean) {
  const { data: choices } = useQuery({
    queryKey: ['order-choices', computed(() => draft.value.supplier)],
    queryFn: () => unwrap(api.GET('/api/orders/choices', { params: { query: { supplier: draft.value.supplier } } })),
    enabled: computed(() => draft.value.supplier !== ''),
  })
  /** Where and for what this person orders stands there already; it is typed over like anything else. */
  watch(choices, (c) => {
    if (!c || !fresh) return
    if (draft.value.place === '') draft.value.place = c.place
    for (const l of draft.value.lines) if (!filledLine(l) && l.budget === '') l.budget = c.budget
  })
  return choices
}
