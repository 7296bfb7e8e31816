import type { Finding, InvoiceSlip } from '@/api/client'
import type { Slip } from '@/parts/slip'
import { distance, show, showInstant, sums } from '@/parts/numbers'

/** Where an invoice stands, in words. */
export const stateWords: Record<string, string> = {
  captured: 'Captured',
  waiting: 'Waits for goods',
  held: 'Held',
  verified: 'Verified',
  released: 'Released',
  in_payment: 'In payment',
  paid: 'Paid',
  void: 'Void',
  refused: 'Refused',
}

/** Tells whether an invoice asks for money ahead. */
export const isAhead = (i: { kind: string }) => i.kind === 'prepayment' || i.kind === 'request'

/** An invoice as a slip of a pile, under a base path. */
export function slipOf(i: InvoiceSlip, base: string, today: string, on: string[] = []): Slip {
  const late = i.kind === 'invoice' && i.state === 'waiting' && i.wantedOn !== '' && i.wantedOn < today
  const right = late
    ? `goods ${distance(i.wantedOn, today)}`
    : [i.state === 'held' || i.state === 'waiting' ? i.summary : '', i.hold && `hold: ${i.hold}`]
        .filter(Boolean)
        .join(', ') ||
      i.summary ||
      (stateWords[i.state] ?? i.state).toLowerCase()
  return {
    to: `${base}/${i.number}`,
    verdict: i.verdict,
    title: i.supplier,
    figure: show(i.total),
    left: i.supplierNumber,
    ...(isAhead(i) ? { about: 'money ahead' } : i.summary || i.hold || late ? {} : { about: i.about }),
    mono: true,
    right: [
      ...on.map((name) => `${name} is on it`),
      i.state === 'held' && !i.summary ? distance(i.due, today) : right,
    ].join(', '),
  }
}

/** Tells whether a finding of some kinds about a line stands outside, and nobody has accepted it. */
export const outsideIn =
  (findings: () => Finding[]) =>
  (line: number, ...kinds: string[]) =>
    findings().some((f) => f.line === line && kinds.includes(f.kind) && f.verdict === 'outside' && !f.accepted)

/** What invoices come to in all, each currency by itself. */
export const worth = (invoices: InvoiceSlip[]) => sums(invoices.map((i) => ({ amount: i.total, currency: i.currency })))

/** What is to be paid of invoices, by currency. */
export const toPay = (invoices: InvoiceSlip[]) => sums(invoices.map((i) => ({ amount: i.open, currency: i.currency })))

/** Whose turn invoices are, how many, and since when the first of them waits. */
export function whose(invoices: InvoiceSlip[], today: string): string[] {
  const whoseIs = (i: InvoiceSlip) => i.with ?? i.turn
  const roles = [...new Set(invoices.map(whoseIs))].sort()
  return roles.map((role) => {
    const theirs = invoices.filter((i) => whoseIs(i) === role)
    const first = theirs.reduce((a, b) => (a.since < b.since ? a : b))
    return `${role} ${theirs.length}, since ${showInstant(first.since, today)}`
  })
}
