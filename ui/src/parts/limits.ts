import type { Limit } from '@/api/client'
import { sent, show } from '@/parts/numbers'

interface Sort {
  kind: string
  name: string
  /** What its percentage is of; blank where only an amount counts. */
  of: string
  quantity: boolean
  sides: ('over' | 'under')[]
}

/** What can be limited. A side that is missing here is never asked for. */
export const sorts: Sort[] = [
  { kind: 'delivery', name: 'Delivered quantity', of: 'ordered', quantity: true, sides: ['over', 'under'] },
  { kind: 'invoiced_quantity', name: 'Invoiced quantity', of: 'received', quantity: true, sides: ['over'] },
  { kind: 'unit_price', name: 'Unit price', of: 'order’s price', quantity: false, sides: ['over', 'under'] },
  { kind: 'charge', name: 'Charge not on the order', of: 'order’s net', quantity: false, sides: ['over'] },
  { kind: 'tax_rounding', name: 'Tax rounding', of: '', quantity: false, sides: ['over', 'under'] },
  { kind: 'stated_total', name: 'Stated total', of: '', quantity: false, sides: ['over', 'under'] },
]

/** Limits as they are typed, by kind and side. */
export type TypedLimits = Record<string, { percent: string; absolute: string }>

const all = sorts.flatMap((s) => s.sides.map((side) => ({ kind: s.kind, side })))

export function typed(limits: Limit[]): TypedLimits {
  return Object.fromEntries(
    all.map(({ kind, side }) => {
      const l = limits.find((x) => x.kind === kind && x.side === side)
      return [`${kind} ${side}`, { percent: show(l?.percent), absolute: show(l?.absolute) }]
    }),
  )
}

const set = (limits: TypedLimits) =>
  all.flatMap(({ kind, side }) => {
    const t = limits[`${kind} ${side}`]
    return t && t.percent + t.absolute !== ''
      ? [{ kind, side, percent: sent(t.percent), absolute: sent(t.absolute) }]
      : []
  })

/** The limits that are set, as they are sent. */
export function untyped(limits: TypedLimits): Limit[] {
  return set(limits)
}

/** Where a limit stands in what is sent, which is where a refusal names it. */
export function placeOf(limits: TypedLimits, kind: string, side: string): number {
  return set(limits).findIndex((l) => l.kind === kind && l.side === side)
}
