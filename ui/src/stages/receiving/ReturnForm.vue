<script setup lang="ts">
// Sends goods of a booked delivery back; says first what that books and what the supplier then owes.
import { computed, watch } from 'vue'
import { api, unwrap, type DeliverySheet } from '@/api/client'
import NumberField from '@/parts/NumberField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import { useArrive } from '@/parts/arrive'
import { useDraft } from '@/parts/draft'
import { useJob } from '@/parts/job'
import { usePreview } from '@/parts/preview'
import { sent, show, showDay } from '@/parts/numbers'
import { today } from '@/parts/session'
import { placeOf } from '@/parts/places'
import ReturnHow from './ReturnHow.vue'
import { freshReturn, returnBooks, returned, type ReturnDraft } from './returning'

const props = defineProps<{ delivery: DeliverySheet }>()
const emit = defineEmits<{ cancel: [] }>()
const arrive = useArrive()
type Line = DeliverySheet['lines'][number]
const lines = props.delivery.lines.filter((l) => Number(l.returnable) > 0)
interface Draft extends ReturnDraft {
  back: Record<number, string>
  lots: Record<string, string> // by line and lot, where there is more than one
}
const { draft, clear } = useDraft<Draft>(`return.${props.delivery.number}`, () => ({
  back: Object.fromEntries(lines.map((l) => [l.no, ''])),
  lots: Object.fromEntries(lines.flatMap((l) => l.lotsLeft.map((x) => [`${l.no} ${x.lot}`, '']))),
  ...freshReturn(),
}))
const choice = (l: Line) => l.lotsLeft.length > 1
const { refusal, busy, send, at: problem, forget } = useJob({ within: '.ask', says: ['', 'lines'] })
const body = () => ({
  delivery: props.delivery.number,
  day: draft.value.day,
  outcome: draft.value.outcome,
  reason: draft.value.reason,
  lines: lines.map((l) =>
    choice(l)
      ? {
          no: l.no,
          quantity: '0',
          lots: l.lotsLeft.map((x) => ({
            lot: x.lot,
            quantity: sent(draft.value.lots[`${l.no} ${x.lot}`] ?? '', x.quantity) || '0',
          })),
        }
      : { no: l.no, quantity: sent(draft.value.back[l.no] ?? '', l.returnable) || '0' },
  ),
})
const { preview, again: ask } = usePreview([draft], () => unwrap(api.POST('/api/returns/preview', { body: body() })))
watch(draft, () => forget(), { deep: true })
if ([...Object.values(draft.value.back), ...Object.values(draft.value.lots)].some(Boolean)) void ask() // what was typed before was kept
function fault(l: Line, name: string): string | undefined {
  const field = `lines[${lines.indexOf(l)}].${name}`
  return problem(field) ?? preview.value?.problems.find((p) => p.field === field)?.sentence
}
const books = computed(() => returnBooks(preview.value, draft.value.outcome))
function leave() {
  clear()
  emit('cancel')
}
const done = () =>
  send(async () => {
    const booked = await unwrap(api.POST('/api/returns', { body: body() }))
    clear()
    await arrive(placeOf.delivery(booked.number), ...returned(booked))
  })
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
      {{ refusal && !refusal.problem.field ? refusal.message : problem('lines') }}
    </div>
  </SmallForm>
</template>
