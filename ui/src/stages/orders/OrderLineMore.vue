<script setup lang="ts">
// What an order line can say besides goods, quantity and price: its own day, a note, a discount, how it is matched and
// which differences it lets pass; what applies otherwise, and where that comes from, stands beside each.
import { computed } from 'vue'
import type { OrderPreview } from '@/api/client'
import LimitsTable from '@/parts/LimitsTable.vue'
import NumberField from '@/parts/NumberField.vue'
import PickField from '@/parts/PickField.vue'
import TextField from '@/parts/TextField.vue'
import type { DraftLine } from './entry'

const props = defineProps<{
  place: number
  planned: OrderPreview['lines'][number] | undefined
  currency: string
  problem: (field: string) => string | undefined
}>()
const line = defineModel<DraftLine>({ required: true })
const levels = [
  { value: '', text: 'as set up' },
  { value: 'three_way', text: 'with order and receipts' },
  { value: 'by_receipt', text: 'by the delivery notes that are invoiced' },
  { value: 'two_way', text: 'with the order' },
]
const says = computed(
  () => (kind: string, side: string) => props.planned?.bounds.find((b) => b.kind === kind && b.side === side)?.says,
)
</script>

<template>
  <div class="d-flex flex-wrap gap-3 mb-2">
    <div>
      <label :for="`order-line-wanted-${place}`">Wanted by, if not with the order</label>
      <TextField :id="`order-line-wanted-${place}`" v-model="line.wantedOn" type="date" />
    </div>
    <div style="width: 110px">
      <label :for="`order-discount-${place}`">Discount, {{ currency }}</label>
      <NumberField
        :id="`order-discount-${place}`"
        v-model="line.discount"
        :label="`Discount on line ${place + 1}`"
        :error="problem('discount')"
      />
    </div>
    <div style="width: 110px">
      <label :for="`order-surcharge-${place}`">Surcharge, {{ currency }}</label>
      <NumberField :id="`order-surcharge-${place}`" v-model="line.charge" :label="`Surcharge on line ${place + 1}`" />
    </div>
    <div class="flex-grow-1">
      <label :for="`order-line-note-${place}`">Note on this line</label>
      <TextField :id="`order-line-note-${place}`" v-model="line.note" class="w-100 text-start" autocomplete="off" />
    </div>
    <div>
      <label :for="`order-level-${place}`">Invoices are matched</label>
      <PickField
        :id="`order-level-${place}`"
        v-model="line.level"
        :options="levels"
        :state="problem('level') ? false : undefined"
        :aria-describedby="`order-level-${place}-said`"
      />
      <div :id="`order-level-${place}-said`" class="small" :class="problem('level') ? 'text-danger' : 'muted'">
        {{ problem('level') ?? planned?.level }}
      </div>
    </div>
  </div>
  <LimitsTable
    :id="`order-limit-${place}`"
    v-model="line.limits"
    :currency="currency"
    :kinds="['delivery', 'invoiced_quantity', 'unit_price']"
    :says="says"
    :problem="(n) => problem(`limits[${n}]`)"
  />
  <p v-if="planned?.lots" class="muted small mb-0">Kept by lot: every receipt names its lots.</p>
</template>
