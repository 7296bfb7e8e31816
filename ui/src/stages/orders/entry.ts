// An order as it is typed, and what is sent of it.
import { api, unwrap, type DraftRef, type ItemChoice, type OrderEntry, type OrderSheet } from '@/api/client'
import type { Choice } from '@/parts/choice'
import { typed, untyped, type TypedLimits } from '@/parts/limits'
import { proposedAbout } from '@/parts/about'
import { price, sent, show } from '@/parts/numbers'

export interface DraftLine {
  no: number
  item: string
  text: string
  quantity: string
  unit: string
  price: string
  base: string
  taxRate: string
  budget: string
  budgetLine: number
  note: string
  wantedOn: string
  discount: string
  charge: string
  limits: TypedLimits
  level: string
  more: boolean
}
export interface DraftCharge {
  kind: string
  description: string
  amount: string
  taxRate: string
}

export const emptyLine = (): DraftLine => ({
  no: 0,
  item: '',
  text: '',
  quantity: '',
  unit: '',
  price: '',
  base: '',
  taxRate: '',
  budget: '',
  budgetLine: 0,
  note: '',
  wantedOn: '',
  discount: '',
  charge: '',
  limits: typed([]),
  level: '',
  more: false,
})
export const freshOrder = (askedBy = '') => ({
  /** The kept draft that it goes on with, as it was when it was opened. */
  draft: undefined as DraftRef | undefined,
  /** Of the order that is changed, as it was when the change was begun. */
  version: 0,
  supplier: '',
  wantedOn: '',
  about: '',
  requestedBy: askedBy,
  place: '',
  elsewhere: '',
  theirReference: '',
  contact: '',
  instructions: '',
  note: '',
  charges: [] as DraftCharge[],
  /** On the whole, spread over the lines once it is issued; an amount, or per cent of them. */
  discount: '',
  lines: [emptyLine()],
})
export type DraftOrder = ReturnType<typeof freshOrder>

/** The items to choose from, found by our code, their name or the supplier's code. */
export const itemChoices = (items: ItemChoice[]): Choice[] =>
  items.map((i) => ({ value: i.code, text: i.code, also: `${i.name} · ${i.supplierCode}` }))

/** What a free line counts in where nothing else is said: pieces. */
const usualUnit = 'C62'

export const filledLine = (l: DraftLine) => l.item !== '' || l.text.trim() !== '' || l.quantity.trim() !== ''

/** What still needs a budget stands first, where it is seen. */
export function withoutBudgetFirst(all: DraftLine[]): DraftLine[] {
  const first = (l: DraftLine) => filledLine(l) && l.budget === ''
  return [...all.filter(first), ...all.filter((l) => !first(l))]
}

/** What an order is about where nobody says it: its first item. */
export const aboutOf = (d: DraftOrder, items: ItemChoice[]) =>
  proposedAbout(d.lines.filter(filledLine).map((l) => items.find((i) => i.code === l.item)?.name ?? l.text))

/** An issued order as it is typed again, to be changed. */
export function typedOrder(o: OrderSheet) {
  return {
    version: o.version,
    supplier: o.supplier.code,
    wantedOn: o.wantedOn,
    about: o.about === proposedAbout(o.lines.map((l) => l.description)) ? '' : o.about,
    requestedBy: o.requestedBy,
    place: o.place,
    elsewhere: o.elsewhere,
    theirReference: o.theirReference,
    contact: o.contact,
    instructions: o.instructions,
    note: o.note,
    discount: '',
    charges: o.charges.map((c) => ({ ...c, amount: show(c.amount), taxRate: show(c.taxRate) })),
    lines: o.lines.map((l) => ({
      ...emptyLine(),
      no: l.no,
      item: l.item,
      text: l.item || l.description,
      quantity: show(l.quantity),
      unit: l.unit,
      price: price(l.price),
      base: l.base,
      discount: Number(l.discount) ? show(l.discount) : '',
      charge: Number(l.charge) ? show(l.charge) : '',
      taxRate: l.taxCode ?? show(l.taxRate),
      budget: l.budget,
      budgetLine: l.budgetLine ?? 0,
      note: l.note,
      wantedOn: l.wantedOn === o.wantedOn ? '' : l.wantedOn,
      limits: typed(l.limits),
      level: l.ownLevel,
    })),
  }
}

/** An amount as it was understood, or per cent as they were typed. */
const shareOr = (typed: string) => (/%\s*$/.test(typed) ? typed : sent(typed))

/** What is sent of a draft: its filled lines, with numbers as they were understood. */
export function orderBody(d: DraftOrder, category: (l: DraftLine) => string): OrderEntry {
  return {
    supplier: d.supplier,
    wantedOn: d.wantedOn,
    about: d.about,
    requestedBy: d.requestedBy,
    place: d.place,
    elsewhere: d.elsewhere,
    theirReference: d.theirReference,
    contact: d.contact,
    instructions: d.instructions,
    note: d.note,
    ...(d.draft ? { draft: d.draft } : {}),
    discount: shareOr(d.discount ?? ''),
    charges: d.charges
      .filter((c) => c.amount.trim() !== '')
      .map((c) => ({
        ...c,
        amount: shareOr(c.amount),
        taxRate: sent(c.taxRate) || '0',
      })),
    lines: d.lines.filter(filledLine).map((l) => ({
      ...(l.no ? { no: l.no } : {}),
      item: l.item,
      description: l.item ? '' : l.text,
      quantity: sent(l.quantity) || '0',
      unit: l.unit || usualUnit,
      price: sent(l.price),
      ...(l.base ? { base: l.base } : {}),
      taxCategory: category(l),
      taxRate: sent(l.taxRate) || '0',
      budget: l.budget,
      ...(l.budgetLine ? { budgetLine: l.budgetLine } : {}),
      note: l.note,
      wantedOn: l.wantedOn,
      level: l.level,
      discount: sent(l.discount),
      charge: sent(l.charge),
      limits: untyped(l.limits),
    })),
  }
}

/** Keeps what is typed with a number, for another day, desk or person; the number. */
export async function keepOrder(d: DraftOrder): Promise<string> {
  const { draft, ...entry } = { ...d, lines: d.lines.filter(filledLine) }
  return (await unwrap(api.POST('/api/drafts', { body: { supplier: d.supplier, entry, ...(draft ? { draft } : {}) } })))
    .number
}

/** Lets a kept draft go, where there is one. */
export const discardKept = (draft?: DraftRef) =>
  draft &&
  unwrap(
    api.POST('/api/drafts/{number}/discard', {
      params: { path: { number: draft.number } },
      body: { version: draft.version },
    }),
  )

/** Changes an issued order; one that is raised above its buyer's authority waits for an approver. */
export function changeOrder(number: number, version: number, reason: string, entry: OrderEntry) {
  const body = { version, reason, entry }
  return unwrap(api.POST('/api/orders/{number}/change', { params: { path: { number } }, body }))
}
