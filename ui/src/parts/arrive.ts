import { useQueryClient } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import { readAgain } from '@/api/fresh'
import { tell, type Notice } from './notice'

/**
 * Where a job ends: the page moves to what the job made, then says what was done. In this order, so that whoever reads
 * the sentence stands on the new page, and the next key goes there.
 */
export function useArrive() {
  const router = useRouter()
  const client = useQueryClient()
  return async (at: string, done: string, links: Notice['links'] = []): Promise<void> => {
    const fresh = readAgain(client)
    await router.push(at)
    tell(done, links)
    await fresh
  }
}
