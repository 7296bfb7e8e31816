import type { PaperPart } from '@/api/client'
import { showDay, show } from './numbers'
import { today } from './session'

/** A field that a part of a paper may be put into; nothing where none has the focus. */
export function fieldIn(place: Element | null): HTMLInputElement | HTMLTextAreaElement | undefined {
  const field = place?.matches('.sheet input:not([type=checkbox], [type=radio], [type=file]), .sheet textarea')
  return field ? (place as HTMLInputElement) : undefined
}

/** What kind of part a field takes: a day, a number, or whatever is written. */
export function takes(field: Element): 'day' | 'number' | undefined {
  if (field.closest('.day-field')) return 'day'
  return (field as HTMLElement).inputMode === 'decimal' ? 'number' : undefined
}

/** Whether a part may go into a field. */
export const fits = (field: Element, part: PaperPart) => (takes(field) ?? part.kind) === part.kind

/** Puts a part into a field, as if it had been typed, in the way in which this person types it. */
export function put(field: HTMLInputElement | HTMLTextAreaElement, part: PaperPart): void {
  const kind = takes(field)
  field.value = kind === 'day' ? showDay(part.value, today.value) : kind === 'number' ? show(part.value) : part.text
  field.dispatchEvent(new Event('input', { bubbles: true }))
  field.dispatchEvent(new Event('taken', { bubbles: true })) // somebody looked at it, also where it says what it said
}
