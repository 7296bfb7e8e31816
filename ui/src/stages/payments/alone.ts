// A payment run of one invoice, whether it is due or not.
import { api, unwrap, type InvoiceSheet } from '@/api/client'
import { current, today } from '@/parts/session'

/** Makes it: of an invoice in instalments it pays what is due next. */
export const runOf = (inv: InvoiceSheet) =>
  unwrap(
    api.POST('/api/runs', {
      body: {
        dueBy: inv.due > today.value ? inv.due : today.value,
        payOn: current.value?.bankDay ?? today.value,
        items: [{ invoice: inv.number }],
      },
    }),
  )

/** What is said once a run is made. */
export const runMade = (run: { number: number; payments: number }, sum = '') =>
  `Run ${run.number} is made: ${run.payments === 1 ? '1 payment' : `${run.payments} payments`}${
    run.payments ? sum && `, ${sum}` : ': credit notes take off all of it'
  }. A second person approves it.`
