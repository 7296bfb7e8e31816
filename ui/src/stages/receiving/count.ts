import type { Lot, OrderLine } from '@/api/client'
import { sent } from '@/parts/numbers'

/** What is counted of one order line, as it is typed. */
export interface Count {
  now: string
  refused: string
  /** Why it is refused; blank is for Lagoon to say, where it is more than was ordered. */
  reason: string
  remark: string
  close: boolean
  unit: string
  lots: Lot[]
}

/** A delivery as it is typed. */
export interface DeliveryDraft {
  note: string
  day: string
  place: string
  /** Another place than one of the list, this once. */
  elsewhere: string
  condition: string
  secondPart: boolean
  /** The goods came without a note. */
  noNote: boolean
  /** What the note says came in all, and why the lines do not add up to it. */
  stated: string
  statedWhy: string
  counts: Record<number, Count>
  photos: { sha256: string; picture: string }[]
  /** What was received of each line when the first of it was typed. */
  seen: Record<number, string>
}

export const blankDelivery = (day: string): DeliveryDraft => ({
  note: '',
  day,
  place: '',
  elsewhere: '',
  condition: '',
  secondPart: false,
  noNote: false,
  stated: '',
  statedWhy: '',
  counts: {},
  photos: [],
  seen: {},
})

/** What of a delivery was typed, in a few words. */
export function saidOf(d: Partial<DeliveryDraft>): string {
  const n = Object.values(d.counts ?? {}).filter(touched).length
  return [
    d.note ? `note ${d.note}` : d.noNote ? 'without a note' : 'no note yet',
    n === 1 ? '1 line counted' : n ? `${n} lines counted` : '',
  ]
    .filter(Boolean)
    .join(', ')
}

export const blankLot = (): Lot => ({ lot: '', quantity: '', bestBefore: '' })

export const blankCount = (l: OrderLine): Count => ({
  now: '',
  refused: '',
  reason: '',
  remark: '',
  close: false,
  unit: '',
  lots: l.lots ? [blankLot()] : [],
})

/** Whether anything was typed of a line. */
export const touched = (c: Count) =>
  c.now.trim() !== '' || c.refused.trim() !== '' || c.close || (c.remark ?? '').trim() !== ''

/** The lots of a count as they are sent. One lot without a quantity is all that came. */
export function lotsOf(c: Count | undefined, quantity: string): Lot[] {
  const typed = (c?.lots ?? []).filter((x) => x.lot.trim() !== '' || x.quantity.trim() !== '')
  return typed.map((x) => ({
    ...x,
    quantity: typed.length === 1 && x.quantity.trim() === '' ? quantity : sent(x.quantity) || '0',
  }))
}
