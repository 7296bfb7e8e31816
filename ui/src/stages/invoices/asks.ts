import { computed } from 'vue'
import { api, unwrap, type Candidate, type Finding } from '@/api/client'

export type Ask = 'refuse' | 'void' | 'back'

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

/** What is asked before something is done to an invoice of a version, and what then is. */
export function useAsks(
  number: number,
  what: () => string,
  version: () => number,
  letter: () => { to: string; text: string } | undefined,
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
