import type { Booked, ReturnPreview } from '@/api/client'
import { show } from '@/parts/numbers'
import { placeOf } from '@/parts/places'
import { today } from '@/parts/session'

/** What a return asks for, when and why. */
export interface ReturnDraft {
  outcome: 'replacement' | 'credit'
  reason: string
  day: string
}

export const freshReturn = (): ReturnDraft => ({ outcome: 'credit', reason: '', day: today.value })

/** What it books and leaves open, in a sentence. */
export function returnBooks(p: ReturnPreview | undefined, outcome: ReturnDraft['outcome']): string {
  if (!p || Number(p.value) === 0) return 'Enter how much goes back.'
  const taken = `Takes ${show(p.value)} ${p.currency} out of stock and of goods received, not yet invoiced.`
  if (Number(p.credit) > 0) return `${taken} ${show(p.credit)} of it is invoiced: a credit note is expected for that.`
  return outcome === 'replacement'
    ? `${taken} The goods are expected again.`
    : `${taken} Nothing of it is invoiced yet.`
}

/** What is said once it is booked, with where to go from there. */
export function returned(booked: Booked): [string, { to: string; text: string }[]] {
  const others = booked.others ?? []
  return [
    others.length
      ? `Returns ${[booked.number, ...others].join(', ')} are booked, one of each delivery.`
      : `Return ${booked.number} is booked.`,
    [
      ...others.map((n) => ({ to: placeOf.delivery(n), text: `Return ${n}` })),
      ...(booked.entry ? [{ to: placeOf.entry(booked.entry), text: `Ledger entry ${booked.entry}` }] : []),
      ...booked.moves.map((n) => ({ to: placeOf.invoice(n), text: `Invoice ${n} was matched again` })),
    ],
  ]
}
