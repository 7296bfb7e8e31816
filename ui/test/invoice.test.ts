import { describe, expect, it } from 'vitest'
import type { Finding, OrderLine, OrderSheet } from '@/api/client'
import { blankLine, fieldToCorrect, freshInvoice, invoiceBody, retied } from '@/stages/invoices/entry'
import { turnOf } from '@/stages/invoices/turns'

const line = (no: number, item: string, description: string) => ({ no, item, description }) as OrderLine
const order = (number: number, ...lines: OrderLine[]) => ({ number, lines }) as OrderSheet
const before = order(
  4112,
  line(1, 'KRILL', 'Krill, frozen'),
  line(2, 'SQUID', 'Squid rings'),
  line(3, '', 'Cleaning, once'),
)
const now = order(
  4111,
  line(1, 'KRILL', 'Krill, frozen, 12 kg'),
  line(2, 'CAPELIN', 'Capelin'),
  line(4, '', 'cleaning,  once'),
)
const typed = (orderLine: number, description: string) => ({ ...blankLine(), orderLine, description })

describe('an entry that is said to be of another order', () => {
  it('ties each line to the same item there, or to the same words, and never by number', () => {
    const lines = [typed(1, 'Krill'), typed(2, 'Squid rings'), typed(3, 'Cleaning, once')]
    expect(retied(lines, before, now).map((l) => l.orderLine)).toEqual([1, 0, 4])
  })
  it('ties by its own words where no order was known', () =>
    expect(retied([typed(1, 'Capelin'), typed(2, 'Krill')], undefined, now).map((l) => l.orderLine)).toEqual([2, 0]))
  it('leaves the lines of further orders alone', () => {
    const other = { ...typed(2, 'Squid rings'), order: 4099 }
    expect(retied([other], before, now)).toEqual([other])
  })
})

describe('what is sent', () => {
  it('takes shares of what was ordered and of the net, and leaves the currency to the server where none is named', () => {
    const draft = {
      ...freshInvoice(4111),
      lines: [{ ...typed(1, 'Krill'), quantity: '50%', price: '1,000.5' }],
      charges: [{ allowance: false, kind: 'freight', reason: '', amount: '10%', taxCategory: 'S', taxRate: '' }],
    }
    const body = invoiceBody(draft, () => '80', '250.00')
    expect(body.lines[0]).toMatchObject({ quantity: '40', price: '1000.5', taxRate: '0' })
    expect(body.charges?.[0]).toMatchObject({ amount: '25', taxRate: '0' })
    expect(body).not.toHaveProperty('currency')
    expect(body.order).toBe(4111)
  })
})

describe('correcting an entry', () => {
  const found = (kind: string, line = 0, verdict = 'outside') => ({ kind, line, verdict }) as Finding

  it('begins at the field that stands open', () => {
    expect(fieldToCorrect([])).toBe('invoice-number')
    expect(fieldToCorrect([found('unit_price', 2, 'within'), found('stated_total')])).toBe('invoice-total')
    expect(fieldToCorrect([found('order_unknown')])).toBe('invoice-order')
    expect(fieldToCorrect([found('unit_price', 2)])).toBe('price-1')
    expect(fieldToCorrect([found('over_received', 1)])).toBe('quantity-0')
  })
})

describe('whose turn it is', () => {
  it.each([
    ['clerk', 'The turn of every clerk'],
    ['a receiver', 'The turn of a receiver'],
    ['an approver', 'The turn of an approver'],
    ['Maren Tolk', 'The turn of Maren Tolk'],
    ['the supplier', 'The turn of the supplier'],
  ])('%s', (turn, said) => expect(turnOf(turn)).toBe(said))
})
