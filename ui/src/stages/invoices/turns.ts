// To whom what is somebody's turn can be handed.
import { api, unwrap, type Colleague, type HandedOver } from '@/api/client'
import type { useJob } from '@/parts/job'

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

/** Matches all open invoices again now, as each is by itself when something that it waits for happens. */
export const matchAll = (send: ReturnType<typeof useJob>['send']) =>
  send(() => unwrap(api.POST('/api/match')), { done: 'All open invoices were matched again.' })

/** What is said once it is handed over. */
export function handed({ invoices, to }: HandedOver): string {
  const what = invoices.length === 1 ? `Invoice ${invoices[0]} is` : `${invoices.length} invoices are`
  return to ? `${what} with ${to}.` : `${what} the turn of everybody with the role again.`
}
