// One way in as it is typed.
import type { WayIn, WayInEntry } from '@/api/client'

export interface TypedWay {
  way: string
  live: boolean
  address: string
  login: string
  security: string
  box: string
  since: string
  token: boolean
  readOnly: boolean
  every: string
  secret: string
}

export const typedWay = (w: WayIn): TypedWay => ({
  way: w.way,
  live: w.live,
  address: w.address ?? '',
  login: w.login ?? '',
  security: w.security || 'tls',
  box: w.box ?? '',
  since: w.since ?? '',
  token: w.token ?? false,
  readOnly: w.readOnly ?? false,
  every: String(w.every || 30),
  secret: '',
})

/** What is no number of seconds is one that the server refuses. */
export const wayBody = (w: TypedWay): WayInEntry => ({
  ...w,
  every: /^\d{1,4}$/.test(w.every.trim()) ? Number(w.every) : 1,
})
