// Limits that are tried: how they are named, and where they are looked at.
import type { components } from '@/api/schema'
import { sorts } from '@/parts/limits'
import { show } from '@/parts/numbers'

type Schemas = components['schemas']
export type Limit = Schemas['Limit']
export type LimitNamed = Schemas['LimitNamed']
export type LimitPlace = Schemas['LimitPlace']
export type Trial = Schemas['Trial']

const sortOf = (limit: Limit) => sorts.find((s) => s.kind === limit.kind)!

/** What is limited, and on which side where there are two. */
export function limitName(limit: Limit): string {
  const sort = sortOf(limit)
  return sort.sides.length > 1 ? `${sort.name}, ${limit.side}` : sort.name
}

/** What an absolute value of it counts. */
export const unitOf = (limit: Limit, currency: string) => (sortOf(limit).quantity ? 'units' : currency)
/** What its percentage is of; blank where only an amount counts. */
export const percentOf = (limit: Limit) => sortOf(limit).of

/** Where it is set, in words. */
export function placeName(at: LimitNamed): string {
  if (at.charge) return at.charge
  if (at.item && at.supplier) return `${at.itemName} of ${at.supplierName}`
  return at.itemName || at.supplierName || 'the company'
}

export function valueOf(limit: Limit, currency: string): string {
  const parts = [
    limit.percent === undefined ? '' : `${show(limit.percent)} %`,
    limit.absolute === undefined ? '' : `${show(limit.absolute)} ${unitOf(limit, currency)}`,
  ].filter(Boolean)
  return parts.join(', at most ') || 'none set'
}

export const placeAt = (at: LimitNamed): LimitPlace => ({ supplier: at.supplier, item: at.item, charge: at.charge })

/** Where a limit is tried. */
export function trialOf(limit: Limit, at: LimitPlace): string {
  const query = { kind: limit.kind, side: limit.side, supplier: at.supplier, item: at.item, charge: at.charge }
  return `/lookup/limits/try?${new URLSearchParams(Object.entries(query).filter(([, v]) => v))}`
}

/** A point of a curve over the values of a limit. */
export interface CurvePoint {
  at: number
  value: number
  mark: '' | 'today' | 'tried'
}
