import { useQueryClient } from '@tanstack/vue-query'
import { useArrive } from '@/parts/arrive'
import { useRouter } from 'vue-router'
import { useKeys } from '@/parts/keys'
import { useJob } from '@/parts/job'

/**
 * Keeps what is entered of a supplier or an item, and goes to its page. Where somebody else changed it meanwhile, what
 * was typed stays, and keeping it once more puts it over theirs.
 */
export function useKeeping(
  kind: 'supplier' | 'item',
  made: string | undefined,
  entry: { post: () => Promise<{ number: string }>; clear: () => void; renew: () => void },
) {
  const router = useRouter()
  const client = useQueryClient()
  const arrive = useArrive()
  const { refusal, at, busy, send } = useJob()
  async function save() {
    const done = await send(entry.post)
    if (done) {
      entry.clear()
      await arrive(
        `/setup/${kind}s/${done.number}`,
        `${kind === 'supplier' ? 'Supplier' : 'Item'} ${done.number} is ${made ? 'changed' : 'entered'}.`,
      )
    } else if (refusal.value?.problem.kind === 'changed') {
      await client.invalidateQueries({ queryKey: [kind, made] })
      entry.renew()
    }
  }
  async function throwAway() {
    entry.clear()
    await router.push(`/setup/${kind}s/${made ?? ''}`)
  }
  useKeys(() => [{ key: 'Ctrl+Enter', label: `keep the ${kind}`, run: () => void save() }])
  return { at, busy, save, throwAway }
}
