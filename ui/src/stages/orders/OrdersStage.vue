<script setup lang="ts">
import { computed } from 'vue'
import { useInfiniteQuery, useQuery } from '@tanstack/vue-query'
import { useRoute, useRouter } from 'vue-router'
import { api, unwrap, type OrderSlip, type Verdict } from '@/api/client'
import NoticeBar from '@/parts/NoticeBar.vue'
import OrderThread from '@/parts/OrderThread.vue'
import SlipPile from '@/parts/SlipPile.vue'
import { useKeys } from '@/parts/keys'
import { show, showDay, showInstant } from '@/parts/numbers'
import { has, today } from '@/parts/session'
import ClosingView from './ClosingView.vue'
import OrderForm from './OrderForm.vue'
import OrderSheet from './OrderSheet.vue'
import PlannedView from './PlannedView.vue'
import RemindersView from './RemindersView.vue'

const route = useRoute()
const router = useRouter()
const number = computed(() => Number(route.params['number']) || 0)
const entering = computed(() => route.meta['entering'] === true)
const view = computed(() => (typeof route.meta['view'] === 'string' ? route.meta['view'] : ''))
const changed = computed(() => (entering.value && number.value && !route.meta['kept'] ? number.value : undefined))
const kept = computed(() => (route.meta['kept'] ? number.value : undefined))
const { data: drafts } = useQuery({ queryKey: ['drafts'], queryFn: () => unwrap(api.GET('/api/drafts')) })
const { data: suppliers } = useQuery({ queryKey: ['suppliers'], queryFn: () => unwrap(api.GET('/api/suppliers')) })
const nameOf = (code: string) => suppliers.value?.find((s) => s.code === code)?.name ?? code

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
const { data: order, error } = useQuery({
  queryKey: ['order', number],
  queryFn: () => unwrap(api.GET('/api/orders/{number}', { params: { path: { number: number.value } } })),
  enabled: computed(() => number.value > 0 && !entering.value),
})

function mark(o: OrderSlip): { verdict: Verdict; text: string } {
  if (o.state !== 'issued') return { verdict: 'agrees', text: o.state }
  if (o.done === o.lines && o.received === 0) return { verdict: 'agrees', text: 'closed, nothing came' }
  if (o.done === o.lines) return { verdict: 'agrees', text: o.billed >= o.received ? 'all here, invoiced' : 'all here' }
  if (o.wantedOn < today.value) return { verdict: 'outside', text: 'goods overdue' }
  return { verdict: 'waiting', text: o.received > 0 ? 'part received' : `wanted ${showDay(o.wantedOn, today.value)}` }
}
const groups = computed(() => [
  ...((drafts.value?.length ?? 0) > 0
    ? [
        {
          title: 'Drafts',
          note: 'being written',
          empty: '',
          slips: (drafts.value ?? []).map((d) => ({
            to: `/orders/drafts/${d.number}`,
            verdict: 'waiting' as const,
            title: nameOf(d.supplier) || 'no supplier yet',
            figure: `draft ${d.number}`,
            left: d.by,
            right: showInstant(d.at, today.value),
          })),
        },
      ]
    : []),
  {
    title: 'Orders',
    note: 'newest first',
    empty: 'No order is issued yet. Suppliers, items and budgets are entered in Set up; then the first order can be.',
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
useKeys(() => (has('buyer') && !entering.value ? [{ key: 'n', label: 'enter an order', run: () => void router.push('/orders/new') }] : []))
</script>

<template>
  <main class="desk" :class="{ wide: entering || view }">
    <SlipPile label="Orders" :groups="groups" :loading="isPending">
      <div v-if="has('buyer')" class="p-3 pb-1">
        <BButton size="sm" :variant="entering || view ? 'outline-secondary' : 'primary'" to="/orders/new">Enter an order</BButton>
      </div>
      <nav class="px-3 pt-2 ways" aria-label="Work on orders">
        <RouterLink to="/orders/reminders">Reminders</RouterLink> · <RouterLink to="/orders/closing">Close lines</RouterLink> ·
        <RouterLink to="/orders/planned">Planned</RouterLink>
      </nav>
    </SlipPile>
    <OrderForm v-if="entering" :key="route.path" :change="changed" :draft-number="kept" />
    <ClosingView v-else-if="view === 'closing'" />
    <RemindersView v-else-if="view === 'reminders'" />
    <PlannedView v-else-if="view === 'planned'" />
    <section v-else class="sheet" aria-label="Order">
      <NoticeBar />
      <div v-if="error" class="nothing" role="alert">{{ error.message }}</div>
      <div v-else-if="!number" class="nothing">
        <h1>Orders</h1>
        <p>Choose an order on the left with <kbd>↑</kbd> <kbd>↓</kbd> and <kbd>Enter</kbd>, or find one by its number with <kbd>/</kbd>.</p>
        <BButton v-if="hasNextPage" variant="outline-secondary" @click="() => fetchNextPage()">Show older orders in the pile</BButton>
      </div>
      <OrderSheet v-else-if="order" :key="order.number" :order="order" />
    </section>
    <aside v-if="!entering && !view" class="side" aria-label="Thread of the order">
      <OrderThread v-if="order && number" :events="order.thread" :title="`Thread of ${order.number}`" />
    </aside>
  </main>
</template>
