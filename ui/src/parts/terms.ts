// Terms of payment, as they are typed and as they are said.
import type { Terms } from '@/api/client'
import { sent, show } from './numbers'

export interface TypedTerms {
  netDays: string
  fromReceipt: boolean
  endOfMonth: boolean
  dayOfMonth: string
  discountPercent: string
  discountDays: string
  laterDiscounts: string
  instalments: string
}
const some = (n: number) => (n ? String(n) : '')

export const typedTerms = (t: Terms): TypedTerms => ({
  netDays: String(t.netDays),
  fromReceipt: t.fromReceipt,
  endOfMonth: t.endOfMonth,
  dayOfMonth: some(t.dayOfMonth),
  discountPercent: Number(t.discountPercent) ? show(t.discountPercent) : '',
  discountDays: some(t.discountDays),
  laterDiscounts: t.laterDiscounts ?? '',
  instalments: t.instalments ?? '',
})

/** The numbers of steps as they are sent: the per cents may be typed with a comma. */
const steps = (text: string) => text.replace(/[\d.,]+(?=\s*%)/g, (percent) => sent(percent))
const days = (text: string) => Number(sent(text) || '0')

export const untypedTerms = (t: TypedTerms): Terms => ({
  netDays: days(t.netDays),
  fromReceipt: t.fromReceipt,
  endOfMonth: t.endOfMonth,
  dayOfMonth: days(t.dayOfMonth),
  discountPercent: sent(t.discountPercent) || '0',
  discountDays: days(t.discountDays),
  laterDiscounts: steps(t.laterDiscounts),
  instalments: steps(t.instalments),
})

/** Terms in words. */
export function saidTerms(t: Terms): string {
  const net = t.instalments ? `${t.instalments} days` : `${t.netDays} days`
  const off = Number(t.discountPercent)
    ? `, ${show(t.discountPercent)} % within ${t.discountDays} days${t.laterDiscounts ? `, then ${t.laterDiscounts} days` : ''}`
    : ''
  return [
    net,
    t.fromReceipt ? ' from the receipt' : '',
    t.endOfMonth ? ', to the end of the month' : '',
    t.dayOfMonth ? `, then the ${t.dayOfMonth}. of the next` : '',
    off,
  ].join('')
}
