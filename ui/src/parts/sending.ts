import { ref } from 'vue'
import { Refusal } from '@/api/client'
import { focusFault } from './fields'
import { warn } from './notice'

interface Form {
  /** Where its fields are. */
  within?: string
  /** The fields whose sentence it says itself, beside none of them; '' is what belongs to no field. */
  says?: string[]
  /** What it does about a refusal before the focus goes to the field. */
  faced?: (refusal: Refusal) => unknown
}

/**
 * Sends an entry once at a time, and keeps what is wrong with it for its fields: the first of them gets the focus.
 * What the form does not say stands in the notice.
 */
export function useSending({ within = '.sheet', says = [], faced }: Form = {}) {
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
      if (e instanceof Refusal) {
        refusal.value = e
        await faced?.(e)
        if (await focusFault(within)) return undefined
        if (says.includes(e.problem.field)) return undefined
      }
      warn(e)
      return undefined
    } finally {
      busy.value = false
    }
  }
  return { refusal, busy, send, at: (field: string) => refusal.value?.at(field) }
}
