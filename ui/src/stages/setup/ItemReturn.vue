<script setup lang="ts">
// Sends goods of an item back to one who sold them, out of whatever orders and deliveries hold them: the uninvoiced first.
import { type ItemSheet } from '@/api/client'
import NumberField from '@/parts/NumberField.vue'
import PickField from '@/parts/PickField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import { sent, show, showDay } from '@/parts/numbers'
import { placeOf } from '@/parts/places'
import { today } from '@/parts/session'
import ReturnHow from '@/stages/receiving/ReturnHow.vue'
import { useReturn } from '@/stages/receiving/returning'

const props = defineProps<{ item: ItemSheet }>()
const emit = defineEmits<{ cancel: [] }>()
const {
  draft,
  clear,
  busy,
  preview,
  at: problem,
  fault,
  trouble,
  books,
  done,
} = useReturn(
  `return.item.${props.item.code}`,
  { back: { 0: '' }, lots: {}, supplier: props.item.sellers[0]?.supplier ?? '' },
  ({ back, supplier }) => ({
    item: props.item.code,
    supplier: supplier ?? '',
    quantity: sent(back[0] ?? '') || '0',
    lines: [],
  }),
)
function leave() {
  clear()
  emit('cancel')
}
</script>

<template>
  <SmallForm label="Return goods" action="Book the return" :disabled="busy" @done="done" @cancel="leave">
    <p class="mb-2">
      <b
        >Send goods back{{
          item.sellers.length === 1 ? ` to ${item.sellers[0]!.name ?? item.sellers[0]!.supplier}` : ''
        }}.</b
      >
      {{ books }}
    </p>
    <div class="d-flex flex-wrap gap-3 mb-2">
      <div v-if="item.sellers.length > 1">
        <label for="return-supplier">To</label>
        <PickField
          id="return-supplier"
          v-model="draft.supplier!"
          :options="item.sellers.map((s) => ({ value: s.supplier, text: s.name ?? s.supplier }))"
        />
      </div>
      <div>
        <label for="back-0">How much, {{ item.unitName }}</label>
        <NumberField id="back-0" v-model="draft.back[0]!" label="How much goes back" :error="fault('quantity')" />
      </div>
    </div>
    <table v-if="preview?.outs?.length" class="grid mb-2">
      <thead>
        <tr>
          <th class="named">Out of</th>
          <th>Delivery note</th>
          <th>Came</th>
          <th class="num">Invoiced of it</th>
          <th class="num">Goes back</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="o in preview.outs" :key="`${o.delivery} ${o.line}`">
          <td>
            order <RouterLink :to="placeOf.order(o.order)" class="mono">{{ o.order }}</RouterLink>, delivery
            <RouterLink :to="placeOf.delivery(o.delivery)" class="mono">{{ o.delivery }}</RouterLink>
          </td>
          <td class="mono">{{ o.note }}</td>
          <td>{{ showDay(o.day, today) }}</td>
          <td class="num">{{ Number(o.invoiced) ? show(o.invoiced) : '' }}</td>
          <td class="num">{{ show(o.quantity) }}</td>
        </tr>
      </tbody>
    </table>
    <ReturnHow v-model="draft" :problem="problem" />
    <div class="small text-danger" role="alert">{{ trouble }}</div>
  </SmallForm>
</template>
