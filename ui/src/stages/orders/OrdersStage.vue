<script setup lang="ts">
import { computed } from 'vue'
import { useInfiniteQuery, useQuery } from '@tanstack/vue-query'
import { useRoute, useRouter } from 'vue-router'
import { api, unwrap, type OrderSlip, type Verdict } from '@/api/client'
import { expectedList, suppliersQuery } from '@/api/queries'
import SlipPile from '@/parts/SlipPile.vue'
import type { Slip, SlipGroup } from '@/parts/slip'
import { useKeys } from '@/parts/keys'
import { distance, show, showInstant, sums } from '@/parts/numbers'
import { current, may, person, today } from '@/parts/session'
import { placeOf } from '@/parts/places'
import { questionGroups, questionsQuery } from '@/parts/questions'

const route = useRoute()
const router = useRouter()
const { data: drafts } = useQuery({ queryKey: ['drafts'], queryFn: () => unwrap(api.GET('/api/drafts')) })
const { data: suppliers } = useQuery(suppliersQuery)
const nameOf = (code: string) => suppliers.value?.find((s) => s.code === code)?.name ?? code

const {
  data: pages,
  isPending,
  hasNextPage,
  fetchNextPage,
} = useInfiniteQuery({
  queryKey: ['orders'],
  queryFn: ({ pageParam }) =>
    unwrap(api.GET('/api/orders', { params: { query: pageParam ? { before: pageParam } : {} } })),
  initialPageParam: 0,
  getNextPageParam: (last: OrderSlip[]) =>
    last.length === current.value?.ordersAtOnce ? last.at(-1)?.number : undefined,
})

const { data: questions } = useQuery(questionsQuery)
const { data: waiting } = useQuery({
  queryKey: ['orders', 'waiting'],
  queryFn: () => unwrap(api.GET('/api/orders/waiting')),
})
/** What invoices wait for on this person's orders, so long that it is chased. */
const { data: chased } = useQuery({
  queryKey: ['orders', 'chased'],
  queryFn: () =>
    unwrap(api.GET('/api/lists/{list}', { params: { path: { list: 'waiting' }, query: { show: 'chase;mine' } } })),
  enabled: computed(() => may('issueOrder')),
})
const chasing = computed(() => {
  const at = (key: string) => chased.value?.columns.findIndex((c) => c.key === key) ?? -1
  return (chased.value?.rows ?? []).map((row) => {
    const of = (key: string) => row.cells[at(key)]?.t ?? ''
    return {
      to: placeOf.order(Number(of('order'))),
      verdict: 'waiting' as const,
      title: of('supplier'),
      figure: show(of('value')),
      left: of('order'),
      about: `${of('goods')}, ${show(of('missing'))} ${of('unit')} missing`,
      mono: true,
      right: `an invoice waits ${of('days')} ${of('days') === '1' ? 'day' : 'days'}`,
    }
  })
})
const { data: expected, isPending: expecting } = useQuery(expectedList)
const cut = computed(() => (expected.value?.more ?? 0) > 0)
/** Orders of which somebody here is to say what is done. */
const work = computed(() =>
  (expected.value?.rows ?? []).filter((o) => o.work > 0 && o.requestedBy === person.value?.name),
)
const rest = computed(() => (expected.value?.rows ?? []).filter((o) => !work.value.includes(o)))
const late = computed(() => rest.value.filter((o) => o.wantedOn < today.value))
const others = computed(() => {
  const shown = new Set([
    ...(expected.value?.rows ?? []).map((o) => o.number),
    ...(waiting.value?.rows ?? []).map((w) => w.order.number),
  ])
  return (pages.value?.pages.flat() ?? []).filter((o) => !shown.has(o.number))
})
const awaits = (o: OrderSlip) => o.state === 'issued' && o.done < o.lines
const coming = computed(() => [...rest.value.filter((o) => o.wantedOn >= today.value), ...others.value.filter(awaits)])
const ended = computed(() => others.value.filter((o) => !awaits(o)))

function end(o: OrderSlip): string {
  if (o.state !== 'issued') return o.state
  if (o.received === 0) return 'closed, nothing came'
  return o.billed >= o.received ? 'all here, invoiced' : 'all here'
}
const slip = (o: OrderSlip, verdict: Verdict, right: string): Slip => ({
  to: placeOf.order(o.number),
  verdict,
  title: o.supplier,
  figure: show(o.net),
  left: String(o.number),
  about: o.about,
  mono: true,
  right,
})
const worth = (orders: OrderSlip[]) => sums(orders.map((o) => ({ amount: o.net, currency: o.currency })))
const groups = computed<SlipGroup[]>(() => {
  const written = (drafts.value?.rows ?? []).map((d) => ({
    to: placeOf.draft(d.number),
    verdict: 'waiting' as const,
    title: nameOf(d.supplier) || 'no supplier yet',
    figure: `draft ${d.number}`,
    left: d.by,
    right: showInstant(d.at, today.value),
  }))
  const none = pages.value?.pages[0]?.length === 0
  const decide = (yours: boolean) =>
    (waiting.value?.rows ?? [])
      .filter((w) => w.yours === yours)
      .map((w) => slip(w.order, 'waiting', w.order.state === 'draft' ? 'to be approved' : 'change to be approved'))
  const [yours, theirs] = [decide(true), decide(false)]
  const isLate = new Set(late.value.map((o) => String(o.number)))
  const wait = chasing.value.filter((c) => !isLate.has(c.left))
  const asked = new Set(chasing.value.map((c) => c.left))
  return [
    ...questionGroups(questions.value, 'order', today.value),
    ...(yours.length ? [{ title: 'For you to approve', note: 'oldest first', empty: '', slips: yours }] : []),
    ...(theirs.length ? [{ title: 'With the approvers', note: 'oldest first', empty: '', slips: theirs }] : []),
    ...(work.value.length
      ? [
          {
            title: 'For you to accept',
            note: 'what is done of it',
            empty: '',
            slips: work.value.map((o) => slip(o, 'waiting', distance(o.wantedOn, today.value))),
          },
        ]
      : []),
    {
      title: may('issueOrder') ? 'Your turn' : 'With the buyers',
      note: 'goods are late',
      empty: 'No goods are late.',
      sum: worth(late.value),
      slips: late.value.map((o) =>
        slip(o, 'outside', `${distance(o.wantedOn, today.value)}${asked.has(String(o.number)) ? ', invoiced' : ''}`),
      ),
    },
    ...(wait.length ? [{ title: 'Invoices wait for goods', note: '', empty: '', slips: wait }] : []),
    ...(written.length > 0 ? [{ title: 'Drafts', note: 'being written', empty: '', slips: written }] : []),
    {
      title: 'On the way',
      note: 'by day',
      open: cut.value,
      empty: none
        ? 'No order is issued yet. Suppliers, items and budgets are entered in Set up; then the first order can be.'
        : 'No goods are expected.',
      sum: cut.value ? '' : worth(coming.value),
      slips: coming.value.map((o) =>
        slip(o, 'waiting', `${o.received > 0 ? 'part received, ' : ''}${distance(o.wantedOn, today.value)}`),
      ),
    },
    ...(ended.value.length > 0
      ? [
          {
            title: 'Nothing to come',
            note: 'newest first',
            open: true,
            empty: '',
            slips: ended.value.map((o) => slip(o, 'agrees', end(o))),
          },
        ]
      : []),
  ]
})
useKeys(() =>
  may('issueOrder') && route.meta['help'] !== 'orders entering'
    ? [{ key: 'n', label: 'enter an order', run: () => void router.push('/orders/new') }]
    : [],
)
</script>

<template>
  <main class="desk">
    <SlipPile
      label="Orders"
      :groups="groups"
      :loading="isPending || expecting"
      :more="(expected?.more ?? 0) + (drafts?.more ?? 0) + (waiting?.more ?? 0)"
    >
      <div v-if="may('issueOrder')" class="p-3 pb-1">
        <BButton size="sm" variant="primary" to="/orders/new">Enter an order</BButton>
      </div>
      <nav class="px-3 pt-2 ways" aria-label="Work on orders">
        <RouterLink to="/orders/reminders">Reminders</RouterLink> ·
        <RouterLink to="/orders/closing">Close lines</RouterLink> ·
        <RouterLink to="/orders/planned">Planned</RouterLink>
      </nav>
      <template v-if="hasNextPage" #end>
        <button type="button" class="linkish px-3 py-2" @click="() => fetchNextPage()">Show older orders</button>
      </template>
    </SlipPile>
    <RouterView v-slot="{ Component }"><component :is="Component" :key="route.path" /></RouterView>
  </main>
</template>
