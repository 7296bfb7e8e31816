import type { SupplierSheet } from '@/api/client'
import { sent, show } from '@/parts/numbers'
import { typedTerms, untypedTerms } from '@/parts/terms'

/** A supplier of which only the least is known; it is finished in Set up. */
export const leastSupplier = (name: string, country: string, currency: string): SupplierSheet => ({
  ...blankSupplier(currency),
  name,
  country: country.toUpperCase(),
  onTheFly: true,
})

export const blankSupplier = (currency: string): SupplierSheet => ({
  code: '',
  version: 0,
  name: '',
  notYet: false,
  once: false,
  taxId: '',
  untaxed: false,
  country: '',
  language: 'en',
  currency,
  iban: '',
  bic: '',
  accountReason: '',
  payTo: '',
  level: '',
  fromReceipt: false,
  netDays: 30,
  endOfMonth: false,
  dayOfMonth: 0,
  discountPercent: '0',
  discountDays: 0,
  laterDiscounts: '',
  instalments: '',
  budget: '',
  taxCode: '',
  leastOrder: '0',
  freeFrom: '0',
  closedDays: '',
  incomplete: false,
  addresses: [],
  limits: [],
})

const orNone = (text: string) => (Number(text) ? show(text) : '')

/** A supplier as it is typed. */
export const typedSupplier = (s: SupplierSheet) => ({
  ...s,
  taxCode: s.taxCode ?? '',
  group: s.group ?? '',
  language: s.language || 'en',
  ...typedTerms(s),
  leastOrder: orNone(s.leastOrder),
  freeFrom: orNone(s.freeFrom),
  accountReason: '',
  accounts: (s.accounts ?? []).map((a) => ({ iban: a.iban, bic: a.bic })),
  addresses: (s.addresses.length ? s.addresses : [blankAddress(s.country)]).map((a) => ({ ...a })),
})

export type TypedSupplier = ReturnType<typeof typedSupplier>

export const purposes = ['ordering', 'invoicing', 'payment', 'collection']

export const blankAddress = (country: string) => ({
  purposes: [...purposes],
  street: '',
  city: '',
  region: '',
  postcode: '',
  country,
})

/** A supplier as it is sent. */
export function untypedSupplier(t: TypedSupplier): SupplierSheet {
  const { contacts, others, moreOthers, notes, prices, decisions, ...own } = t // which are kept by themselves
  void [contacts, others, moreOthers, notes, prices, decisions]
  return {
    ...own,
    ...untypedTerms(t),
    leastOrder: sent(t.leastOrder) || '0',
    freeFrom: sent(t.freeFrom) || '0',
    accounts: t.accounts.filter((a) => a.iban.trim() !== ''),
    addresses: t.addresses.filter((a) => a.street + a.city !== ''),
  }
}

export const weekdays = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']

/** How invoices are matched, in words. */
export const levels: Record<string, string> = {
  '': 'as the company',
  three_way: 'with order and receipts',
  by_receipt: 'by the delivery notes that are invoiced',
  two_way: 'with the order',
}

export const levelChoices = Object.entries(levels).map(([value, text]) => ({ value, text }))
