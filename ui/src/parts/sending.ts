import { ref } from 'vue'
import { Refusal } from '@/api/client'
import { focusFault } from './fields'
import { warn } from './notice'

/** Sends an entry once at a time, and keeps what is wrong with it for its fields. */
export function useSending(within = '.sheet') {
  const refusal = ref<Refusal>()
  const busy = ref(false)

  /** The answer, or undefined where it was refused or is on its way already. */
  async function send<T>(work: () => Promise<T>): Promise<T | undefined> {
    if (busy.value) return undefined
    busy.value = true
    refusal.value = undefined
    try {
      return await work()
    } catch (e) {
      if (e instanceof Refusal) refusal.value = e
      if (!(e instanceof Refusal) || e.problem.problems.length === 0) warn(e)
      await focusFault(within)
      return undefined
    } finally {
      busy.value = false
    }
  }
  return { refusal, busy, send, at: (field: string) => refusal.value?.at(field) }
}
