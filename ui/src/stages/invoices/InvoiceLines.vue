<script setup lang="ts">
// The lines and charges of an invoice that is keyed or corrected, each with the order line that it is.
import { useQuery } from '@tanstack/vue-query'
import type { CreditFor, EntryPreview, OrderSheet } from '@/api/client'
import { companyQuery } from '@/api/queries'
import NumberField from '@/parts/NumberField.vue'
import TaxField from '@/parts/TaxField.vue'
import CodedLine from './CodedLine.vue'
import DeferLine from './DeferLine.vue'
import PickField from '@/parts/PickField.vue'
import TextField from '@/parts/TextField.vue'
import { show } from '@/parts/numbers'
import { today } from '@/parts/session'
import {
  orderLineOf,
  orderOf,
  takeFrom,
  type DraftInvoice,
  type DraftInvoiceCharge,
  type DraftInvoiceLine,
} from './entry'

const props = defineProps<{
  order: OrderSheet | undefined
  /** Further orders that lines are about. */
  others: OrderSheet[]
  preview: EntryPreview | undefined
  problem: (field: string) => string | undefined
  /** Discounts and charges are keyed line by line. */
  byLine: boolean
  /** How quantities and prices stand: dashed while they are only read. */
  mark?: { read: boolean; doubtful: boolean }
}>()
const draft = defineModel<DraftInvoice>({ required: true })
const { data: frame } = useQuery(companyQuery)
/** Only a cost is spread over months. */
const spreads = (l: DraftInvoiceLine) => {
  const budget = orderLine(l)?.budget
  const cost = frame.value?.budgets.find((b) => b.code === budget)?.account === 'expense'
  return !l.chargeKind && (budget ? cost : l.budget !== undefined)
}
const kinds = (chosenKind: string) =>
  [...(frame.value?.charges ?? []).filter((k) => !k.ended || k.name === chosenKind).map((k) => k.name), 'discount'].map(
    (value) => ({
      value,
      text: value,
    }),
  )

const creditFor: { value: CreditFor; text: string }[] = [
  { value: '', text: 'for goods or a price, as its figures tell' },
  { value: 'goods', text: 'for goods' },
  { value: 'price', text: 'for a price' },
]
const orderLine = (l: DraftInvoiceLine) => orderLineOf(l, props.order, props.others)
/** A line that nothing was typed on yet takes what the order says of it. */
function tied(l: DraftInvoiceLine) {
  const line = orderLine(l)
  if (line && l.description === '') Object.assign(l, takeFrom(line))
}

/** Another kind is taxed as it is set up, where it is. */
function kindChosen(c: DraftInvoiceCharge) {
  c.allowance = c.kind === 'discount'
  const code = frame.value?.charges.find((k) => k.name === c.kind)?.taxCode
  if (code) Object.assign(c, { taxRate: code, taxCategory: '' })
}
/** Another rate has another category, which the server tells. */
const taxTyped = (of: { taxRate: string; taxCategory: string }, rate: string) =>
  Object.assign(of, { taxRate: rate, taxCategory: '' })
/** A net stands in place of the quantity, which is worked out of it. */
function netTyped(l: DraftInvoiceLine, net: string) {
  l.net = net
  if (net.trim() && l.quantity.trim()) {
    l.was = l.quantity
    l.quantity = ''
  }
}
function quantityTyped(l: DraftInvoiceLine, quantity: string) {
  l.quantity = quantity
  if (quantity.trim()) {
    l.net = ''
    delete l.was
  }
}
/** Delivery notes are named where the line is matched by them. */
const noted = (l: DraftInvoiceLine) => orderLine(l)?.level === 'by_receipt' || !!l.notes

// What is wrong with what was typed is said at once, a price that is missing once the invoice is to be captured.
function lineProblem(i: number, name: string): string | undefined {
  const field = `lines[${i}].${name}`
  const missing = name === 'price' && draft.value.lines[i]?.price.trim() === ''
  return (
    props.problem(field) ?? (missing ? undefined : props.preview?.problems.find((p) => p.field === field)?.sentence)
  )
}
</script>

<template>
  <table class="grid">
    <thead>
      <tr>
        <th class="named">
          {{
            draft.lines.some((l) => l.budget !== undefined)
              ? 'Line, and what it is charged to'
              : draft.kind === 'prepayment'
                ? 'Line'
                : 'Line, and the order line that it is'
          }}
        </th>
        <th class="num">Quantity</th>
        <th class="num">Unit price</th>
        <template v-if="byLine">
          <th class="num">Discount</th>
          <th class="num">Charge</th>
        </template>
        <th class="num">Tax, %</th>
        <th class="num">Net</th>
        <th></th>
      </tr>
    </thead>
    <tbody>
      <template v-for="(l, i) in draft.lines" :key="i">
        <tr>
          <td>
            <CodedLine
              v-if="l.budget !== undefined && !l.orderLine"
              v-model="draft.lines[i]!"
              :index="i"
              :problem="lineProblem"
            />
            <template v-else>
              <b>{{ l.description || 'New line' }}</b>
              <span class="muted ms-1">{{
                orderLine(l)?.unitName ?? frame?.units.find((u) => u.code === l.unit)?.name ?? l.unit
              }}</span><PickField
                v-if="draft.kind !== 'prepayment'"
                v-model="l.orderLine"
                :aria-label="`Order line of ${l.description}`"
                :state="lineProblem(i, 'orderLine') ? false : undefined"
                :options="[
                  { value: 0, text: 'none' },
                  ...(orderOf(l, order, others)?.lines ?? []).map((o) => ({
                    value: o.no,
                    text: `${l.order ? `order ${l.order}, ` : ''}${o.no} ${o.description}`,
                  })),
                ]"
                class="mt-1"
                @update:model-value="tied(l)" /></template
            ><PickField
              v-if="draft.kind === 'credit_note'"
              :model-value="l.credits ?? ''"
              :aria-label="`What the credit of ${l.description} is for`"
              :options="creditFor"
              class="mt-1"
              @update:model-value="(v) => (l.credits = v)"
            />
            <div v-if="draft.kind === 'invoice' && noted(l)" class="d-flex gap-2 align-items-center mt-1" data-aside>
              <label :for="`notes-${i}`" class="small muted text-nowrap">Delivery notes</label>
              <TextField
                :id="`notes-${i}`"
                :model-value="l.notes ?? ''"
                class="mono"
                autocomplete="off"
                placeholder="the oldest"
                @update:model-value="(v) => (l.notes = v)"
              />
            </div>
          </td>
          <td class="num">
            <NumberField
              :id="`quantity-${i}`"
              :class="mark"
              :model-value="l.quantity"
              :label="`Quantity of ${l.description}`"
              :whole="orderLine(l)?.quantity"
              :placeholder="l.net?.trim() ? show(preview?.quantities[i]) : undefined"
              :error="lineProblem(i, 'quantity')"
              @update:model-value="(v) => quantityTyped(l, v)"
            />
          </td>
          <td class="num">
            <NumberField
              :id="`price-${i}`"
              v-model="l.price"
              :class="mark"
              :label="`Price of ${l.description}`"
              :error="lineProblem(i, 'price')"
            />
          </td>
          <template v-if="byLine">
            <td class="num">
              <NumberField
                :id="`discount-${i}`"
                v-model="l.discount"
                :label="`Discount on ${l.description}`"
                :error="lineProblem(i, 'discount')"
              />
            </td>
            <td class="num">
              <NumberField
                :id="`line-charge-${i}`"
                v-model="l.charge"
                :label="`Charge on ${l.description}`"
                :error="lineProblem(i, 'charge')"
              />
            </td>
          </template>
          <td class="num">
            <TaxField
              :id="`tax-${i}`"
              :model-value="l.taxRate"
              :label="`Tax rate of ${l.description}`"
              :error="lineProblem(i, 'taxRate')"
              @update:model-value="(v) => taxTyped(l, v)"
            />
          </td>
          <td class="num" data-aside>
            <NumberField
              :id="`net-${i}`"
              :model-value="l.net ?? ''"
              :label="`Net of ${l.description}, in place of the quantity`"
              :placeholder="show(preview?.lineNets[i])"
              :error="lineProblem(i, 'net')"
              @update:model-value="(v) => netTyped(l, v)"
            />
          </td>
          <td>
            <button
              type="button"
              class="linkish d-block py-1"
              :aria-label="`Leave out ${l.description}`"
              @click="draft.lines.splice(i, 1)"
            >
              Leave out
            </button>
            <button
              v-if="draft.kind === 'invoice' && !l.defer && spreads(l)"
              type="button"
              class="linkish d-block small py-1"
              :aria-label="`Spread ${l.description} over months`"
              @click="l.defer = { from: (draft.date || today).slice(0, 7), months: '12' }"
            >
              Spread…
            </button>
          </td>
        </tr>
        <tr v-if="l.defer" class="said">
          <td :colspan="byLine ? 8 : 6">
            <DeferLine v-model="draft.lines[i]!" :index="i" :preview="preview" :error="lineProblem(i, 'defer')" />
          </td>
        </tr>
      </template>
      <tr v-for="(c, i) in draft.charges" :key="`c${i}`">
        <td colspan="2">
          <div class="d-flex gap-2">
            <PickField
              v-model="c.kind"
              :aria-label="`Kind of charge ${i + 1}`"
              :options="kinds(c.kind)"
              style="width: 124px"
              @update:model-value="kindChosen(c)"
            /><TextField
              v-model="c.reason"
              :aria-label="`Name of charge ${i + 1}`"
              style="flex: 1; min-width: 0; text-align: left"
            />
          </div>
        </td>
        <td v-if="byLine" colspan="2"></td>
        <td class="num">
          <NumberField
            :id="`charge-${i}`"
            v-model="c.amount"
            :label="`Amount of charge ${i + 1}`"
            :whole="order?.net"
            :error="problem(`charges[${i}].amount`)"
          />
        </td>
        <td class="num">
          <TaxField
            :id="`charge-tax-${i}`"
            :model-value="c.taxRate"
            :label="`Tax rate of charge ${i + 1}`"
            :error="problem(`charges[${i}].taxRate`)"
            @update:model-value="(v) => taxTyped(c, v)"
          />
        </td>
        <td class="num pt-2">{{ c.allowance ? 'off the whole' : '' }}</td>
        <td><button type="button" class="linkish" @click="draft.charges.splice(i, 1)">Leave out</button></td>
      </tr>
    </tbody>
  </table>
</template>
