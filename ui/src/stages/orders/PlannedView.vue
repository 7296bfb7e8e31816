<script setup lang="ts">
// What is planned to be bought out of the budgets: several lines of one supplier become an order.
import { computed, ref } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import { api, unwrap, type BudgetLine } from '@/api/client'
import NoticeBar from '@/parts/NoticeBar.vue'
import NumberField from '@/parts/NumberField.vue'
import PickField from '@/parts/PickField.vue'
import TextField from '@/parts/TextField.vue'
import TickBox from '@/parts/TickBox.vue'
import UnitField from '@/parts/UnitField.vue'
import { nextField } from '@/parts/fields'
import { useKeys } from '@/parts/keys'
import { tell, warn } from '@/parts/notice'
import { price, sent, show, showDay } from '@/parts/numbers'
import { useSending } from '@/parts/sending'
import { has, today } from '@/parts/session'
import { emptyLine, freshOrder } from './entry'

const router = useRouter()
const client = useQueryClient()
const { data: lines, isPending } = useQuery({ queryKey: ['budget-lines'], queryFn: () => unwrap(api.GET('/api/budget-lines')) })
const { data: suppliers } = useQuery({ queryKey: ['suppliers'], queryFn: () => unwrap(api.GET('/api/suppliers')) })
const { data: frame } = useQuery({ queryKey: ['company'], queryFn: () => unwrap(api.GET('/api/company')) })
const key = (l: BudgetLine) => `${l.budget}/${l.no}`
const chosen = ref<string[]>([])
const picked = computed(() => (lines.value ?? []).filter((l) => chosen.value.includes(key(l))))
const one = computed(() => new Set(picked.value.map((l) => l.supplier)).size === 1)
const nameOf = (code: string) => suppliers.value?.find((x) => x.code === code)?.name ?? code
function toggle(l: BudgetLine) {
  chosen.value = chosen.value.includes(key(l)) ? chosen.value.filter((c) => c !== key(l)) : [...chosen.value, key(l)]
}
/** Starts the order of what is chosen; what was typed as an order before stays kept as it was unless it was empty. */
async function order() {
  if (!one.value || !has('buyer')) return
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
  localStorage.setItem('lagoon.draft.order', JSON.stringify(draft))
  await router.push('/orders/new')
}
const blank = () => ({ budget: '', supplier: '', item: '', description: '', unit: '', quantity: '', price: '', wantedOn: '' })
const form = ref(blank())
const { refusal, send, at } = useSending({ within: '.ask', says: ['', ...Object.keys(blank())] })
const plan = () =>
  send(async () => {
    await unwrap(
      api.POST('/api/budget-lines', {
        body: { ...form.value, quantity: sent(form.value.quantity) || '0', price: sent(form.value.price) || '0' },
      }),
    )
    tell(`${form.value.item || form.value.description} is planned in ${form.value.budget}.`)
    form.value = blank()
    await client.invalidateQueries({ queryKey: ['budget-lines'] })
  })
async function end(l: BudgetLine) {
  await unwrap(api.POST('/api/budget-lines', { body: { ...l, ended: true } })).catch(warn)
  await client.invalidateQueries({ queryKey: ['budget-lines'] })
}
useKeys(() => (one.value && has('buyer') ? [{ key: 'Ctrl+Enter', label: 'make an order of these', run: () => void order() }] : []))
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
              <TickBox :model-value="chosen.includes(key(l))" :aria-label="`Choose ${l.description}`" @update:model-value="toggle(l)" />
            </td>
            <td>{{ l.budget }}</td>
            <td>{{ l.description }}</td>
            <td>{{ nameOf(l.supplier) }}</td>
            <td class="nowrap">{{ showDay(l.wantedOn, today) }}</td>
            <td class="num">{{ show(l.quantity) }} {{ l.unitName }}</td>
            <td class="num">{{ Number(l.ordered) ? show(l.ordered) : '' }}</td>
            <td class="num">{{ price(l.price) }}</td>
            <td><button v-if="has('buyer', 'administrator')" type="button" class="linkish" @click="end(l)">Take out</button></td>
          </tr>
        </tbody>
      </table>
      <form v-if="has('buyer', 'administrator')" @submit.prevent="plan" @keydown.enter="nextField">
        <h2 class="mb-2">Plan something</h2>
        <div class="filters">
          <div>
            <label for="plan-budget">Budget</label>
            <PickField
              id="plan-budget"
              v-model="form.budget"
              :state="at('budget') ? false : undefined"
              :options="[{ value: '', text: 'choose' }, ...(frame?.budgets ?? []).map((b) => ({ value: b.code, text: b.code }))]"
            />
          </div>
          <div>
            <label for="plan-supplier">Supplier</label>
            <PickField
              id="plan-supplier"
              v-model="form.supplier"
              :state="at('supplier') ? false : undefined"
              :options="[{ value: '', text: 'choose' }, ...(suppliers ?? []).map((x) => ({ value: x.code, text: x.name }))]"
            />
          </div>
          <div>
            <label for="plan-item">Item (code)</label>
            <TextField id="plan-item" v-model="form.item" class="mono" autocomplete="off" :state="at('item') ? false : undefined" />
          </div>
          <div>
            <label for="plan-text">or description</label>
            <TextField id="plan-text" v-model="form.description" autocomplete="off" />
          </div>
          <div style="width: 100px">
            <label for="plan-unit">Unit</label>
            <UnitField id="plan-unit" v-model="form.unit" label="Unit" />
          </div>
          <div style="width: 90px">
            <label for="plan-quantity">Quantity</label>
            <NumberField id="plan-quantity" v-model="form.quantity" label="Quantity" />
          </div>
          <div style="width: 90px">
            <label for="plan-price">Price</label>
            <NumberField id="plan-price" v-model="form.price" label="Price" />
          </div>
          <div>
            <label for="plan-wanted">Wanted by</label>
            <TextField id="plan-wanted" v-model="form.wantedOn" type="date" :state="at('wantedOn') ? false : undefined" />
          </div>
          <BButton type="submit" variant="outline-secondary" class="align-self-end">Plan it</BButton>
        </div>
        <div class="small text-danger" role="alert">
          {{ refusal?.problem.problems.map((p) => p.sentence).join(' ') || refusal?.message }}
        </div>
      </form>
    </div>
    <div class="bar">
      <BButton variant="primary" :disabled="!one || !has('buyer')" @click="order">Make an order of these</BButton>
      <span class="sum">{{ picked.length }} chosen{{ picked.length && !one ? ', of more than one supplier' : '' }}</span>
    </div>
  </section>
</template>
