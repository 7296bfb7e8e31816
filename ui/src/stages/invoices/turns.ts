// To whom what is somebody's turn can be handed.
import type { Colleague, HandedOver } from '@/api/client'

/** Those who have all the roles whose turn it is; everybody where somebody took it over. */
export function receivers(colleagues: Colleague[], roles: string[], taken: boolean) {
  return [
    ...colleagues
      .filter((c) => roles.every((role) => c.roles.includes(role)))
      .map((c) => ({ value: c.login, text: c.name })),
    ...(taken ? [{ value: '', text: 'everybody whose turn it is' }] : []),
  ]
}

/** Whose turn it is: of everybody with a role, or of who is asked, which may be one with a role, a person or the supplier. */
export const turnOf = (turn: string): string => `The turn of ${/^(an? |the )|[A-Z]/.test(turn) ? '' : 'every '}${turn}`

/** What is said once it is handed over. */
export function handed({ invoices, to }: HandedOver): string {
  const what = invoices.length === 1 ? `Invoice ${invoices[0]} is` : `${invoices.length} invoices are`
  return to ? `${what} with ${to}.` : `${what} the turn of everybody with the role again.`
}
