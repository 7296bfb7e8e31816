import { onScopeDispose, shallowRef, watch, type WatchSource } from 'vue'
import { useDebounceFn } from '@vueuse/core'
import { lostSince } from '@/api/live'

interface Problem {
  field: string
  kind: string
  sentence: string
}

/**
 * What an entry comes to while it is typed: asked a moment after the last change, and again when Lagoon answers again. An
 * answer that a later question has overtaken is not shown. Ask gives nothing where there is nothing to ask yet.
 */
export function usePreview<T extends { problems: Problem[] }>(
  sources: WatchSource[],
  ask: () => Promise<T> | undefined,
) {
  const preview = shallowRef<T>()
  let last = 0
  const again = useDebounceFn(async () => {
    const mine = ++last
    const answer = await ask()?.catch(() => undefined)
    if (mine === last) preview.value = answer
  }, 200)
  watch([...sources, lostSince], () => void again(), { deep: true })
  onScopeDispose(() => (last = -1))
  return {
    preview,
    again,
    /** What is wrong with a field so far. */
    wrong: (field: string) => preview.value?.problems.find((p) => p.field === field)?.sentence,
  }
}
