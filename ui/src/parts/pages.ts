// The pages that are no document, each with the words by which it is found.
export interface Page {
  to: string
  name: string
  /** Where it is the page of a thing that is being made. */
  made?: string
  words: string
}

export const setUpPages: Page[] = [
  {
    to: '/setup/suppliers',
    made: '/setup/new-supplier',
    name: 'Suppliers',
    words: 'vendors contacts bank accounts terms limits notes',
  },
  { to: '/setup/items', made: '/setup/new-item', name: 'Items', words: 'articles units prices conversions' },
  { to: '/setup/company', name: 'Company', words: 'limits tolerances policy places sender' },
  { to: '/setup/books', name: 'Budgets and books', words: 'exchange rates months periods charges freight close' },
  { to: '/setup/tables', name: 'Tables', words: 'import export csv xlsx spreadsheet' },
  { to: '/setup/ways', name: 'Mail and files', words: 'mailbox imap smtp folder inbox e-mail in' },
  { to: '/setup/people', name: 'People', words: 'roles authority persons password' },
  { to: '/setup/account', name: 'Your account', words: 'password substitute letters sign out' },
]

export const lookUpPages: Page[] = [
  { to: '/lookup/journal', name: 'Journal', words: 'ledger entries bookings' },
  { to: '/lookup/budgets', name: 'Budgets', words: 'planned left spent year' },
  { to: '/lookup/day', name: 'The day', words: 'glance today came in at stake' },
  { to: '/lookup/turns', name: 'Whose turn', words: 'load by person hand over move bulk take over' },
  { to: '/lookup/ranking', name: 'How suppliers deliver', words: 'performance score ranking on time' },
  { to: '/lookup/statements', name: 'Suppliers’ statements', words: 'reconcile account balance missing' },
  { to: '/lookup/limits', name: 'Limits tried on history', words: 'tolerance trial what if held' },
  { to: '/lookup/month-end', name: 'Month’s end', words: 'month end accrue export ledger close pack' },
  { to: '/lookup/lists/orders', name: 'Orders, how they stand', words: 'list open late status' },
  { to: '/lookup/lists/invoices', name: 'All invoices', words: 'list paid void refused overdue' },
  { to: '/lookup/lists/deliveries', name: 'Deliveries and lots', words: 'list receipts goods' },
  { to: '/lookup/record', name: 'The record', words: 'audit who did what sign-ins' },
]

const workPages: Page[] = [
  { to: '/orders/new', name: 'Enter an order', words: 'new purchase order buy' },
  { to: '/orders/reminders', name: 'Reminders', words: 'late acknowledged remind suppliers' },
  { to: '/orders/closing', name: 'Close lines', words: 'end early nothing more open lines' },
  { to: '/orders/planned', name: 'Planned', words: 'plan budget lines purchase' },
  { to: '/receiving', name: 'Receiving', words: 'expected deliveries goods door' },
  { to: '/invoices', name: 'Invoices', words: 'take in files e-invoices' },
  { to: '/invoices/key', name: 'Key an invoice', words: 'enter paper' },
  { to: '/holds', name: 'Holds', words: 'held whose turn' },
  { to: '/payments', name: 'Release invoices', words: 'payments release' },
  { to: '/payments/proposed-run', name: 'Propose a run', words: 'payment run bank' },
]

/** Pages of whose name or words every word that was typed begins one. */
export function pagesBy(typed: string): Page[] {
  const parts = typed.trim().toLowerCase().split(/\s+/).filter(Boolean)
  if (parts.length === 0) return []
  const begins = (p: Page, part: string) =>
    `${p.name} ${p.words}`
      .toLowerCase()
      .split(/[\s-]+/)
      .some((w) => w.startsWith(part))
  return [...workPages, ...lookUpPages, ...setUpPages].filter((p) => parts.every((part) => begins(p, part)))
}
