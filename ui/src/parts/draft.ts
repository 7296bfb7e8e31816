import { onScopeDispose, ref, watch, type Ref } from 'vue'

const rest = 150 // what is typed within it is kept together

/** Keeps what is typed under a name until it is booked or thrown away, also over a reload. */
export function useDraft<T extends object>(name: string, fresh: () => T): { draft: Ref<T>; clear: () => void; kept: boolean } {
  const key = `lagoon.draft.${name}`
  const stored = localStorage.getItem(key)
  let start = fresh()
  let kept = false
  if (stored) {
    try {
      start = { ...start, ...(JSON.parse(stored) as Partial<T>) }
      kept = true
    } catch {
      localStorage.removeItem(key)
    }
  }
  const draft = ref(start) as Ref<T>
  const untouched = JSON.stringify(fresh())
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
  function clear() {
    clearTimeout(waiting)
    waiting = undefined
    localStorage.removeItem(key)
  }
  return { draft, kept, clear }
}
