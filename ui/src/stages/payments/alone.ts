// A payment run of just the invoices that are chosen, whether they are due or not.
import { api, unwrap, type InvoiceSheet } from '@/api/client'
import { current, today } from '@/parts/session'

/** Makes it: of an invoice in instalments it pays what is due next. */
export const runOfAll = (all: { number: number; due: string }[]) =>
  unwrap(
    api.POST('/api/runs', {
      body: {
        dueBy: all.reduce((last, i) => (i.due > last ? i.due : last), today.value),
        payOn: current.value?.bankDay ?? today.value,
        items: all.map((i) => ({ invoice: i.number })),
      },
    }),
  )
export const runOf = (inv: InvoiceSheet) => runOfAll([inv])

/** What is said once a run is made. */
export const runMade = (run: { number: number; payments: number }, sum = '') =>
  `Run ${run.number} is made: ${run.payments === 1 ? '1 payment' : `${run.payments} payments`}${
    run.payments ? sum && `, ${sum}` : ': credit notes take off all of it'
  }. A second person approves it.`

/** Releases what is not released yet, and makes a run of just those that can be paid then. */
export async function releaseAndRun(all: { number: number; due: string; released: boolean }[]) {
  const held = all.filter((i) => !i.released).map((i) => i.number)
  const answer = held.length
    ? await unwrap(api.POST('/api/invoices/release', { body: { invoices: held } }))
    : { released: [], left: [] }
  const payable = all.filter((i) => i.released || answer.released.includes(i.number))
  return { ...answer, run: payable.length ? await runOfAll(payable) : undefined }
}
