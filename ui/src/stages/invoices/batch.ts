// Invoices that are keyed many at once, as they are typed.
import { ref } from 'vue'
import type { BatchReport } from '@/api/client'
import { added, read, sent, show } from '@/parts/numbers'

/** What a batch is kept for, and goes on with under its number. */
export type Doing = 'try' | 'run' | undefined
export const goesOn = ref<Doing>()

export interface BatchLine {
  /** An order's number or a delivery note's, as it is typed. */
  of: string
  order: number
  note: string
  supplier: string
  /** Why it is none. */
  wrong: string
  number: string
  date: string
  total: string
  quantity: string
}
export const blankRow = (date = ''): BatchLine => ({
  of: '',
  order: 0,
  note: '',
  supplier: '',
  wrong: '',
  number: '',
  date,
  total: '',
  quantity: '',
})
export const freshBatch = () => ({
  rows: [blankRow()],
  controls: { count: '', quantity: '', total: '' },
})
export type DraftBatch = ReturnType<typeof freshBatch>

export const isBlank = (r: BatchLine) => !(r.of || r.number || r.total || r.quantity)

/** A batch as it is kept, to be typed on: with a row that is blank at its end. */
export function typedBatch(b: BatchReport): DraftBatch {
  const supplier = (i: number) => b.outcomes.find((o) => o.no === i + 1)?.supplier ?? ''
  return {
    controls: {
      count: b.controls.count,
      quantity: show(b.controls.quantity),
      total: show(b.controls.total),
    },
    rows: [
      ...b.rows.map((r, i) => ({
        ...r,
        of: r.note || (r.order ? String(r.order) : ''),
        supplier: supplier(i),
        wrong: '',
        total: show(r.total),
        quantity: r.quantity ? show(r.quantity) : '',
      })),
      blankRow(b.rows.at(-1)?.date),
    ],
  }
}

/** What is sent of it: figures as exact decimals, and what cannot be read as it was typed. */
export const batchBody = (d: DraftBatch, number: number, version = 0) => ({
  ...(number ? { number, version } : {}),
  controls: {
    count: sent(d.controls.count),
    quantity: sent(d.controls.quantity),
    total: sent(d.controls.total),
  },
  rows: d.rows.map((r) =>
    isBlank(r)
      ? { order: 0, note: '', number: '', date: '', total: '', quantity: '' }
      : {
          order: r.order,
          note: r.note,
          number: r.number.trim(),
          date: r.date,
          total: sent(r.total),
          quantity: sent(r.quantity),
        },
  ),
})

/** What the rows come to so far: how many, and their totals, with two places at least. */
export function comesTo(rows: BatchLine[]): { count: number; total: string } {
  const keyed = rows.filter((r) => !isBlank(r))
  return { count: keyed.length, total: added(['0.00', ...keyed.map((r) => read(r.total) ?? '0')]) }
}
