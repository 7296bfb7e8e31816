<script setup lang="ts">
// What is planned to be bought out of the budgets: several lines of one supplier become an order.
import { computed, ref } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import { api, unwrap, type BudgetLine } from '@/api/client'
import { suppliersQuery } from '@/api/queries'
import MoreRows from '@/parts/MoreRows.vue'
import NoticeBar from '@/parts/NoticeBar.vue'
import TickBox from '@/parts/TickBox.vue'
import { useArrive } from '@/parts/arrive'
import { keptDraft, putDraft } from '@/parts/draft'
import { useKeys } from '@/parts/keys'
import { warn } from '@/parts/notice'
import { price, show, showDay } from '@/parts/numbers'
import { may, today } from '@/parts/session'
import PlanForm from './PlanForm.vue'
import { emptyLine, filledLine, freshOrder, keepOrder, type DraftOrder } from './entry'

const router = useRouter()
const client = useQueryClient()
const arrive = useArrive()
const { data: list, isPending } = useQuery({
  queryKey: ['budget-lines'],
  queryFn: () => unwrap(api.GET('/api/budget-lines')),
})
const { data: suppliers } = useQuery(suppliersQuery)
const key = (l: BudgetLine) => `${l.budget}/${l.no}`
const chosen = ref<string[]>([])
const lines = computed(() => list.value?.rows)
const picked = computed(() => (lines.value ?? []).filter((l) => chosen.value.includes(key(l))))
const one = computed(() => new Set(picked.value.map((l) => l.supplier)).size === 1)
const nameOf = (code: string) => suppliers.value?.find((x) => x.code === code)?.name ?? code
function toggle(l: BudgetLine) {
  chosen.value = chosen.value.includes(key(l)) ? chosen.value.filter((c) => c !== key(l)) : [...chosen.value, key(l)]
}
/** Starts the order of what is chosen. What was being typed as an order is kept as a draft first. */
async function order() {
  if (!one.value || !may('issueOrder')) return
  const begun = { ...freshOrder(), ...keptDraft<DraftOrder>('order') }
  let rescued = ''
  if (begun.supplier !== '' || begun.lines.some(filledLine)) {
    try {
      rescued = await keepOrder(begun)
    } catch (e) {
      warn(e)
      return
    }
  }
  const draft = {
    ...freshOrder(),
    supplier: picked.value[0]!.supplier,
    wantedOn: picked.value.map((l) => l.wantedOn).sort()[0]!,
    lines: picked.value.map((l) => ({
      ...emptyLine(),
      item: l.item,
      text: l.item || l.description,
      quantity: show(Number(l.rest) > 0 ? l.rest : l.quantity),
      unit: l.unit,
      price: show(l.price),
      taxRate: '',
      budget: l.budget,
      budgetLine: l.no ?? 0,
      wantedOn: '',
    })),
  }
  putDraft('order', draft)
  if (rescued) await arrive('/orders/new', `What you had begun to order is kept as draft ${rescued}.`)
  else await router.push('/orders/new')
}
async function end(l: BudgetLine) {
  await unwrap(api.POST('/api/budget-lines', { body: { ...l, ended: true } })).catch(warn)
  await client.invalidateQueries({ queryKey: ['budget-lines'] })
}
useKeys(() =>
  one.value && may('issueOrder')
    ? [{ key: 'Ctrl+Enter', label: 'make an order of these', run: () => void order() }]
    : [],
)
</script>

<template>
  <section class="sheet" aria-label="Planned purchases">
    <NoticeBar />
    <header>
      <div class="headline">
        <h1>Planned purchases</h1>
        <span class="muted">lines of the budgets; choose several of one supplier and make an order of them</span>
      </div>
    </header>
    <div class="body">
      <p v-if="!isPending && lines?.length === 0" class="empty">
        Nothing is planned. Plan something below; it can be ordered from here when its time comes.
      </p>
      <table v-else class="grid mb-4">
        <thead>
          <tr>
            <th></th>
            <th>Budget</th>
            <th>Goods</th>
            <th class="named">Supplier</th>
            <th>Wanted</th>
            <th class="num">Planned</th>
            <th class="num">Ordered</th>
            <th class="num">Price</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="l in lines ?? []" :key="key(l)" :class="{ on: chosen.includes(key(l)) }">
            <td>
              <TickBox
                :model-value="chosen.includes(key(l))"
                :aria-label="`Choose ${l.description}`"
                @update:model-value="toggle(l)"
              />
            </td>
            <td>{{ l.budget }}</td>
            <td>{{ l.description }}</td>
            <td>{{ nameOf(l.supplier) }}</td>
            <td class="nowrap">{{ showDay(l.wantedOn, today) }}</td>
            <td class="num">{{ show(l.quantity) }} {{ l.unitName }}</td>
            <td class="num">{{ Number(l.ordered) ? show(l.ordered) : '' }}</td>
            <td class="num">{{ price(l.price) }}</td>
            <td>
              <button v-if="may('saveBudgetLine')" type="button" class="linkish" @click="end(l)">Take out</button>
            </td>
          </tr>
        </tbody>
      </table>
      <MoreRows :more="list?.more" way="They follow when lines of these are taken out." />
      <PlanForm v-if="may('saveBudgetLine')" />
    </div>
    <div class="bar">
      <BButton variant="primary" :disabled="!one || !may('issueOrder')" @click="order">Make an order of these</BButton>
      <span class="sum"
        >{{ picked.length }} chosen{{ picked.length && !one ? ', of more than one supplier' : '' }}</span
      >
    </div>
  </section>
</template>
