import { nextTick } from 'vue'

/** Enter goes to the next field of the sheet, in the order in which they stand. */
export function nextField(event: KeyboardEvent): void {
  if (
    event.ctrlKey ||
    event.altKey ||
    !(event.target instanceof HTMLElement) ||
    !/^(INPUT|SELECT)$/.test(event.target.tagName)
  )
    return
  event.preventDefault()
  const from = event.target
  void nextTick(() => goOn(from))
}

/** Goes from a field to the one that stands after it, from the last to the first. */
export function goOn(from: HTMLElement | null): void {
  const fields = [
    ...document.querySelectorAll<HTMLElement>(
      '.sheet input:not([type=checkbox], [type=file], [type=date], [data-aside], [data-aside] *, :disabled), .sheet select:not(:disabled, [data-aside])',
    ),
  ]
  enter(fields[((from ? fields.indexOf(from) : -1) + 1) % fields.length])
}

/** Goes into a field as the tabulator does: what stands there is chosen, so that typing replaces it. */
export function enter(field: HTMLElement | undefined): void {
  field?.focus()
  if (field instanceof HTMLInputElement) field.select()
}

/** Moves the focus to the first field that a refusal belongs to, and tells whether there is one. */
export async function focusFault(within = '.sheet'): Promise<boolean> {
  await nextTick()
  const field = document.querySelector<HTMLElement>(`${within} .is-invalid`)
  field?.focus()
  return field !== null
}
