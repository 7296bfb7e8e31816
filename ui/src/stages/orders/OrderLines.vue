<script setup lang="ts">
// The lines of an order as they are typed: an item's code and its quantity are enough where it was ordered before.
import { computed, watch } from 'vue'
import type { ItemChoice, OrderChoices, OrderPreview } from '@/api/client'
import ChoiceField from '@/parts/ChoiceField.vue'
import NumberField from '@/parts/NumberField.vue'
import TaxField from '@/parts/TaxField.vue'
import UnitField from '@/parts/UnitField.vue'
import type { Choice } from '@/parts/choice'
import { price as asPrice, show } from '@/parts/numbers'
import OrderLineMore from './OrderLineMore.vue'
import { filledLine as filled, itemChoices, type DraftLine, type DraftOrder } from './entry'

const props = defineProps<{
  choices: OrderChoices | undefined
  preview: OrderPreview | undefined
  currency: string
  problem: (field: string) => string | undefined
}>()
const draft = defineModel<DraftOrder>({ required: true })
const lines = computed(() => draft.value.lines.filter(filled))
const at = (l: DraftLine) => lines.value.indexOf(l)
const items = computed(() => itemChoices(props.choices?.items ?? []))
const budgets = computed<Choice[]>(() =>
  (props.choices?.budgets ?? []).map((b) => ({ value: b.code, text: b.code, also: b.name })),
)
const itemOf = (l: DraftLine): ItemChoice | undefined => props.choices?.items.find((i) => i.code === l.item)
const planned = (l: DraftLine) => props.preview?.lines[at(l)]
const isAgreed = (l: DraftLine) => props.choices?.prices.some((p) => p.item === l.item) ?? false
/** A price that was typed where another is agreed. */
const typedOver = (l: DraftLine) => {
  const p = planned(l)
  return l.price.trim() !== '' && p?.agreed !== undefined && p.agreed !== p.price ? asPrice(p.agreed) : undefined
}
function proposed(l: DraftLine) {
  const item = itemOf(l)
  if (!item) return
  l.unit = item.unit
  if (l.price === '' && item.price !== undefined && !isAgreed(l)) l.price = asPrice(item.price)
  if (item.budget && (l.budget === '' || l.budget === props.choices?.budget)) l.budget = item.budget
  if (l.taxRate === '') l.taxRate = item.taxCode ?? show(item.taxRate)
}

/** A line by value is an amount, whose price is one. */
const byValue = (l: DraftLine) => l.unit === 'M4'
watch(
  () => draft.value.lines.map(byValue),
  () => draft.value.lines.filter(byValue).forEach((l) => (l.price = '1')),
  { immediate: true },
)

// What is wrong with what was typed is said at once, what is missing once the order is to be issued.
function lineProblem(
  l: DraftLine,
  name: 'item' | 'quantity' | 'unit' | 'price' | 'taxRate' | 'budget',
): string | undefined {
  if (at(l) < 0) return undefined
  const field = `lines[${at(l)}].${name}`
  return (
    props.problem(field) ??
    (l[name].trim() === '' ? undefined : props.preview?.problems.find((p) => p.field === field)?.sentence)
  )
}
</script>

<template>
  <table class="grid">
    <thead>
      <tr>
        <th style="width: 30%">Item, or a description</th>
        <th class="num">Quantity</th>
        <th>Unit</th>
        <th class="num">Unit price</th>
        <th class="num">Tax, %</th>
        <th style="width: 14%">Budget</th>
        <th class="num">Net</th>
        <th></th>
      </tr>
    </thead>
    <tbody>
      <template v-for="(l, i) in draft.lines" :key="i">
        <tr>
          <td>
            <span v-if="l.no" class="d-block pt-1 fw-semibold">{{ itemOf(l)?.name ?? l.text }}</span>
            <ChoiceField
              v-else
              :id="`order-item-${i}`"
              v-model="l.item"
              v-model:typed="l.text"
              free
              :label="`Item of line ${i + 1}`"
              :choices="items"
              :state="lineProblem(l, 'item') ? false : undefined"
              :described="`order-item-${i}-said`"
              @chosen="proposed(l)"
            />
            <div :id="`order-item-${i}-said`" class="small" :class="lineProblem(l, 'item') ? 'text-danger' : 'muted'">
              {{ lineProblem(l, 'item') ?? itemOf(l)?.name }}
            </div>
          </td>
          <td class="num">
            <NumberField
              :id="`order-quantity-${i}`"
              v-model="l.quantity"
              :label="`${byValue(l) ? 'Amount' : 'Quantity'} of line ${i + 1}`"
              :error="lineProblem(l, 'quantity')"
            />
          </td>
          <td>
            <span v-if="itemOf(l)" class="d-block pt-1">{{ itemOf(l)?.unitName }}</span>
            <UnitField
              v-else
              :id="`order-unit-${i}`"
              v-model="l.unit"
              :label="`Unit of line ${i + 1}`"
              :state="lineProblem(l, 'unit') ? false : undefined"
              :described="`order-unit-${i}-said`"
              placeholder="pieces"
              style="width: 84px"
            />
            <div :id="`order-unit-${i}-said`" class="small text-danger">{{ lineProblem(l, 'unit') }}</div>
          </td>
          <td class="num">
            <span v-if="byValue(l)" class="d-block pt-1 muted">by value</span>
            <NumberField
              v-else
              :id="`order-price-${i}`"
              v-model="l.price"
              :label="`Price of line ${i + 1}`"
              :error="lineProblem(l, 'price')"
              :placeholder="planned(l)?.agreed ? asPrice(planned(l)!.agreed!) : isAgreed(l) ? 'agreed' : ''"
            />
            <div v-if="typedOver(l)" class="small advice">agreed: {{ typedOver(l) }}</div>
            <div v-if="planned(l) && planned(l)!.base !== '1'" class="small muted">
              per {{ show(planned(l)!.base) }}
            </div>
          </td>
          <td class="num">
            <TaxField
              :id="`order-tax-${i}`"
              v-model="l.taxRate"
              :label="`Tax rate of line ${i + 1}`"
              :error="lineProblem(l, 'taxRate')"
            />
          </td>
          <td>
            <ChoiceField
              :id="`order-budget-${i}`"
              v-model="l.budget"
              :label="`Budget of line ${i + 1}`"
              :choices="budgets"
              :state="lineProblem(l, 'budget') ? false : undefined"
              :described="`order-budget-${i}-said`"
            />
            <div :id="`order-budget-${i}-said`" class="small text-danger">{{ lineProblem(l, 'budget') }}</div>
          </td>
          <td class="num pt-2">{{ at(l) >= 0 ? show(preview?.nets[at(l)]) : '' }}</td>
          <td>
            <button
              v-if="filled(l)"
              type="button"
              class="linkish d-block"
              :aria-expanded="l.more"
              :aria-label="`${l.more ? 'Less' : 'More'} of line ${i + 1}`"
              @click="l.more = !l.more"
            >
              {{ l.more ? 'Less' : 'More' }}
            </button>
            <button
              v-if="filled(l) && !l.no"
              type="button"
              class="linkish d-block"
              :aria-label="`Leave out line ${i + 1}`"
              @click="draft.lines.splice(i, 1)"
            >
              Leave out
            </button>
          </td>
        </tr>
        <tr v-if="l.more" class="said">
          <td colspan="8">
            <OrderLineMore
              v-model="draft.lines[i]!"
              :place="i"
              :planned="planned(l)"
              :currency="currency"
              :problem="(field) => problem(`lines[${at(l)}].${field}`)"
            />
          </td>
        </tr>
      </template>
    </tbody>
  </table>
</template>
