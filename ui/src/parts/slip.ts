import type { InjectionKey } from 'vue'
import type { Verdict } from '@/api/client'

/** One slip of a pile: where it leads, its mark, and two lines. */
export interface Slip {
  to: string
  verdict: Verdict
  title: string
  figure?: string
  left: string
  /** What it is about, after what stands on the left. */
  about?: string
  right?: string
  mono?: boolean
}

/** A part of a pile under its own heading, with how many there are, unless it is only the beginning of a long list. */
export interface SlipGroup {
  title: string
  note?: string
  /** What its slips come to, each currency by itself. */
  sum?: string
  open?: boolean
  /** What stands there instead of the slips until they are asked for. */
  folded?: string[]
  empty: string
  slips: Slip[]
}

/** Says to the pile that the slip which is open is finished, so that the next of one's own turn opens. */
export const finished: InjectionKey<() => void> = Symbol('finished')
