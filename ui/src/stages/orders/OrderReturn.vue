<script setup lang="ts">
// Sends goods of an order back, out of whatever deliveries hold them: the uninvoiced first. It is one return of each delivery.
import { computed, watch } from 'vue'
import { api, unwrap, type OrderSheet } from '@/api/client'
import NumberField from '@/parts/NumberField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import { useArrive } from '@/parts/arrive'
import { useDraft } from '@/parts/draft'
import { useJob } from '@/parts/job'
import { sent, show, showDay } from '@/parts/numbers'
import { placeOf } from '@/parts/places'
import { usePreview } from '@/parts/preview'
import { today } from '@/parts/session'
import ReturnHow from '@/stages/receiving/ReturnHow.vue'
import { freshReturn, returnBooks, returned, type ReturnDraft } from '@/stages/receiving/returning'

const props = defineProps<{ order: OrderSheet }>()
const emit = defineEmits<{ cancel: [] }>()
const arrive = useArrive()
const lines = props.order.lines.filter((l) => Number(l.goBack) > 0)
interface Draft extends ReturnDraft {
  back: Record<number, string>
}
const { draft, clear } = useDraft<Draft>(`return.order.${props.order.number}`, () => ({
  back: Object.fromEntries(lines.map((l) => [l.no, ''])),
  ...freshReturn(),
}))
const { refusal, busy, send, at: problem, forget } = useJob({ within: '.ask', says: ['', 'lines'] })
const body = () => ({
  order: props.order.number,
  day: draft.value.day,
  outcome: draft.value.outcome,
  reason: draft.value.reason,
  lines: lines.map((l) => ({ no: l.no, quantity: sent(draft.value.back[l.no] ?? '', l.goBack) || '0' })),
})
const { preview, again: ask } = usePreview([draft], () => unwrap(api.POST('/api/returns/preview', { body: body() })))
watch(draft, () => forget(), { deep: true })
if (Object.values(draft.value.back).some(Boolean)) void ask() // what was typed before was kept
function fault(i: number): string | undefined {
  const field = `lines[${i}].quantity`
  return problem(field) ?? preview.value?.problems.find((p) => p.field === field)?.sentence
}
const books = computed(() => returnBooks(preview.value, draft.value.outcome))
const outs = (no: number) => (preview.value?.outs ?? []).filter((o) => o.line === no)
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
                :error="fault(i)"
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
      {{ refusal && !refusal.problem.field ? refusal.message : problem('lines') }}
    </div>
  </SmallForm>
</template>
