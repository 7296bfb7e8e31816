import { onScopeDispose, ref, watch, type Ref } from 'vue'

const rest = 150 // what is typed within it is kept together

const prefix = 'lagoon.draft.'
const keyOf = (name: string) => prefix + name

interface Kept<T> {
  at: string
  what: Partial<T>
}

function stored<T extends object>(name: string): Kept<T> | undefined {
  const text = localStorage.getItem(keyOf(name))
  if (!text) return undefined
  try {
    const kept = JSON.parse(text) as Partial<Kept<T>>
    if (kept.at && kept.what) return { at: kept.at, what: kept.what }
  } catch {
    // what cannot be read is no draft
  }
  localStorage.removeItem(keyOf(name))
  return undefined
}

/** What was typed under a name and not booked or thrown away yet. */
export const keptDraft = <T extends object>(name: string): Partial<T> | undefined => stored<T>(name)?.what

/** Puts a draft in the place of what is kept under a name. */
export function putDraft(name: string, draft: object): void {
  localStorage.setItem(keyOf(name), JSON.stringify({ at: new Date().toISOString(), what: draft }))
}

/** Forgets what is kept under a name. */
export const dropDraft = (name: string): void => localStorage.removeItem(keyOf(name))

/** Everything that is kept under names that begin alike: the rest of the name, and when. */
export function keptDrafts<T extends object>(beginning: string): (Kept<T> & { rest: string })[] {
  return Object.keys(localStorage)
    .filter((key) => key.startsWith(keyOf(beginning)))
    .flatMap((key) => {
      const kept = stored<T>(key.slice(prefix.length))
      return kept ? [{ ...kept, rest: key.slice(keyOf(beginning).length) }] : []
    })
    .sort((a, b) => (a.at < b.at ? -1 : 1))
}

/** Keeps what is typed under a name until it is booked or thrown away, also over a reload. */
export function useDraft<T extends object>(name: string, fresh: () => T) {
  const key = keyOf(name)
  const before = stored<T>(name)
  const draft = ref({ ...fresh(), ...before?.what }) as Ref<T>
  let untouched = JSON.stringify(fresh())
  let waiting: ReturnType<typeof setTimeout> | undefined
  function keep() {
    if (waiting === undefined) return
    clearTimeout(waiting)
    waiting = undefined
    const text = JSON.stringify(draft.value)
    if (text === untouched) localStorage.removeItem(key)
    else putDraft(name, draft.value)
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
  return { draft, kept: before !== undefined, keptAt: before?.at ?? '', begin, clear }
}
