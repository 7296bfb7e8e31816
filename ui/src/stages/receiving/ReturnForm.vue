<script setup lang="ts">
// Sends goods of a booked delivery back; says first what that books and what the supplier then owes.
import { type DeliverySheet } from '@/api/client'
import NumberField from '@/parts/NumberField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import { sent, show, showDay } from '@/parts/numbers'
import { today } from '@/parts/session'
import ReturnHow from './ReturnHow.vue'
import { useReturn } from './returning'

const props = defineProps<{ delivery: DeliverySheet }>()
const emit = defineEmits<{ cancel: [] }>()
type Line = DeliverySheet['lines'][number]
const lines = props.delivery.lines.filter((l) => Number(l.returnable) > 0)
const choice = (l: Line) => l.lotsLeft.length > 1
const {
  draft,
  clear,
  busy,
  at: problem,
  fault: wrong,
  trouble,
  books,
  done,
} = useReturn(
  `return.${props.delivery.number}`,
  {
    back: Object.fromEntries(lines.map((l) => [l.no, ''])),
    lots: Object.fromEntries(lines.flatMap((l) => l.lotsLeft.map((x) => [`${l.no} ${x.lot}`, '']))),
  },
  ({ back, lots }) => ({
    delivery: props.delivery.number,
    lines: lines.map((l) =>
      choice(l)
        ? {
            no: l.no,
            quantity: '0',
            lots: l.lotsLeft.map((x) => ({
              lot: x.lot,
              quantity: sent(lots[`${l.no} ${x.lot}`] ?? '', x.quantity) || '0',
            })),
          }
        : { no: l.no, quantity: sent(back[l.no] ?? '', l.returnable) || '0' },
    ),
  }),
)
const fault = (l: Line, name: string) => wrong(`lines[${lines.indexOf(l)}].${name}`)
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
        <template v-for="l in lines" :key="l.no">
          <tr>
            <td>
              {{ l.description }}
              <span v-if="l.lotsLeft.length === 1" class="d-block small muted"
                >lot <span class="mono">{{ l.lotsLeft[0]!.lot }}</span></span
              >
            </td>
            <td class="num">{{ show(l.returnable) }} {{ l.unitName }}</td>
            <td class="num">
              <span v-if="choice(l)" class="small" :class="fault(l, 'quantity') ? 'text-danger' : 'muted'">{{
                fault(l, 'quantity') ?? 'by lot, below'
              }}</span>
              <NumberField
                v-else
                :id="`back-${l.no}`"
                v-model="draft.back[l.no]!"
                :label="`${l.description}, goes back`"
                :whole="l.returnable"
                :error="fault(l, 'quantity')"
              />
            </td>
          </tr>
          <tr v-for="(x, i) in choice(l) ? l.lotsLeft : []" :key="x.lot" class="said">
            <td>
              lot <span class="mono">{{ x.lot }}</span><span v-if="x.bestBefore" class="muted"
                >, best before {{ showDay(x.bestBefore, today) }}</span
              >
            </td>
            <td class="num">{{ show(x.quantity) }} {{ l.unitName }}</td>
            <td class="num">
              <NumberField
                :id="`back-${l.no}-${i}`"
                v-model="draft.lots[`${l.no} ${x.lot}`]!"
                :label="`${l.description}, lot ${x.lot}, goes back`"
                :whole="x.quantity"
                :error="fault(l, `lots[${i}]`)"
              />
            </td>
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
