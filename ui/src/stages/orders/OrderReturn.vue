<script setup lang="ts">
// Sends goods of an order back, out of whatever deliveries hold them: the uninvoiced first. It is one return of each delivery.
import { type OrderSheet } from '@/api/client'
import NumberField from '@/parts/NumberField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import { sent, show, showDay } from '@/parts/numbers'
import { today } from '@/parts/session'
import ReturnHow from '@/stages/receiving/ReturnHow.vue'
import { useReturn } from '@/stages/receiving/returning'

const props = defineProps<{ order: OrderSheet }>()
const emit = defineEmits<{ cancel: [] }>()
const lines = props.order.lines.filter((l) => Number(l.goBack) > 0)
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
  `return.order.${props.order.number}`,
  { back: Object.fromEntries(lines.map((l) => [l.no, ''])), lots: {} },
  ({ back }) => ({
    order: props.order.number,
    lines: lines.map((l) => ({ no: l.no, quantity: sent(back[l.no] ?? '', l.goBack) || '0' })),
  }),
)
const outs = (no: number) => (preview.value?.outs ?? []).filter((o) => o.line === no)
function leave() {
  clear()
  emit('cancel')
}
</script>

<template>
  <SmallForm label="Return goods" action="Book the return" :disabled="busy" @done="done" @cancel="leave">
    <p class="mb-2"><b>Send goods back.</b> {{ books }}</p>
    <table class="grid goes-back mb-2">
      <thead>
        <tr>
          <th class="named">Line</th>
          <th class="num">Still here</th>
          <th class="num">Goes back</th>
        </tr>
      </thead>
      <tbody>
        <template v-for="(l, i) in lines" :key="l.no">
          <tr>
            <td>{{ l.description }}</td>
            <td class="num">{{ show(l.goBack) }} {{ l.unitName }}</td>
            <td class="num">
              <NumberField
                :id="`back-${l.no}`"
                v-model="draft.back[l.no]!"
                :label="`${l.description}, goes back`"
                :whole="l.goBack"
                :error="fault(`lines[${i}].quantity`)"
              />
            </td>
          </tr>
          <tr v-for="o in outs(l.no)" :key="`${l.no} ${o.delivery}`" class="said">
            <td colspan="2">
              out of delivery {{ o.delivery }}, <span class="mono">{{ o.note }}</span>, {{ showDay(o.day, today)
              }}<span v-if="Number(o.invoiced) > 0" class="muted">; {{ show(o.invoiced) }} of it invoiced</span>
            </td>
            <td class="num">{{ show(o.quantity) }}</td>
          </tr>
        </template>
      </tbody>
    </table>
    <ReturnHow v-model="draft" :problem="problem" />
    <div class="small text-danger" role="alert">
      {{ trouble }}
    </div>
  </SmallForm>
</template>
