import type { Verdict } from '@/api/client'

/** One slip of a pile: where it leads, its mark, and two lines. */
export interface Slip {
  to: string
  verdict: Verdict
  title: string
  figure?: string
  left: string
  right?: string
  mono?: boolean
}

/** A part of a pile under its own heading. */
export interface SlipGroup {
  title: string
  note?: string
  empty: string
  slips: Slip[]
}
