import { onBeforeUnmount, ref, shallowRef } from 'vue'

/** One action that a key does: a letter, a digit, an arrow, or Ctrl+Enter. */
export interface KeyAction {
  key: string
  label: string
  run: () => void
  /** Not shown in the strip, only in the list of all keys. */
  quiet?: boolean
}

const layers = shallowRef<(() => KeyAction[])[]>([])

/** Plain letters can be switched off (WCAG 2.1.4); Alt+letter always works. */
export const plainLetters = ref(localStorage.getItem('lagoon.letters') !== 'off')

/** The actions in force, the innermost first. */
export function actions(): KeyAction[] {
  const seen = new Set<string>()
  return [...layers.value].reverse().flatMap((layer) => layer().filter((a) => !seen.has(a.key) && seen.add(a.key)))
}

/** Gives keys to a component for as long as it is there. What stands in another is set up after it, though it is mounted before. */
export function useKeys(give: () => KeyAction[]): void {
  layers.value = [...layers.value, give]
  onBeforeUnmount(() => (layers.value = layers.value.filter((l) => l !== give)))
}

function typing(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName)) &&
    !isToggle(target)
  )
}

function isToggle(target: HTMLElement): boolean {
  return target instanceof HTMLInputElement && /^(checkbox|radio|button|file)$/.test(target.type)
}

function nameOf(event: KeyboardEvent): string {
  if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) return 'Ctrl+Enter'
  return event.key.length === 1 ? event.key.toLowerCase() : event.key
}

// A sheet that opened by itself is read before anything is done with it.
const deaf = 900 // ms
let until = 0

/** Makes the main action deaf for a moment: what opens now was not asked for. */
export function deafen(): void {
  until = performance.now() + deaf
}
const hears = () => performance.now() >= until

/** Keeps a click that was meant for the sheet before from the main action of one that opened by itself. */
export function click(event: MouseEvent): void {
  if (hears() || !(event.target instanceof Element) || !event.target.closest('.bar .btn')) return
  event.preventDefault()
  event.stopPropagation()
}

/** Runs the action of a key press, if there is one. */
export function press(event: KeyboardEvent): void {
  if (event.defaultPrevented || (event.target instanceof Element && event.target.closest('[data-own-keys]'))) return
  const inField = typing(event.target)
  const name = event.altKey && event.code.startsWith('Key') ? event.code.slice(3).toLowerCase() : nameOf(event)
  if (inField && event.key === 'Escape') {
    ;(event.target as HTMLElement).blur()
    return
  }
  const letter = name.length === 1
  if (letter && (event.ctrlKey || event.metaKey)) return
  if (letter && !event.altKey && ((inField && !(name === '/' && untouched(event.target))) || !plainLetters.value))
    return
  if (
    !letter &&
    inField &&
    name !== 'Ctrl+Enter' &&
    name !== 'F1' &&
    !(name.startsWith('Arrow') && oneLine(event.target))
  )
    return
  if (!letter && name !== 'Ctrl+Enter' && (event.ctrlKey || event.altKey || event.metaKey)) return
  const action = actions().find((a) => a.key === name)
  if (!action || (name === 'Ctrl+Enter' && !hears())) return
  event.preventDefault()
  action.run()
}

// Nothing that is looked for in a pile begins with a slash: in its field, which has the focus by itself, it leads to Find.
function untouched(target: EventTarget | null): boolean {
  return oneLine(target) && (target as HTMLInputElement).value === ''
}

// Up and down do nothing in a field of one line, so they move in the pile there too.
function oneLine(target: EventTarget | null): boolean {
  return target instanceof HTMLInputElement && target.dataset['pileKeys'] !== undefined
}
