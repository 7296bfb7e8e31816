import { ref, watch, type Ref } from 'vue'

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
  watch(
    draft,
    (now) => {
      const text = JSON.stringify(now)
      if (text === untouched) localStorage.removeItem(key)
      else localStorage.setItem(key, text)
    },
    { deep: true },
  )
  return { draft, kept, clear: () => localStorage.removeItem(key) }
}
