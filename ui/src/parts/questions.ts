// What colleagues ask and tell each other, as slips of a pile.
import { queryOptions } from '@tanstack/vue-query'
import { api, unwrap, type Question, type QuestionPile } from '@/api/client'
import { showInstant } from './numbers'
import { placeOf } from './places'
import type { Slip, SlipGroup } from './slip'

export const questionsQuery = queryOptions({
  queryKey: ['questions'],
  queryFn: () => unwrap(api.GET('/api/questions')),
})

/** Those who can be asked. */
export const colleaguesQuery = queryOptions({
  queryKey: ['colleagues'],
  queryFn: () => unwrap(api.GET('/api/colleagues')),
})

const slipOf = (q: Question, today: string, title: string, said: string): Slip => ({
  to: q.invoice ? placeOf.invoice(q.invoice) : placeOf.order(q.order),
  verdict: q.late ? 'outside' : 'waiting',
  title,
  figure: showInstant(q.at, today),
  left: q.invoice ? q.supplierNumber : String(q.order),
  mono: true,
  about: said,
})

/** What somebody is asked, about whatever document: it is seen in every stage, wherever they work. */
export const askedOfYou = (pile: QuestionPile | undefined, today: string): SlipGroup[] =>
  pile?.yours.length
    ? [
        {
          title: 'Asked of you',
          note: 'oldest first',
          slips: pile.yours.map((q) => slipOf(q, today, q.by, q.text)),
          empty: '',
        },
      ]
    : []

/** The groups of a pile: what somebody is asked, what was answered to them, and what waits too long, of invoices or of orders. */
export function questionGroups(pile: QuestionPile | undefined, of: 'invoice' | 'order', today: string): SlipGroup[] {
  const here = (questions: Question[] | undefined) => (questions ?? []).filter((q) => q[of])
  const others = [
    {
      title: 'Answered to you',
      slips: here(pile?.answers).map((q) => slipOf(q, today, q.lastBy ?? q.to, q.lastText ?? '')),
    },
    {
      title: 'Not answered yet',
      note: 'you asked',
      slips: here(pile?.unanswered).map((q) => slipOf(q, today, q.to, q.text)),
    },
  ]
    .filter((g) => g.slips.length > 0)
    .map((g) => ({ ...g, empty: '' }))
  return [...askedOfYou(pile, today), ...others]
}
