import type { QueryClient } from '@tanstack/vue-query'

/** What was shown before is forgotten, so that nobody acts on it when its page opens again. */
export function forget(client: QueryClient): void {
  client.removeQueries({ predicate: (query) => query.getObserversCount() === 0 })
}

/** Something has changed: what is shown is read again, the rest when it is opened. */
export function readAgain(client: QueryClient): Promise<void> {
  forget(client)
  return client.invalidateQueries()
}
