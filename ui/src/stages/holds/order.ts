// In which order what is held stands in its pile, and what is lost first.
import type { HoldsView, InvoiceSlip } from '@/api/client'
import { placeOf } from '@/parts/places'
import { distance, show } from '@/parts/numbers'

type Row = HoldsView['holds'][number]

/** Where a hold is looked at: with its invoice, or on its order. */
export const holdTo = (h: Row) => (h.hold.order ? placeOf.order(h.hold.order) : placeOf.held(h.hold.invoice))

/** The first day on which something is lost: the last day of a discount that can still be taken, else the day it is due. */
export const lostOn = (i: InvoiceSlip, today: string) =>
  Number(i.discount) > 0 && i.discountUntil >= today ? i.discountUntil : i.due

/** The same in words. */
export function loss(i: InvoiceSlip, today: string): string {
  const day = lostOn(i, today)
  if (day !== i.due) return `${show(i.discount)} off, ${distance(day, today)}`
  return day < today ? distance(day, today, 'overdue') : `due ${distance(day, today)}`
}

export const orders = [
  { value: 'lost', text: 'what is lost first' },
  { value: 'age', text: 'held longest' },
  { value: 'amount', text: 'largest amount' },
  { value: 'reason', text: 'reason' },
  { value: 'turn', text: 'whose turn' },
]

/** Slips in an order of these. */
export function sorted(slips: InvoiceSlip[], by: string, today: string): InvoiceSlip[] {
  const key: Record<string, (i: InvoiceSlip) => string> = {
    lost: (i) => lostOn(i, today),
    age: (i) => i.since,
    reason: (i) => i.summary,
    turn: (i) => i.turn,
  }
  const of = key[by]
  if (of) return slips.toSorted((a, b) => of(a).localeCompare(of(b)))
  return slips.toSorted((a, b) => Number(b.total) - Number(a.total))
}
