<script setup lang="ts">
// Finds order lines that something can still come on and closes several at once, after showing what that releases; or
// finds closed ones and opens them again.
import { computed, ref, watch } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { useRoute, useRouter } from 'vue-router'
import { api, unwrap, type Closing, type OpenLine } from '@/api/client'
import { companyQuery, itemsQuery, suppliersQuery } from '@/api/queries'
import AskReason from '@/parts/AskReason.vue'
import MoreRows from '@/parts/MoreRows.vue'
import NoticeBar from '@/parts/NoticeBar.vue'
import PickField from '@/parts/PickField.vue'
import TextField from '@/parts/TextField.vue'
import TickBox from '@/parts/TickBox.vue'
import { useKeys } from '@/parts/keys'
import { warn } from '@/parts/notice'
import { plus } from '@/parts/days'
import { show, showDay } from '@/parts/numbers'
import { may as allowed, today } from '@/parts/session'
import { useJob } from '@/parts/job'
import { placeOf } from '@/parts/places'

const route = useRoute()
const router = useRouter()
const here = route.path
const names = ['order', 'supplier', 'item', 'budget', 'by', 'from', 'until', 'closed'] as const
type Filter = Record<(typeof names)[number], string>
// The filter stands in the address, so that the list is the same on return and can be shared.
const asked = () => Object.fromEntries(names.map((n) => [n, String(route.query[n] ?? '')])) as Filter
const filter = ref(asked())
watch(filter, (f) => void router.replace({ query: Object.fromEntries(Object.entries(f).filter(([, v]) => v)) }), {
  deep: true,
})
const { data: list, isPending } = useQuery({
  queryKey: ['lines', filter],
  queryFn: () => {
    const { order, closed, ...rest } = filter.value
    return unwrap(
      api.GET('/api/lines', { params: { query: { ...rest, order: Number(order) || 0, closed: closed !== '' } } }),
    )
  },
})
const lines = computed(() => list.value?.rows)
const closed = computed(() => filter.value.closed !== '')
const { data: suppliers } = useQuery(suppliersQuery)
const { data: items } = useQuery(itemsQuery)
const { data: frame } = useQuery(companyQuery)
const some = <T,>(list: T[] | undefined, of: (x: T) => { value: string; text: string }) => [
  { value: '', text: 'all' },
  ...(list ?? []).map(of),
]

const ages = [
  { value: '', text: 'any age' },
  { value: '30', text: 'last 30 days' },
  { value: '90', text: 'last 90 days' },
  { value: 'year', text: 'this year' },
  { value: 'older', text: 'older than 90 days' },
]
const age = ref('')
watch(age, (a) => {
  const back = (days: number) => plus(today.value, -days)
  filter.value.from =
    a === 'year' ? `${today.value.slice(0, 4)}-01-01` : a === '30' || a === '90' ? back(Number(a)) : ''
  filter.value.until = a === 'older' ? back(90) : ''
})
const chosen = ref<string[]>([])
const key = (l: OpenLine) => `${l.order}/${l.line}`
let whole = filter.value.order !== '' // whoever comes from an order means all of it
watch(
  () => route.query,
  () => {
    const other = asked()
    if (route.path !== here || names.every((n) => other[n] === filter.value[n])) return
    whole = other.order !== ''
    filter.value = other // a link led to other lines
  },
)
watch(
  lines,
  (all) => {
    if (!all) return
    chosen.value = whole ? all.map(key) : chosen.value.filter((c) => all.some((l) => key(l) === c))
    whole = false
  },
  { immediate: true },
)
const picked = computed(() => (lines.value ?? []).filter((l) => chosen.value.includes(key(l))))
function toggle(l: OpenLine) {
  chosen.value = chosen.value.includes(key(l)) ? chosen.value.filter((c) => c !== key(l)) : [...chosen.value, key(l)]
}
const goods = ref(true)
const invoices = ref(false)
const plan = ref<Closing>()
const body = (reason: string) => ({
  lines: picked.value.map((l) => ({ order: l.order, line: l.line })),
  goods: goods.value,
  invoices: invoices.value,
  reason,
})
async function preview() {
  forget()
  if (!may.value || picked.value.length === 0 || (!goods.value && !invoices.value)) return
  if (closed.value) {
    reopening.value = true
    return
  }
  plan.value = await unwrap(api.POST('/api/lines/closing', { body: body('') })).catch((e: unknown) => {
    warn(e)
    return undefined
  })
}
const reopening = ref(false)
watch(closed, (is) => (invoices.value = is), { immediate: true }) // what is opened again is opened altogether
watch([picked, goods, invoices, closed], () => {
  plan.value = undefined
  reopening.value = false
})
const several = (n: number) => `${n} ${n === 1 ? 'line is' : 'lines are'}`
const { send, trouble, forget } = useJob({ says: 'all' })
function give(work: () => Promise<unknown>, what: string) {
  const lines = picked.value
  return send(work, {
    after: () => {
      reopening.value = false
      plan.value = undefined
      chosen.value = []
    },
    done: `${several(lines.length)} ${what}.`,
    links: [{ to: placeOf.order(lines[0]?.order), text: `Order ${lines[0]?.order}` }],
  })
}
const reopen = (reason: string) =>
  give(() => unwrap(api.POST('/api/lines/reopen', { body: body(reason) })), 'open again')
const against = (i: number) => plan.value?.problems.find((p) => p.field === `lines[${i}]`)?.sentence
const close = (reason: string) => give(() => unwrap(api.POST('/api/lines/close', { body: body(reason) })), 'closed')
const may = computed(() => allowed('closeLines'))
useKeys(() =>
  may.value
    ? [
        { key: 'a', label: 'choose all shown', run: () => (chosen.value = (lines.value ?? []).map(key)) },
        {
          key: 'Ctrl+Enter',
          label: closed.value ? 'open them again' : 'preview what is released',
          run: () => void preview(),
        },
      ]
    : [],
)
</script>

<template>
  <section class="sheet" :aria-label="closed ? 'Closed lines' : 'Close lines'">
    <NoticeBar />
    <header>
      <div class="headline">
        <h1>{{ closed ? 'Closed lines' : 'Close lines' }}</h1>
        <span class="muted">{{
          closed
            ? 'what was closed can be opened again while its period is open'
            : 'lines that goods or invoices can still come on'
        }}</span>
      </div>
      <div class="filters">
        <div>
          <label for="by-state">Lines</label>
          <PickField
            id="by-state"
            v-model="filter.closed"
            :options="[
              { value: '', text: 'open' },
              { value: 'yes', text: 'closed' },
            ]"
          />
        </div>
        <div style="width: 96px">
          <label for="by-order">Order</label>
          <TextField id="by-order" v-model="filter.order" class="mono" inputmode="numeric" autocomplete="off" />
        </div>
        <div>
          <label for="by-supplier">Supplier</label>
          <PickField
            id="by-supplier"
            v-model="filter.supplier"
            :options="some(suppliers, (x) => ({ value: x.code, text: x.name }))"
          />
        </div>
        <div>
          <label for="by-item">Item</label>
          <PickField
            id="by-item"
            v-model="filter.item"
            :options="some(items, (x) => ({ value: x.code, text: x.name }))"
          />
        </div>
        <div>
          <label for="by-budget">Budget</label>
          <PickField
            id="by-budget"
            v-model="filter.budget"
            :options="some(frame?.budgets, (x) => ({ value: x.code, text: x.code }))"
          />
        </div>
        <div>
          <label for="by-person">Asked for by</label>
          <TextField id="by-person" v-model="filter.by" autocomplete="off" />
        </div>
        <div>
          <label for="by-age">Age</label>
          <PickField id="by-age" v-model="age" :options="ages" />
        </div>
        <div>
          <label for="by-from">Issued from</label>
          <TextField id="by-from" v-model="filter.from" type="date" />
        </div>
        <div>
          <label for="by-until">to</label>
          <TextField id="by-until" v-model="filter.until" type="date" />
        </div>
      </div>
    </header>
    <div class="body">
      <div v-if="plan" class="mb-3">
        <table class="grid mb-2">
          <thead>
            <tr>
              <th>Order</th>
              <th class="named">Line</th>
              <th class="num">Released</th>
              <th class="num">Worth</th>
              <th>What stands against it</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(r, i) in plan.releases" :key="`${r.order}/${r.line}`">
              <td class="mono">{{ r.order }}</td>
              <td>{{ r.description }}</td>
              <td class="num">{{ Number(r.quantity) ? `${show(r.quantity)} ${r.unitName}` : 'nothing' }}</td>
              <td class="num">{{ Number(r.quantity) ? `${show(r.value)} ${r.currency}` : '' }}</td>
              <td class="outside-text">{{ against(i) }}</td>
            </tr>
          </tbody>
        </table>
        <AskReason
          v-if="plan.problems.length === 0"
          id="closing"
          title="Close these lines."
          books="Nothing is booked; it can be undone while the period is open."
          label="Why nothing more is wanted"
          action="Close them"
          :error="trouble"
          @done="close"
          @cancel="plan = undefined"
        />
      </div>
      <AskReason
        v-if="reopening"
        id="reopening"
        :title="`Open ${picked.length} closed ${picked.length === 1 ? 'line' : 'lines'} again.`"
        books="Nothing is booked; what is missing of them is expected again."
        label="Why it is wanted again"
        action="Open again"
        :error="trouble"
        @done="reopen"
        @cancel="reopening = false"
      />
      <p v-if="!isPending && lines?.length === 0" class="empty">
        No {{ closed ? 'closed' : 'open' }} line fits. Take a filter out to see more.
      </p>
      <table v-else class="grid">
        <thead>
          <tr>
            <th></th>
            <th>Order</th>
            <th class="named">Line</th>
            <th class="named">Supplier</th>
            <th>Budget</th>
            <th>Issued</th>
            <th class="num">Ordered</th>
            <template v-if="closed">
              <th>No more</th>
              <th>Why</th>
            </template>
            <template v-else>
              <th class="num">To come</th>
              <th class="num">Not invoiced</th>
            </template>
          </tr>
        </thead>
        <tbody>
          <tr v-for="l in lines ?? []" :key="key(l)" :class="{ on: chosen.includes(key(l)) }">
            <td>
              <TickBox
                :model-value="chosen.includes(key(l))"
                :aria-label="`Choose line ${l.line} of order ${l.order}`"
                :disabled="!may"
                @update:model-value="toggle(l)"
              />
            </td>
            <td>
              <RouterLink class="mono" :to="placeOf.order(l.order)">{{ l.order }}</RouterLink>
            </td>
            <td>{{ l.description }}</td>
            <td>{{ l.supplier }}</td>
            <td>{{ l.budget }}</td>
            <td class="nowrap">{{ showDay(l.issuedOn, today) }}</td>
            <td class="num">{{ show(l.quantity) }} {{ l.unitName }}</td>
            <template v-if="closed">
              <td>
                {{ l.closedGoods && l.closedInvoices ? 'goods, invoices' : l.closedGoods ? 'goods' : 'invoices' }}
              </td>
              <td>{{ l.reason }}</td>
            </template>
            <template v-else>
              <td class="num">{{ Number(l.rest) ? show(l.rest) : '' }}</td>
              <td class="num">{{ Number(l.uninvoiced) ? show(l.uninvoiced) : '' }}</td>
            </template>
          </tr>
        </tbody>
      </table>
      <MoreRows :more="list?.more" way="Narrow the list to see them." />
    </div>
    <div class="bar">
      <BButton variant="primary" :disabled="!may || picked.length === 0 || (!goods && !invoices)" @click="preview">{{
        closed ? 'Open them again…' : 'Preview what is released…'
      }}</BButton>
      <TickBox v-model="goods" inline>{{ closed ? 'to goods' : 'no more goods' }}</TickBox>
      <TickBox v-model="invoices" inline>{{ closed ? 'to invoices' : 'no more invoices' }}</TickBox>
      <span class="sum">{{ picked.length }} of {{ lines?.length ?? 0 }} chosen</span>
    </div>
  </section>
</template>
