import type { Enclosure } from '@/api/client'

/** What a supplier is told about an order or an invoice, as it is typed. */
export interface Telling {
  way: 'mail' | 'otherwise'
  to: string
  subject: string
  text: string
  prices: boolean
  /** Numbers of the papers that go along. */
  papers: number[]
}
export const proposed = (letter?: { to: string; subject: string; text: string; papers?: Enclosure[] }): Telling => ({
  way: letter && !letter.to ? 'otherwise' : 'mail',
  to: letter?.to ?? '',
  subject: letter?.subject ?? '',
  text: letter?.text ?? '',
  prices: true,
  papers: (letter?.papers ?? []).filter((p) => p.goes).map((p) => p.number),
})
/** What is said once a supplier was told. */
export const told = (t: Telling) =>
  t.way === 'mail'
    ? `The mail to ${t.to} is kept with the order, where it shows once it is handed over.`
    : 'Noted with the order as told.'
