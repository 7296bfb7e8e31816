// Keeping a paper with something.
import { upload } from '@/api/client'

/** What a paper is kept with: a kind, and its number or code. */
export interface KeptWith {
  on: 'invoice' | 'order' | 'delivery' | 'item' | 'supplier' | 'statement' | 'budget'
  of: string
}

export const keepPaper = (place: KeptWith, file: File) =>
  upload(`/api/papers?${new URLSearchParams({ on: place.on, of: place.of })}`, [file])
