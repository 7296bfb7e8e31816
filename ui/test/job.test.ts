import { describe, expect, it, vi } from 'vitest'
import { createApp, watch } from 'vue'
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { createMemoryHistory, createRouter } from 'vue-router'
import { Refusal } from '@/api/client'
import { useJob } from '@/parts/job'

vi.stubGlobal('document', { querySelector: () => null })

/** A job as a component has it. */
function job() {
  const app = createApp({})
  app.use(VueQueryPlugin, { queryClient: new QueryClient() })
  app.use(createRouter({ history: createMemoryHistory(), routes: [] }))
  return app.runWithContext(() => useJob())
}
const refused = () =>
  Promise.reject(new Refusal({ kind: 'invalid', sentence: '“maren” is no mail address.', field: 'mail', problems: [] }))

describe('a job', () => {
  it('is sent once, however often it is given while it is on its way', async () => {
    const { send, busy } = job()
    let answer: (given: number) => void = () => {}
    const first = send(() => new Promise<number>((done) => (answer = done)))
    expect(busy.value).toBe(true)
    expect(await send(() => Promise.resolve(2))).toBe(undefined)
    answer(1)
    expect(await first).toBe(1)
    expect(busy.value).toBe(false)
  })

  it('is sent again by whoever reads at once why it was refused', async () => {
    const { send, refusal, busy, trouble } = job()
    let second: Promise<number | undefined> | undefined
    watch(refusal, (read) => read && (second = send(() => Promise.resolve(2))), { flush: 'sync' })
    await send(refused)
    expect(await second).toBe(2)
    expect([trouble.value, busy.value]).toEqual(['', false])
  })
})
