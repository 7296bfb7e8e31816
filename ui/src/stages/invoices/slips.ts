import type { InvoiceSlip } from '@/api/client'
import type { Slip } from '@/parts/slip'
import { distance, show } from '@/parts/numbers'

const states: Record<string, string> = {
  verified: 'verified',
  released: 'released',
  in_payment: 'in payment',
  paid: 'paid',
  void: 'void',
  refused: 'refused',
}

/** An invoice as a slip of a pile, under a base path. */
export function slipOf(i: InvoiceSlip, base: string, today: string): Slip {
  const right = i.hold ? `hold: ${i.hold}` : i.summary || (states[i.state] ?? i.state)
  return {
    to: `${base}/${i.number}`,
    verdict: i.verdict,
    title: i.supplier,
    figure: show(i.total),
    left: i.supplierNumber,
    mono: true,
    right: i.state === 'held' && !i.summary ? distance(i.due, today) : right,
  }
}
