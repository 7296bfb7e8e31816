import { ref } from 'vue'
import { api, unwrap, type FirstSending, type OrderEntry, type Outgoing } from '@/api/client'
import { told, type Telling } from '@/parts/telling'

/** What became of an order that was sent in: it may wait for an approver. */
export interface Issued {
  number: string
  waits?: boolean
}

/** What goes out is looked at before the order is issued; then both are done in one act, or the order is only issued. */
export function useIssuing(
  entry: () => OrderEntry,
  submit: (job: () => Promise<Issued>, says: (number: string) => string) => unknown,
  supplier: () => string,
) {
  const outgoing = ref<Outgoing>()
  let shown = true // with prices, as it was looked at last
  async function lookAgain(prices = shown) {
    shown = prices
    outgoing.value = await unwrap(api.POST('/api/orders/letter', { params: { query: { prices } }, body: entry() }))
  }
  const issueNow = (send: FirstSending | undefined, telling: Telling) =>
    submit(
      () => unwrap(api.POST('/api/orders', { body: { ...entry(), ...(send ? { send } : {}) } })),
      (number) => `Order ${number} is issued to ${supplier()}. ${send ? told(telling) : 'Nobody was told of it yet.'}`,
    )
  return { outgoing, lookAgain, issueNow }
}
