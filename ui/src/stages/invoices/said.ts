// What an invoice's sheet says of it as a whole.
import { computed, type Ref } from 'vue'
import type { InvoiceSheet } from '@/api/client'
import { stateWords } from './slips'

export function useSaid(inv: Ref<InvoiceSheet | undefined>, credit: Ref<boolean>) {
  const openFindings = computed(() => inv.value?.findings.filter((f) => f.ways.length > 0) ?? [])
  const differences = computed(
    () =>
      inv.value?.findings.filter((f) => !f.accepted && (f.verdict === 'outside' || f.verdict === 'waiting')).length ??
      0,
  )
  const headline = computed(() => {
    const i = inv.value
    if (!i) return ''
    if (i.questions.some((q) => q.waits && q.state === 'open')) return 'Waits for an answer'
    if (i.state === 'held' && openFindings.value.every((f) => f.kind === 'approval_missing')) return 'To be approved'
    if (i.state === 'held') return `Held: ${differences.value} difference${differences.value === 1 ? '' : 's'}`
    if (i.state === 'verified' && differences.value > 0) return 'Verified, not to be released yet'
    if (i.state === 'waiting' && i.findings.some((f) => f.kind === 'invoice_awaited')) return 'Waits for its invoice'
    if (i.state === 'waiting' && credit.value) return 'Waits for a return'
    return stateWords[i.state] ?? i.state
  })
  const lit = computed(
    () =>
      inv.value?.findings.filter((f) => f.line > 0 && f.verdict === 'outside' && !f.accepted).map((f) => f.line) ?? [],
  )
  const agreed = computed(() => {
    if (credit.value) return 'Everything agrees with what went back or was billed too much.'
    if (inv.value?.coded && inv.value.orders.length === 0) return 'Approved; it is about no order.'
    return inv.value?.lines.some((l) => l.ordered && l.ordered.level !== 'two_way')
      ? 'Everything agrees with the order and what was received.'
      : 'Everything agrees with the order.'
  })
  return { openFindings, differences, headline, lit, agreed }
}
