<script setup lang="ts">
// What an order says besides its lines: where to, to whom, which charges it allows.
import { useQuery } from '@tanstack/vue-query'
import { type Contact, type OrderPreview } from '@/api/client'
import { companyQuery } from '@/api/queries'
import NumberField from '@/parts/NumberField.vue'
import TaxField from '@/parts/TaxField.vue'
import PickField from '@/parts/PickField.vue'
import TextField from '@/parts/TextField.vue'
import type { DraftOrder } from './entry'

defineProps<{
  contacts: Contact[]
  currency: string
  about: string
  preview: OrderPreview | undefined
  problem: (field: string) => string | undefined
}>()
const order = defineModel<DraftOrder>({ required: true })
const { data: frame } = useQuery(companyQuery)
const taxOf = (kind: string) => frame.value?.charges.find((k) => k.name === kind)?.taxCode ?? ''
const kinds = (chosen: string) =>
  (frame.value?.charges ?? [])
    .filter((k) => !k.ended || k.name === chosen)
    .map((k) => ({ value: k.name, text: k.name }))
</script>

<template>
  <div class="mt-3 terms">
    <div class="wide">
      <label for="order-about">What it is about</label>
      <TextField id="order-about" v-model="order.about" autocomplete="off" :placeholder="about" />
      <div class="small text-danger" role="alert">{{ problem('about') }}</div>
    </div>
    <div>
      <label for="order-reference">Their reference (offer)</label>
      <TextField id="order-reference" v-model="order.theirReference" autocomplete="off" />
    </div>
    <div>
      <label for="order-contact">Their contact</label>
      <TextField id="order-contact" v-model="order.contact" autocomplete="off" list="order-contacts" />
      <datalist id="order-contacts">
        <option v-for="c in contacts" :key="c.number" :value="c.name">{{ c.role }}</option>
      </datalist>
    </div>
    <div>
      <label for="order-instructions">Instructions for the delivery</label>
      <TextField id="order-instructions" v-model="order.instructions" autocomplete="off" />
    </div>
    <div class="wide">
      <label for="order-note">Note to the supplier</label>
      <TextField id="order-note" v-model="order.note" autocomplete="off" />
    </div>
    <div v-if="!order.version" style="flex: 0 0 230px">
      <label for="order-discount">Discount on the whole, {{ currency }} or %</label>
      <NumberField
        id="order-discount"
        v-model="order.discount"
        label="Discount on the whole"
        share
        :whole="preview?.undiscounted"
        :error="problem('discount')"
      />
    </div>
    <div v-for="(c, i) in order.charges" :key="i" class="wide d-flex flex-wrap gap-3 align-items-end">
      <div>
        <label :for="`charge-kind-${i}`">Planned charge</label>
        <PickField :id="`charge-kind-${i}`" v-model="c.kind" :options="kinds(c.kind)" />
        <div class="small text-danger">{{ problem(`charges[${i}].kind`) }}</div>
      </div>
      <div class="flex-grow-1">
        <label :for="`charge-text-${i}`">Description</label>
        <TextField :id="`charge-text-${i}`" v-model="c.description" autocomplete="off" />
      </div>
      <div style="width: 110px">
        <label :for="`charge-amount-${i}`">Net, {{ currency }}</label>
        <NumberField
          :id="`charge-amount-${i}`"
          v-model="c.amount"
          :label="`Amount of planned charge ${i + 1}`"
          share
          :whole="preview?.goods"
          :error="problem(`charges[${i}].amount`)"
        />
      </div>
      <div style="width: 76px">
        <label :for="`charge-tax-${i}`">Tax, %</label>
        <TaxField :id="`charge-tax-${i}`" v-model="c.taxRate" :label="`Tax rate of planned charge ${i + 1}`" />
      </div>
      <button
        type="button"
        class="linkish pb-1"
        :aria-label="`Leave out planned charge ${i + 1}`"
        @click="order.charges.splice(i, 1)"
      >
        Leave out
      </button>
    </div>
    <button
      type="button"
      class="linkish"
      @click="order.charges.push({ kind: 'freight', description: '', amount: '', taxRate: taxOf('freight') })"
    >
      Plan a charge
    </button>
  </div>
</template>
