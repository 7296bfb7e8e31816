<script setup lang="ts">
import { computed, ref } from 'vue'
import { useInfiniteQuery, useQuery } from '@tanstack/vue-query'
import { useRoute, useRouter } from 'vue-router'
import { api, unwrap, type OrderSlip, type Verdict } from '@/api/client'
import AskReason from '@/parts/AskReason.vue'
import LineGauge from '@/parts/LineGauge.vue'
import NoticeBar from '@/parts/NoticeBar.vue'
import OrderThread from '@/parts/OrderThread.vue'
import SlipPile from '@/parts/SlipPile.vue'
import { useKeys } from '@/parts/keys'
import { tell } from '@/parts/notice'
import { price, show, showDay } from '@/parts/numbers'
import { has, today } from '@/parts/session'
import OrderForm from './OrderForm.vue'

const route = useRoute()
const router = useRouter()
const number = computed(() => Number(route.params['number']) || 0)
const entering = computed(() => route.meta['entering'] === true)

const {
  data: pages,
  isPending,
  hasNextPage,
  fetchNextPage,
} = useInfiniteQuery({
  queryKey: ['orders'],
  queryFn: ({ pageParam }) => unwrap(api.GET('/api/orders', { params: { query: pageParam ? { before: pageParam } : {} } })),
  initialPageParam: 0,
  getNextPageParam: (last: OrderSlip[]) => (last.length === 60 ? last[59]!.number : undefined),
})
const {
  data: order,
  error,
  refetch,
} = useQuery({
  queryKey: ['order', number],
  queryFn: () => unwrap(api.GET('/api/orders/{number}', { params: { path: { number: number.value } } })),
  enabled: computed(() => number.value > 0),
})

function mark(o: OrderSlip): { verdict: Verdict; text: string } {
  if (o.state !== 'issued') return { verdict: 'agrees', text: o.state }
  if (o.done === o.lines) return { verdict: 'agrees', text: o.billed >= o.received ? 'all here, invoiced' : 'all here' }
  if (o.wantedOn < today.value) return { verdict: 'outside', text: 'goods overdue' }
  return { verdict: 'waiting', text: o.received > 0 ? 'part received' : `wanted ${showDay(o.wantedOn, today.value)}` }
}
const groups = computed(() => [
  {
    title: 'Orders',
    note: 'newest first',
    empty: 'No order is issued yet. Issued orders appear here.',
    slips: (pages.value?.pages.flat() ?? []).map((o) => ({
      to: `/orders/${o.number}`,
      verdict: mark(o).verdict,
      title: o.supplier,
      figure: show(o.net),
      left: String(o.number),
      mono: true,
      right: mark(o).text,
    })),
  },
])
const progress: Record<string, string> = {
  issued: 'issued',
  part_received: 'part received',
  received: 'received',
  part_invoiced: 'part invoiced',
  invoiced: 'received and invoiced',
  closed: 'closed',
  cancelled: 'cancelled',
  draft: 'draft',
}
const expecting = computed(() => order.value?.lines.some((l) => Number(l.rest) > 0) ?? false)
const freeLine = ref(0)
const freeError = ref('')
async function free(note: string) {
  if (!order.value) return
  try {
    const answer = await unwrap(
      api.POST('/api/orders/{number}/free', {
        params: { path: { number: number.value } },
        body: { line: freeLine.value, note, version: order.value.version },
      }),
    )
    tell(
      `${show(answer.quantity)} on line ${freeLine.value} accepted as free of charge; the line is closed.`,
      answer.entry ? [{ to: `/lookup/journal/${answer.entry}`, text: `Ledger entry ${answer.entry}` }] : [],
    )
    freeLine.value = 0
    await refetch()
  } catch (e) {
    freeError.value = (e as Error).message
  }
}
function askFree(no: number) {
  freeError.value = ''
  freeLine.value = no
}
useKeys(() => [
  ...(has('buyer') ? [{ key: 'n', label: 'enter an order', run: () => void router.push('/orders/new') }] : []),
  ...(order.value && expecting.value && has('receiver')
    ? [{ key: 'd', label: 'book a delivery', run: () => void router.push(`/receiving/${number.value}`) }]
    : []),
  ...(order.value && has('clerk')
    ? [{ key: 'k', label: 'key an invoice', run: () => void router.push(`/invoices/key?order=${number.value}`) }]
    : []),
])
</script>

<template>
  <main class="desk" :class="{ wide: entering }">
    <SlipPile label="Orders" :groups="groups" :loading="isPending">
      <div v-if="has('buyer')" class="p-3 pb-1">
        <BButton size="sm" :variant="entering ? 'outline-secondary' : 'primary'" to="/orders/new">Enter an order</BButton>
      </div>
    </SlipPile>
    <OrderForm v-if="entering" />
    <section v-else class="sheet" aria-label="Order">
      <NoticeBar />
      <div v-if="error" class="nothing" role="alert">{{ error.message }}</div>
      <div v-else-if="!number" class="nothing">
        <h1>Orders</h1>
        <p>Choose an order on the left with <kbd>↑</kbd> <kbd>↓</kbd> and <kbd>Enter</kbd>, or find one by its number with <kbd>/</kbd>.</p>
        <BButton v-if="hasNextPage" variant="outline-secondary" @click="() => fetchNextPage()">Show older orders in the pile</BButton>
      </div>
      <template v-else-if="order">
        <header>
          <div class="headline">
            <h1>
              {{ order.supplier.name }} <span class="mono fw-medium">{{ order.number }}</span>
            </h1>
            <span class="fw-semibold">{{ progress[order.progress] }}</span>
          </div>
          <dl class="facts">
            <div>
              <dt>Issued</dt>
              <dd>{{ showDay(order.issuedOn, today) }}</dd>
            </div>
            <div>
              <dt>Wanted</dt>
              <dd>{{ showDay(order.wantedOn, today) }}</dd>
            </div>
            <div>
              <dt>Asked for by</dt>
              <dd>{{ order.requestedBy }}</dd>
            </div>
            <div>
              <dt>To</dt>
              <dd>{{ order.place }}</dd>
            </div>
            <div>
              <dt>Net</dt>
              <dd>
                <b>{{ show(order.net) }} {{ order.currency }}</b>
              </dd>
            </div>
          </dl>
        </header>
        <div class="body" tabindex="0">
          <table class="grid">
            <thead>
              <tr>
                <th>Line</th>
                <th class="num">Ordered</th>
                <th class="num">Received</th>
                <th class="num">Invoiced</th>
                <th class="num">Unit price</th>
                <th class="num">Net</th>
                <th>Gauge</th>
              </tr>
            </thead>
            <tbody>
              <template v-for="l in order.lines" :key="l.no">
                <tr>
                  <td>
                    <b>{{ l.description }}</b><br />
                    <span class="muted"
                      >{{ l.unitName }} · {{ l.budget
                      }}<template v-if="l.supplierCode">
                        · <span class="mono">{{ l.supplierCode }}</span></template
                      ></span
                    >
                    <template v-if="l.closedGoods"><br /><span class="muted">closed: no more goods</span></template>
                  </td>
                  <td class="num">{{ show(l.quantity) }}</td>
                  <td class="num">{{ show(l.received) }}</td>
                  <td class="num">
                    {{ show(l.billed)
                    }}<template v-if="Number(l.reserved) > 0"
                      ><br /><span class="muted">+ {{ show(l.reserved) }} open</span></template
                    >
                  </td>
                  <td class="num">{{ price(l.price) }}</td>
                  <td class="num">{{ show(l.net) }}</td>
                  <td>
                    <LineGauge :line="l" />
                    <button
                      v-if="
                        has('approver') &&
                        l.level === 'three_way' &&
                        !l.closedInvoices &&
                        Number(l.received) - Number(l.billed) - Number(l.reserved) > 0 &&
                        Number(l.rest) === 0
                      "
                      type="button"
                      class="linkish d-block small"
                      @click="askFree(l.no)"
                    >
                      Rest is free of charge…
                    </button>
                  </td>
                </tr>
                <tr v-if="freeLine === l.no" class="said">
                  <td colspan="7">
                    <AskReason
                      id="free"
                      title="Accept the rest as free of charge."
                      books="Takes what is received and not invoiced out of goods received, not invoiced, and closes the line. No invoice can come on it any more."
                      label="Why it is free"
                      action="Accept as free"
                      :error="freeError"
                      @done="free"
                      @cancel="freeLine = 0"
                    />
                  </td>
                </tr>
              </template>
            </tbody>
          </table>
        </div>
        <div class="bar">
          <BButton v-if="expecting && has('receiver')" variant="primary" :to="`/receiving/${order.number}`">Book a delivery</BButton>
          <BButton v-if="has('clerk')" variant="outline-secondary" :to="`/invoices/key?order=${order.number}`">Key an invoice</BButton>
          <span class="sum">{{ order.lines.length }} lines, {{ show(order.net) }} {{ order.currency }} without tax</span>
        </div>
      </template>
    </section>
    <aside v-if="!entering" class="side" aria-label="Thread of the order">
      <OrderThread v-if="order && number" :events="order.thread" :title="`Thread of ${order.number}`" />
    </aside>
  </main>
</template>
