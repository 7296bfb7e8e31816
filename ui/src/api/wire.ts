import { ref } from 'vue'

// A person notices waiting after about this long; sooner, a sign of progress only flickers.
const noticed = 400
const retryAfter = [300, 1200]

/** Whether an answer has been waited for so long that it should be seen. */
export const slow = ref(false)

/** What happens when Lagoon cannot be reached; set by the application. */
export const onLost: { call: () => void } = { call: () => {} }

// What is being asked; leaving gives it up.
let asking = new AbortController()

/** Gives up every question that is on its way. */
export function giveUp(): void {
  asking.abort()
  asking = new AbortController()
}

const waiting = new Set<symbol>()

async function watched<T>(work: () => Promise<T>): Promise<T> {
  const one = Symbol()
  waiting.add(one)
  const timer = setTimeout(() => (slow.value = waiting.size > 0), noticed)
  try {
    return await work()
  } finally {
    clearTimeout(timer)
    waiting.delete(one)
    if (waiting.size === 0) slow.value = false
  }
}

/** Questions may be asked again, and commands that carry a key are done once however often they are sent. */
function safe(request: Request): boolean {
  return request.method === 'GET' || request.headers.has('Idempotency-Key')
}

/** Fetches, shows when it takes long, and asks again where that is safe and Lagoon was not reached. */
export function send(request: Request): Promise<Response> {
  const question = request.method === 'GET' ? { signal: asking.signal } : {}
  return watched(async () => {
    for (let failures = 0; ; failures++) {
      try {
        return await fetch(request.clone(), question)
      } catch (e) {
        if (question.signal?.aborted) throw e
        const wait = retryAfter[failures]
        if (wait === undefined || !safe(request) || request.signal.aborted) {
          onLost.call()
          throw e
        }
        await new Promise((done) => setTimeout(done, wait))
      }
    }
  })
}
