import { computed, ref } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import { Refusal } from '@/api/client'
import { readAgain } from '@/api/fresh'
import { focusFault } from './fields'
import { tell, warn, type Notice } from './notice'

interface Form {
  /** Where its fields are. */
  within?: string
  /** The fields whose sentence it says itself, beside none of them; '' is what belongs to no field, 'all' is every sentence. */
  says?: string[] | 'all'
  /** What it does about a refusal before the focus goes to the field. */
  faced?: (refusal: Refusal) => unknown
}

type Of<T, R> = R | ((answer: T) => R)

interface Then<T> {
  /** What is said once it is done; nothing where that shows anyway. */
  done?: Of<T, string>
  links?: Of<T, Notice['links']>
  /** The page that it leads to: whoever reads the sentence stands there, and the next key goes there. */
  at?: Of<T, string>
  /** What is closed or emptied before all that is shown is read again. */
  after?: (answer: T) => unknown
}

function of<T, R>(given: Of<T, R> | undefined, answer: T): R | undefined {
  return typeof given === 'function' ? (given as (answer: T) => R)(answer) : given
}

/**
 * A job that a component gives: it is sent once at a time; once it is done, what is shown is read again and one sentence
 * says what was done. What is wrong with it is kept for its fields, of which the first gets the focus; what the component
 * does not say stands in the notice. Where somebody was quicker, what is shown is read again as well.
 */
export function useJob({ within = '.sheet', says = [], faced }: Form = {}) {
  const client = useQueryClient()
  const router = useRouter()
  const failed = ref<Error>()
  const busy = ref(false)

  /** The answer, or undefined where it was refused or is on its way already. */
  async function send<T>(work: () => Promise<T>, then?: Then<T>): Promise<T | undefined> {
    if (busy.value) return undefined
    busy.value = true
    failed.value = undefined
    try {
      const answer = await work()
      await then?.after?.(answer)
      const fresh = then && readAgain(client)
      const at = of(then?.at, answer)
      if (at) await router.push(at)
      else await fresh
      busy.value = false // whoever reads what was done, or why not, can send again
      const done = of(then?.done, answer)
      if (done) tell(done, of(then?.links, answer))
      await fresh
      return answer
    } catch (e) {
      const changed = e instanceof Refusal && e.problem.kind === 'changed'
      if (changed) await (faced ? faced(e) : readAgain(client)) // it is said beside what stands now
      busy.value = false
      failed.value = e as Error
      if (e instanceof Refusal) {
        if (!changed) await faced?.(e)
        if (await focusFault(within)) return undefined
        if (says !== 'all' && says.includes(e.problem.field)) return undefined
      }
      if (says !== 'all') warn(e)
      return undefined
    }
  }
  const refusal = computed({
    get: () => (failed.value instanceof Refusal ? failed.value : undefined),
    set: (r) => (failed.value = r),
  })
  return {
    busy,
    send,
    refusal,
    /** The sentence that belongs to a field. */
    at: (field: string) => refusal.value?.at(field),
    /** Whatever is wrong, in one sentence. */
    trouble: computed(() => failed.value?.message ?? ''),
    /** Forgets what was wrong. */
    forget: () => (failed.value = undefined),
  }
}
