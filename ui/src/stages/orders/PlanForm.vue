<script setup lang="ts">
// Plans a purchase out of a budget. A known item brings its unit, its last price and its budget.
import { computed, ref } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { api, unwrap } from '@/api/client'
import { companyQuery, sellersQuery } from '@/api/queries'
import EntryChoice from '@/parts/EntryChoice.vue'
import EntryField from '@/parts/EntryField.vue'
import NumberField from '@/parts/NumberField.vue'
import UnitField from '@/parts/UnitField.vue'
import { enter, nextField } from '@/parts/fields'
import { useKeys } from '@/parts/keys'
import { tell } from '@/parts/notice'
import { price, sent } from '@/parts/numbers'
import { useJob } from '@/parts/job'
import { today } from '@/parts/session'
import { itemChoices } from './entry'

const client = useQueryClient()
const blank = () => ({
  budget: '',
  supplier: '',
  item: '',
  description: '',
  unit: '',
  quantity: '',
  price: '',
  wantedOn: '',
})
const form = ref(blank())
const { data: suppliers } = useQuery(sellersQuery)
const { data: frame } = useQuery(companyQuery)
const { data: choices } = useQuery({
  queryKey: ['order-choices', computed(() => form.value.supplier)],
  queryFn: () => unwrap(api.GET('/api/orders/choices', { params: { query: { supplier: form.value.supplier } } })),
  enabled: computed(() => form.value.supplier !== ''),
})
const sellers = computed(() => (suppliers.value ?? []).map((s) => ({ value: s.code, text: s.name, also: s.code })))
const items = computed(() => itemChoices(choices.value?.items ?? []))
const budgets = computed(() => (frame.value?.budgets ?? []).map((b) => ({ value: b.code, text: b.code, also: b.name })))
const item = computed(() => choices.value?.items.find((i) => i.code === form.value.item))
function proposed() {
  const known = item.value
  if (!known) return
  form.value.unit = known.unit
  if (form.value.price === '' && known.price !== undefined) form.value.price = price(known.price)
  if (form.value.budget === '') form.value.budget = known.budget ?? ''
}

const { busy, send, at } = useJob({ within: '.plan' })
const plan = () =>
  send(async () => {
    const f = form.value
    await unwrap(api.POST('/api/budget-lines', { body: { ...f, quantity: sent(f.quantity), price: sent(f.price) } }))
    tell(`${item.value?.name ?? f.description} is planned in ${f.budget}.`)
    form.value = { ...blank(), supplier: f.supplier }
    await client.invalidateQueries({ queryKey: ['budget-lines'] })
    enter(document.querySelector<HTMLElement>('#plan-item') ?? undefined)
  })
const begun = computed(() => form.value.item !== '' || form.value.description !== '')
useKeys(() => (begun.value ? [{ key: 'Ctrl+Enter', label: 'plan it', run: () => void plan() }] : []))
</script>

<template>
  <div class="plan" @keydown.enter="nextField">
    <h2 class="mb-2">Plan a purchase</h2>
    <div class="entry">
      <EntryChoice
        id="plan-supplier"
        v-model="form.supplier"
        label="Supplier"
        :choices="sellers"
        :error="at('supplier')"
      />
      <EntryChoice
        id="plan-item"
        v-model="form.item"
        v-model:typed="form.description"
        free
        label="Item, or a description"
        :choices="items"
        :error="at('item')"
        :hint="item?.name"
        @chosen="proposed"
      />
      <div>
        <label for="plan-quantity">Quantity</label>
        <NumberField id="plan-quantity" v-model="form.quantity" label="Quantity" :error="at('quantity')" />
      </div>
      <div>
        <label :for="item ? undefined : 'plan-unit'">Unit</label>
        <span v-if="item" class="d-block pt-1">{{ item.unitName }}</span>
        <UnitField
          v-else
          id="plan-unit"
          v-model="form.unit"
          label="Unit"
          :state="at('unit') ? false : undefined"
          described="plan-unit-said"
        />
        <div id="plan-unit-said" class="small text-danger">{{ at('unit') }}</div>
      </div>
      <div>
        <label for="plan-price">Expected price</label>
        <NumberField id="plan-price" v-model="form.price" label="Expected price" :error="at('price')" />
      </div>
      <EntryChoice id="plan-budget" v-model="form.budget" label="Budget" :choices="budgets" :error="at('budget')" />
      <EntryField
        id="plan-wanted"
        v-model="form.wantedOn"
        label="Wanted by"
        type="date"
        :min="today"
        :error="at('wantedOn')"
      />
    </div>
    <BButton variant="outline-secondary" class="mt-2" :disabled="busy" @click="plan">Plan it</BButton>
  </div>
</template>
