// The words of tax codes.
import type { Frame } from '@/api/client'

/** The categories of UNCL 5305 that a tax code may have. */
export const taxCategories = [
  { value: 'S', text: 'S · standard or reduced rate' },
  { value: 'Z', text: 'Z · zero rated' },
  { value: 'E', text: 'E · exempt' },
  { value: 'AE', text: 'AE · reverse charge' },
  { value: 'K', text: 'K · from another member state' },
  { value: 'G', text: 'G · export' },
  { value: 'O', text: 'O · not subject to tax' },
  { value: 'L', text: 'L · Canary Islands' },
  { value: 'M', text: 'M · Ceuta and Melilla' },
]

/** The tax codes that a supplier or an item can be given, with the one that it has; the first is none. */
export const taxChoices = (frame: Frame | undefined, has: string | undefined) => [
  { value: '', text: 'none' },
  ...(frame?.taxes ?? [])
    .filter((t) => !t.ended || t.code === has)
    .map((t) => ({ value: t.code, text: `${t.code} · ${t.name}` })),
]
