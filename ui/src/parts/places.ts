// Where each thing lives: every address of a document is written here, and in the router.
import type { Finding, InvoiceStart } from '@/api/client'

type Key = number | string | undefined

export const placeOf = {
  order: (order: Key) => `/orders/${order}`,
  orderChange: (order: Key) => `/orders/${order}/change`,
  /** With the charge of a difference, to be planned. */
  orderPlanning: ({ order, charge = '', difference = '' }: Finding, charges: { kind: string; taxRate: string }[]) => {
    const tax = charges.find((c) => c.kind === charge)?.taxRate ?? ''
    return `/orders/${order}/change?${new URLSearchParams({ kind: charge, amount: difference, tax })}`
  },
  ordering: (supplier: Key) => `/orders/new?supplier=${supplier}`,
  draft: (draft: Key) => `/orders/drafts/${draft}`,
  closing: (order: Key) => `/orders/closing?order=${order}`,
  reopening: (order: Key) => `/orders/closing?closed=yes&order=${order}`,
  sendingBack: (order: Key) => `/orders/${order}?return=yes`,
  receiving: (order: Key) => `/receiving/${order}`,
  noticing: (order: Key) => `/receiving/${order}/notice`,
  noticed: (notice: Key) => `/receiving/notices/${notice}`,
  fromNotice: (order: Key, notice: Key) => `/receiving/${order}?notice=${notice}`,
  fromArrival: (order: Key, arrival: Key) => `/receiving/${order}?arrival=${arrival}`,
  /** Of a return and what else has a delivery's number, too. */
  delivery: (delivery: Key) => `/receiving/deliveries/${delivery}`,
  invoice: (invoice: Key) => `/invoices/${invoice}`,
  correction: (invoice: Key) => `/invoices/${invoice}/correct`,
  /** The invoice for money that is agreed ahead. */
  keyingAhead: (order: Key, agreement: Key) => `/invoices/key?order=${order}&ahead=${agreement}`,
  keying: (order: Key) => `/invoices/key?order=${order}`,
  /** Of what somebody has in the hand: an order, a delivery note of it, a supplier, an item. */
  keyingOf: (start: InvoiceStart) =>
    `/invoices/key?${new URLSearchParams({ ...start, order: String(start.order ?? '') })}`,
  batch: (batch?: Key) => `/invoices/batch${batch ? `/${batch}` : ''}`,
  mail: (mail: Key) => `/invoices/mail/${mail}`,
  keyingFromMail: (mail: Key, part: Key, supplier: string) =>
    `/invoices/key?${new URLSearchParams({ mail: String(mail), part: String(part), supplier })}`,
  creditOf: (invoice: Key) => `/invoices/credit?invoice=${invoice}`,
  creditForReturn: (returned: Key) => `/invoices/credit?return=${returned}`,
  /** Beside those that bear its number or one like it. */
  alike: (invoice: Key) => `/lookup/alike/${invoice}`,
  held: (invoice: Key) => `/holds/${invoice}`,
  statement: (statement: Key) => `/payments/bank/${statement}`,
  run: (run: Key) => `/payments/runs/${run}`,
  entry: (entry: Key) => `/lookup/journal/${entry}`,
  /** A list as it is asked for. */
  list: (list: Key, asked: Partial<Record<'show' | 'sort' | 'group' | 'columns', string>> = {}) => {
    const query = new URLSearchParams(Object.entries(asked).filter(([, v]) => v)).toString()
    return `/lookup/lists/${list}${query ? `?${query}` : ''}`
  },
  supplier: (code: Key) => `/setup/suppliers/${code}`,
  supplierEdit: (code: Key) => `/setup/suppliers/${code}/edit`,
  item: (code: Key) => `/setup/items/${code}`,
  itemEdit: (code: Key) => `/setup/items/${code}/edit`,
}

/** Where what a list names by its kind and number lives, if it has a place of its own. */
export function placeTo(kind: string, key: string): string | undefined {
  const of: Record<string, (key: string) => string> = {
    order: placeOf.order,
    delivery: placeOf.delivery,
    invoice: placeOf.invoice,
    alike: placeOf.alike,
    supplier: placeOf.supplier,
    item: placeOf.item,
    run: placeOf.run,
    entry: placeOf.entry,
    mail: placeOf.mail,
  }
  return of[kind]?.(key)
}
