// What a notice announced, held against what was counted.
import type { CountedOf, Notice } from '@/api/client'
import { added, show } from '@/parts/numbers'

export interface Against {
  no: number
  description: string
  unitName: string
  announced: string
  counted: string
  /** Counted less announced. */
  difference: string
  lots: string
}

/** What was counted less what was announced. */
const less = (counted: string, announced: string): string =>
  added([counted || '0', announced.startsWith('-') ? announced.slice(1) : `-${announced || '0'}`])

/** What was counted less what was announced, in words: "+2"; nothing where they are the same. */
export function apart(counted: string[], announced: string): string {
  const difference = less(added(counted), announced)
  return Number(difference) ? `${Number(difference) > 0 ? '+' : ''}${show(difference)}` : ''
}

/** A row for each order line that was announced or counted, lots of it together. */
export function against(lines: Notice['lines'], counted: CountedOf[] = []): Against[] {
  const rows = new Map<number, Against>()
  const of = (l: { no: number; description: string; unitName: string }) => {
    const row = rows.get(l.no) ?? {
      ...{ no: l.no, description: l.description, unitName: l.unitName },
      ...{ announced: '', counted: '0', difference: '', lots: '' },
    }
    rows.set(l.no, row)
    return row
  }
  for (const l of lines) {
    const row = of(l)
    row.announced = added([row.announced || '0', l.quantity])
    row.lots = [row.lots, l.lot].filter(Boolean).join(', ')
  }
  for (const c of counted) of(c).counted = c.quantity
  for (const row of rows.values()) row.difference = less(row.counted, row.announced)
  return [...rows.values()].sort((a, b) => a.no - b.no)
}
