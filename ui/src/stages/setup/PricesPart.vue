<script setup lang="ts">
// What was agreed with a supplier for its items, from a quantity on and for a time.
import { computed, ref } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { api, unwrap, type AgreedPrice, type SupplierSheet } from '@/api/client'
import { itemsQuery } from '@/api/queries'
import EntryChoice from '@/parts/EntryChoice.vue'
import EntryField from '@/parts/EntryField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import { tell } from '@/parts/notice'
import { price, sent, show, showDay } from '@/parts/numbers'
import { may as allowed, today } from '@/parts/session'
import { useJob } from '@/parts/job'
import { useKept } from '@/parts/kept'
import { placeOf } from '@/parts/places'

const props = defineProps<{ supplier: SupplierSheet }>()
const client = useQueryClient()
const { at, send, busy } = useJob({ within: '.ask' })
const may = computed(() => allowed('savePrice'))
const form = ref<AgreedPrice>()
const { again, done: kept } = useKept(form, () => `price.${props.supplier.code}`)
const { data: items } = useQuery({ ...itemsQuery, enabled: may })
const choices = computed(() => (items.value ?? []).map((i) => ({ value: i.code, text: i.code, also: i.name })))
const add = () => (form.value = { item: '', from: today.value, until: '', least: '', price: '', base: '' })
async function keep(p: AgreedPrice) {
  const body = { ...p, least: sent(p.least) || '0', price: sent(p.price), base: sent(p.base) || '1' }
  const done = await send(() =>
    unwrap(api.POST('/api/suppliers/{code}/prices', { params: { path: { code: props.supplier.code } }, body })),
  )
  if (!done) return
  kept()
  tell(p.ended ? `The agreed price of ${p.item} is ended.` : `The price of ${p.item} is agreed.`)
  await client.invalidateQueries()
}
const says = (p: AgreedPrice) =>
  `${price(p.price)} ${props.supplier.currency}${p.base === '1' ? '' : ` per ${show(p.base)}`}${Number(p.least) ? ` from ${show(p.least)} on` : ''}, ${showDay(p.from, today.value)} ${p.until ? `to ${showDay(p.until, today.value)}` : 'until further notice'}`
</script>

<template>
  <h2>Agreed prices <button v-if="may" type="button" class="linkish" @click="add">Agree a price</button></h2>
  <SmallForm v-if="form" :again="again" action="Keep the price" @done="keep(form)" @cancel="form = undefined">
    <div class="entry">
      <EntryChoice id="price-item" v-model="form.item" label="Item" :choices="choices" :error="at('item')" />
      <EntryField
        id="price-price"
        v-model="form.price"
        :label="`Price, ${supplier.currency}`"
        inputmode="decimal"
        :error="at('price')"
      />
      <EntryField
        id="price-base"
        v-model="form.base"
        label="for so many"
        inputmode="decimal"
        placeholder="1"
        :error="at('base')"
      />
      <EntryField
        id="price-least"
        v-model="form.least"
        label="From a quantity of"
        inputmode="decimal"
        placeholder="0"
        :error="at('least')"
      />
      <EntryField id="price-from" v-model="form.from" type="date" label="Holds from" :error="at('from')" />
      <EntryField
        id="price-until"
        v-model="form.until"
        type="date"
        label="until (blank: further notice)"
        :error="at('until')"
      />
    </div>
  </SmallForm>
  <p v-if="!supplier.prices?.length && !form" class="muted">None. Orders propose the last price instead.</p>
  <ul class="plain mb-3">
    <li v-for="(p, i) in supplier.prices ?? []" :key="i">
      <RouterLink class="mono" :to="placeOf.item(p.item)">{{ p.item }}</RouterLink> {{ says(p) }}
      <button
        v-if="may"
        type="button"
        class="linkish"
        :aria-label="`End price ${i + 1}`"
        :disabled="busy"
        @click="keep({ ...p, ended: true })"
      >
        End
      </button>
    </li>
  </ul>
</template>
