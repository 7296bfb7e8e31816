// An invoice as it is typed, what it starts from, and what is sent of it.
import type {
  CodingProposal,
  CreditFor,
  Finding,
  InvoiceEntry,
  InvoiceProposal,
  InvoiceSheet,
  OrderLine,
  OrderSheet,
} from '@/api/client'
import { proposedAbout } from '@/parts/about'
import { price, sent, show } from '@/parts/numbers'

export interface DraftInvoiceLine {
  /** The order that the line is about, where it is not the invoice's own. */
  order?: number
  orderLine: number
  description: string
  quantity: string
  unit: string
  price: string
  base: string
  discount: string
  charge: string
  taxCategory: string
  taxRate: string
  chargeKind: string
  /** Without an order: what the line is charged to, a budget or several with their per cents. */
  budget?: string
  /** Over which months its cost is spread, as typed. */
  defer?: { from: string; months: string }
  /** By receipt: the delivery notes that it names, with commas between them. */
  notes?: string
  /** Typed in place of the quantity. */
  net?: string
  /** The quantity before a net was typed: it stays where the net differs by a cent of rounding alone. */
  was?: string
  /** Of a credit note: what the line gives back, or empty where its figures tell. */
  credits?: CreditFor
}
export interface DraftInvoiceCharge {
  allowance: boolean
  kind: string
  reason: string
  amount: string
  taxCategory: string
  taxRate: string
}

export const freshInvoice = (order: number) => ({
  kind: 'invoice' as 'invoice' | 'credit_note' | 'adjustment' | 'prepayment',
  agreement: 0, // of an invoice for money ahead, what is agreed
  credited: '', // of a credit note or an adjustment, the supplier's number of the invoice that it names
  supplier: '',
  order: order ? String(order) : '',
  number: '',
  date: '',
  postingDay: '', // proposed from the invoice's date
  taxPoint: '', // where it states one
  due: '', // likewise
  reference: '', // what its payment is to carry
  currency: '',
  statedTotal: '',
  prepaid: '',
  iban: '',
  about: '',
  note: '',
  reason: '',
  final: false, // the last one of its orders
  hold: '', // the reason of a payment hold that it is captured with
  holdNote: '',
  version: 0,
  lines: [] as DraftInvoiceLine[],
  charges: [] as DraftInvoiceCharge[],
  taxes: [] as { category: string; rate: string; amount: string }[],
  /** Something was taken over from an order or an invoice. */
  filled: false,
})
export type DraftInvoice = ReturnType<typeof freshInvoice>

/** What an entry starts from: an order, an invoice that is corrected, or one or a return that is credited. */
export interface EntryOf {
  order: number
  /** The mail that it is keyed from, and the file in it that is its paper. */
  mail?: { number: number; part: number }
  corrects: number
  credits?: { invoice: number; returned: number } | undefined
  /** What else somebody has in the hand of it: a delivery note of the order, a supplier, an item. */
  hand?: { note: string; supplier: string; item: string }
  /** What is agreed ahead that it asks for. */
  ahead?: number
}
/** The name that its draft is kept under. */
export function draftName({ order, corrects, credits, hand, mail, ahead }: EntryOf): string {
  if (mail?.number) return `key.mail.${mail.number}.${mail.part}`
  if (ahead) return `ahead.${ahead}`
  if (corrects) return `correct.${corrects}`
  if (credits) return `credit.${credits.invoice}.${credits.returned}`
  const more = [hand?.note, hand?.supplier, hand?.item].filter(Boolean).join('.')
  return `key.${order}${more && `.${more}`}`
}

const some = (amount: string) => (Number(amount) ? show(amount) : '')

/** A captured invoice as it is typed again, to be corrected. */
export function typedInvoice(inv: InvoiceSheet): Partial<DraftInvoice> {
  return {
    kind: inv.kind as DraftInvoice['kind'],
    agreement: inv.asks?.agreement ?? 0,
    credited: inv.credited?.supplierNumber ?? '',
    supplier: inv.supplier?.code ?? '',
    order: inv.order ? String(inv.order) : inv.orderStated.replace(/\D/g, ''),
    number: inv.supplierNumber,
    date: inv.date,
    postingDay: inv.postingDay,
    taxPoint: inv.taxPoint ?? '',
    due: inv.dueStated ?? '',
    reference: inv.reference ?? '',
    currency: inv.currency,
    statedTotal: show(inv.stated),
    prepaid: some(inv.prepaid),
    iban: inv.iban,
    about: inv.about === proposedAbout(inv.lines.map((l) => l.description)) ? '' : inv.about,
    note: inv.note,
    final: inv.final ?? false,
    lines: inv.lines.map((l) => ({
      ...(l.order ? { order: l.order } : {}),
      orderLine: l.orderLine ?? 0,
      description: l.description,
      quantity: show(l.quantity),
      unit: l.unit,
      price: price(l.price),
      base: l.base,
      discount: some(l.discount),
      charge: some(l.charge),
      taxCategory: l.taxCategory,
      taxRate: l.taxCode ?? l.taxRate,
      chargeKind: l.chargeKind,
      ...(l.budget ? { budget: l.budget } : {}),
      ...(l.defer ? { defer: { from: l.defer.from, months: String(l.defer.months) } } : {}),
      ...(l.credit ? { credits: l.credit.for } : {}),
      ...(l.notes ? { notes: l.notes } : {}),
    })),
    charges: inv.charges.map((c) => ({ ...c, amount: show(c.amount) })),
    taxes: inv.taxes
      .filter((t) => t.stated)
      .map((t) => ({ category: t.category, rate: t.rate, amount: show(t.amount) })),
    filled: true,
  }
}

/** What is received on an order and not yet invoiced, as lines of an invoice. */
export const proposedLines = (p: InvoiceProposal): DraftInvoiceLine[] =>
  p.lines.map((l) => ({
    orderLine: l.orderLine ?? 0,
    description: l.description,
    quantity: show(l.quantity),
    unit: l.unit,
    price: Number(l.price) ? price(l.price) : '',
    base: l.base ?? '1',
    discount: some(l.discount ?? ''),
    charge: some(l.charge ?? ''),
    taxCategory: l.taxCategory,
    taxRate: l.taxCode ?? l.taxRate,
    chargeKind: '',
    ...(l.credits ? { credits: l.credits } : {}),
    ...(l.notes ? { notes: l.notes } : {}),
  }))

/** What the next invoice of a supplier without an order would say, dated today. */
export const proposedCoding = (p: CodingProposal): Partial<DraftInvoice> => ({
  currency: p.currency,
  date: p.date,
  filled: true,
  lines: p.lines.map((l) => ({
    ...blankLine(),
    description: l.description,
    quantity: show(l.quantity),
    unit: l.unit,
    price: Number(l.price) ? price(l.price) : '',
    base: l.base ?? '1',
    discount: some(l.discount ?? ''),
    charge: some(l.charge ?? ''),
    taxCategory: l.taxCategory,
    taxRate: l.taxCode ?? l.taxRate,
    chargeKind: l.chargeKind ?? '',
    ...(l.chargeKind ? {} : { budget: l.budget ?? '' }),
  })),
})

/** What the credit note of an invoice or for a return would say, dated today. */
export const proposedCredit = (p: InvoiceProposal): Partial<DraftInvoice> => ({
  ...proposedInvoice(p),
  kind: 'credit_note',
  credited: p.credited ?? '',
  statedTotal: p.total ? show(p.total) : '',
  order: String(p.order.number),
  date: p.postingDay,
})

/** What is received on an order and not yet invoiced, as it is typed. */
export function proposedInvoice(p: InvoiceProposal): Partial<DraftInvoice> {
  return {
    supplier: p.order.supplier.code,
    currency: p.currency,
    filled: true,
    lines: proposedLines(p),
    charges: p.charges.map((c) => ({ ...c, amount: show(c.amount) })),
  }
}

/** It may be charged to budgets: there are lines of a supplier that are about no order. */
export const couldBeCoded = (d: DraftInvoice) =>
  !!d.supplier && d.lines.some((l) => !l.orderLine && !l.chargeKind && l.budget === undefined)

/** What a document is called by its kind. */
export const kindWords: Record<string, string> = {
  invoice: 'Invoice',
  credit_note: 'Credit note',
  adjustment: 'Debit note',
  prepayment: 'Prepayment invoice',
  request: 'Payment request',
}

/** What became of an entry that was captured or corrected, after its number. */
export function outcome(of: { state: string; summary: string }): string {
  if (of.state === 'verified') return 'agrees and is verified'
  return of.state === 'held' ? `is held: ${of.summary}` : of.summary
}

const fieldsOf: Record<string, string> = {
  stated_total: 'invoice-total',
  order_unknown: 'invoice-order',
  order_not_open: 'invoice-order',
  supplier_unknown: 'invoice-supplier',
  date: 'invoice-date',
  prepaid_stated: 'invoice-prepaid',
  invoice_awaited: 'invoice-credited',
}

/** The field in which the first thing that stands open on an invoice is corrected; its number where nothing does. */
export function fieldToCorrect(findings: Finding[]): string {
  const open = findings.find((f) => f.verdict === 'outside' && !f.accepted)
  const own = fieldsOf[open?.kind ?? '']
  if (own || !open?.line) return own ?? 'invoice-number'
  return `${open.kind === 'unit_price' ? 'price' : 'quantity'}-${open.line - 1}`
}

/** What a kept entry is, in a line. */
export const saidOf = (d: DraftInvoice): string =>
  [
    d.number || 'no number yet',
    d.order && `order ${d.order}`,
    d.lines.length && (d.lines.length === 1 ? '1 line' : `${d.lines.length} lines`),
    d.statedTotal && `total ${d.statedTotal}`,
  ]
    .filter(Boolean)
    .join(', ')

/** The order that a line is about: the invoice's own, or one of the others. */
export const orderOf = (l: DraftInvoiceLine, own: OrderSheet | undefined, others: OrderSheet[]) =>
  l.order ? others.find((o) => o.number === l.order) : own
export const orderLineOf = (l: DraftInvoiceLine, own: OrderSheet | undefined, others: OrderSheet[]) =>
  orderOf(l, own, others)?.lines.find((o) => o.no === l.orderLine)

/** What an order line says of a line that invoices it, but for how much. */
export const takeFrom = (l: OrderLine) => ({
  description: l.description,
  unit: l.unit,
  price: price(l.price),
  base: l.base,
  taxCategory: l.taxCategory,
  taxRate: l.taxCode ?? l.taxRate,
})

export const blankLine = (): DraftInvoiceLine => ({
  orderLine: 0,
  description: '',
  quantity: '',
  unit: 'C62',
  price: '',
  base: '1',
  discount: '',
  charge: '',
  taxCategory: '', // as its rate has it
  taxRate: '0',
  chargeKind: '',
})

/** A charge as it is begun: taxed as its kind is, else as the goods that it came with. */
export function blankCharge(kind: string, taxCode: string | undefined, lines: DraftInvoiceLine[]): DraftInvoiceCharge {
  const taxed = lines.find((l) => Number(l.taxRate) > 0) ?? lines[0]
  const reason = kind.charAt(0).toUpperCase() + kind.slice(1)
  const charge = { allowance: false, kind, reason, amount: '' }
  if (taxCode) return { ...charge, taxCategory: '', taxRate: taxCode }
  return { ...charge, taxCategory: taxed?.taxCategory ?? '', taxRate: taxed?.taxRate ?? '0' }
}

const plain = (text: string) => text.trim().toLowerCase().replace(/\s+/g, ' ')

/**
 * Lines that stood for the lines of one order, now that they are said to be of another: each is the line of the same item
 * there or of the same words, and otherwise of none until somebody says which. A number alone says nothing.
 */
export function retied(lines: DraftInvoiceLine[], before: OrderSheet | undefined, now: OrderSheet): DraftInvoiceLine[] {
  return lines.map((l) => {
    if (l.order) return l
    const was = before?.lines.find((o) => o.no === l.orderLine)
    const same = now.lines.find(
      (o) =>
        (was?.item ? o.item === was.item : false) || plain(o.description) === plain(was?.description ?? l.description),
    )
    return { ...l, orderLine: same?.no ?? 0 }
  })
}

/** What is sent: a quantity may be typed as a share of what its order line ordered, a charge as one of the order's net. */
export function invoiceBody(
  d: DraftInvoice,
  ordered: (line: DraftInvoiceLine) => string | undefined,
  net: string | undefined,
): InvoiceEntry {
  return {
    kind: d.kind,
    ...(d.kind === 'prepayment' && d.agreement ? { agreement: d.agreement } : {}),
    ...(d.kind === 'invoice' || d.kind === 'prepayment' ? {} : { credited: d.credited }),
    supplier: d.supplier,
    number: d.number,
    date: d.date,
    postingDay: d.postingDay,
    taxPoint: d.taxPoint,
    due: d.due,
    reference: d.reference,
    statedTotal: sent(d.statedTotal),
    prepaid: sent(d.prepaid),
    iban: d.iban,
    about: d.about,
    note: d.note,
    reason: d.reason,
    ...(d.final && d.kind === 'invoice' ? { final: true } : {}),
    ...(d.hold ? { hold: { reason: d.hold, note: d.holdNote } } : {}),
    ...(Number(d.order) ? { order: Number(d.order) } : {}),
    ...(d.currency ? { currency: d.currency } : {}),
    lines: d.lines.map(({ defer, net, was, ...l }) => ({
      ...l,
      ...(net?.trim() ? { net: sent(net) } : {}),
      ...(defer ? { defer: { from: defer.from, months: Number(defer.months) || 0 } } : {}),
      quantity: sent(l.quantity || (net?.trim() ? (was ?? '') : ''), ordered(l)) || '0',
      price: sent(l.price),
      discount: sent(l.discount),
      charge: sent(l.charge),
      taxRate: sent(l.taxRate) || '0',
    })),
    charges: d.charges.map((c) => ({ ...c, amount: sent(c.amount, net) || '0', taxRate: sent(c.taxRate) || '0' })),
    taxes: d.taxes.map((t) => ({ ...t, amount: sent(t.amount) || '0' })),
  }
}
