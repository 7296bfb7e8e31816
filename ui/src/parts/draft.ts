import { onScopeDispose, ref, watch, type Ref } from 'vue'

const rest = 150 // what is typed within it is kept together

const keyOf = (name: string) => `lagoon.draft.${name}`

/** What was typed under a name and not booked or thrown away yet. */
export function keptDraft<T extends object>(name: string): Partial<T> | undefined {
  const stored = localStorage.getItem(keyOf(name))
  if (!stored) return undefined
  try {
    return JSON.parse(stored) as Partial<T>
  } catch {
    localStorage.removeItem(keyOf(name))
    return undefined
  }
}

/** Puts a draft in the place of what is kept under a name. */
export const putDraft = (name: string, draft: object): void => localStorage.setItem(keyOf(name), JSON.stringify(draft))

/** Keeps what is typed under a name until it is booked or thrown away, also over a reload. */
export function useDraft<T extends object>(name: string, fresh: () => T) {
  const key = keyOf(name)
  const before = keptDraft<T>(name)
  const draft = ref({ ...fresh(), ...before }) as Ref<T>
  let untouched = JSON.stringify(fresh())
  let waiting: ReturnType<typeof setTimeout> | undefined
  function keep() {
    if (waiting === undefined) return
    clearTimeout(waiting)
    waiting = undefined
    const text = JSON.stringify(draft.value)
    if (text === untouched) localStorage.removeItem(key)
    else localStorage.setItem(key, text)
  }
  watch(draft, () => (waiting ??= setTimeout(keep, rest)), { deep: true })
  window.addEventListener('pagehide', keep)
  onScopeDispose(() => {
    window.removeEventListener('pagehide', keep)
    keep()
  })
  /** Begins with something else than nothing: it is kept once something is typed over it. */
  function begin(start: T) {
    draft.value = start
    untouched = JSON.stringify(start)
  }
  function clear() {
    clearTimeout(waiting)
    waiting = undefined
    localStorage.removeItem(key)
  }
  return { draft, kept: before !== undefined, begin, clear }
}
