import { computed } from 'vue'
import { api, unwrap, type Candidate, type Finding, type InvoiceSheet } from '@/api/client'
import { showDay } from '@/parts/numbers'
import { today } from '@/parts/session'

export type Ask = 'refuse' | 'void' | 'back' | 'due'

/** Says whose an invoice is, which order an invoice is about, or which line of one the line of a finding is. */
export const tie = (number: number, version: number, finding: Finding, { supplier, order, line }: Candidate) =>
  unwrap(
    api.POST('/api/invoices/{number}/tie', {
      params: { path: { number } },
      body: {
        version,
        ...(supplier ? { supplier } : {}),
        ...(order ? { order } : {}),
        ...(line ? { line: finding.line, orderLine: line } : {}),
      },
    }),
  )

/** The other due date that an invoice could be paid by: the one that it states, or the one that the terms make. */
export function dueOf(inv: InvoiceSheet | undefined) {
  if (!inv?.dueStated) return undefined
  const stated = inv.due !== inv.dueStated
  return { stated, day: stated ? showDay(inv.dueStated, today.value) : 'the day that the terms make' }
}

/** What is asked before something is done to an invoice of a version, and what then is. */
export function useAsks(
  number: number,
  what: () => string,
  version: () => number,
  letter: () => { to: string; text: string } | undefined,
  due: () => { stated: boolean; day: string } | undefined,
) {
  const path = { params: { path: { number } } }
  return computed(() => {
    const body = (reason: string) => ({ ...path, body: { reason, version: version() } })
    const the = `${what()} ${number}`
    return {
      refuse: {
        title: 'Refuse to the supplier.',
        books: `Books nothing. The ${what().toLowerCase()} ends here and frees what it claimed.${
          letter()?.to ? '' : ' No mail address of the supplier is known: tell it yourself.'
        }`,
        letter: letter(),
        label: 'Reason',
        action: `Refuse the ${what().toLowerCase()}`,
        run: (reason: string, tell: boolean) =>
          unwrap(api.POST('/api/invoices/{number}/refuse', { ...path, body: { reason, version: version(), tell } })),
        done: `${the} is refused.`,
      },
      void: {
        title: 'Make void.',
        books: 'Takes back its ledger entry by a counter-entry; what it used is open again.',
        label: 'Reason',
        action: 'Make void',
        run: (reason: string) => unwrap(api.POST('/api/invoices/{number}/void', body(reason))),
        done: `${the} is void; its entry was taken back.`,
      },
      due: {
        title: due()?.stated ? 'Pay it on the day that it states.' : 'Pay it by our terms again.',
        books: `Books nothing. It is due on ${due()?.day ?? ''}.`,
        label: 'Why',
        action: due()?.stated ? 'Take the stated day' : 'Take our day',
        run: (note: string) =>
          unwrap(
            api.POST('/api/invoices/{number}/due', {
              ...path,
              body: { stated: due()?.stated ?? true, note, version: version() },
            }),
          ),
        done: `${the} is due on another day.`,
      },
      back: {
        title: 'Take the release back.',
        books: 'Books nothing. The invoice is verified, and is paid only once it is released again.',
        label: 'Reason',
        action: 'Take it back',
        run: (reason: string) => unwrap(api.POST('/api/invoices/{number}/take-back-release', body(reason))),
        done: `The release of invoice ${number} is taken back; it is verified.`,
      },
    }
  })
}
