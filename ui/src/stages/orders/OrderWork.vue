<script setup lang="ts">
// Accepts what is done of an order's lines by value: an amount, or per cent of the line.
import { computed, watch } from 'vue'
import { api, unwrap, type DeliveryEntry, type OrderSheet } from '@/api/client'
import SmallForm from '@/parts/SmallForm.vue'
import TextField from '@/parts/TextField.vue'
import TickBox from '@/parts/TickBox.vue'
import { useArrive } from '@/parts/arrive'
import { useDraft } from '@/parts/draft'
import { useJob } from '@/parts/job'
import { sent, show } from '@/parts/numbers'
import { placeOf } from '@/parts/places'
import { usePreview } from '@/parts/preview'
import { today } from '@/parts/session'

const props = defineProps<{ order: OrderSheet }>()
const emit = defineEmits<{ cancel: [] }>()
const lines = props.order.lines.filter((l) => l.byValue && !l.closedGoods)
const { draft, clear } = useDraft(`work.${props.order.number}`, () => ({
  done: Object.fromEntries(lines.map((l) => [l.no, ''])),
  close: Object.fromEntries(lines.map((l) => [l.no, false])),
  day: today.value,
  note: '',
  again: false,
}))
const arrive = useArrive()
const { refusal, busy, send, at, forget } = useJob({ within: '.ask', says: ['', 'lines', 'order'] })
const body = (): DeliveryEntry => ({
  order: props.order.number,
  note: draft.value.note.trim(),
  noNote: draft.value.note.trim() === '',
  secondPart: draft.value.again,
  day: draft.value.day,
  place: '',
  condition: '',
  lines: lines.map((l) => {
    const typed = draft.value.done[l.no]!.trim()
    const share = typed.endsWith('%')
    return {
      no: l.no,
      quantity: sent(share ? typed.slice(0, -1).trim() : typed, l.rest) || '0',
      ...(share ? { unit: 'P1' } : {}),
      close: draft.value.close[l.no]!,
      before: l.received,
    }
  }),
})
const {
  preview,
  again: ask,
  wrong,
} = usePreview([draft], () => unwrap(api.POST('/api/work/preview', { body: body() })))
watch(draft, () => forget(), { deep: true })
if (Object.values(draft.value.done).some(Boolean)) void ask() // what was typed before was kept
const fault = (field: string) => at(field) ?? wrong(field)
const said = (no: number) => preview.value?.findings.find((f) => f.line === no)
const twice = computed(() => refusal.value?.problem.kind === 'duplicate' || draft.value.again)
const books = computed(() =>
  preview.value && Number(preview.value.value) !== 0
    ? `Puts ${show(preview.value.value)} ${props.order.currency} to cost, received and not invoiced; as much can be invoiced then.`
    : 'Enter how much of it is done: an amount, or per cent of the line.',
)
const done = () =>
  send(async () => {
    const booked = await unwrap(api.POST('/api/work', { body: body() }))
    clear()
    emit('cancel')
    await arrive(placeOf.order(props.order.number), `What is done is accepted as number ${booked.number}.`, [
      { to: placeOf.delivery(booked.number), text: 'What was accepted' },
      ...(booked.entry ? [{ to: placeOf.entry(booked.entry), text: `Ledger entry ${booked.entry}` }] : []),
      ...booked.moves.map((n) => ({ to: placeOf.invoice(n), text: `Invoice ${n} was matched again` })),
    ])
  })
function leave() {
  clear()
  emit('cancel')
}
</script>

<template>
  <SmallForm label="Accept work" action="Accept it" :disabled="busy" @done="done" @cancel="leave">
    <p class="mb-2"><b>Accept what is done.</b> {{ books }}</p>
    <table class="grid mb-2">
      <thead>
        <tr>
          <th class="named">Line</th>
          <th class="num">Agreed</th>
          <th class="num">Accepted before</th>
          <th class="num">Done now</th>
          <th>The rest</th>
        </tr>
      </thead>
      <tbody>
        <template v-for="(l, i) in lines" :key="l.no">
          <tr>
            <td>{{ l.description }}</td>
            <td class="num">{{ show(l.quantity) }} {{ order.currency }}</td>
            <td class="num">{{ show(l.came) }}</td>
            <td class="num">
              <TextField
                :id="`done-${l.no}`"
                v-model="draft.done[l.no]!"
                class="num"
                :aria-label="`${l.description}, done now: an amount or per cent`"
                autocomplete="off"
                :placeholder="`${show(l.rest)} or 40%`"
                :state="fault(`lines[${i}].quantity`) || said(l.no)?.verdict === 'outside' ? false : undefined"
                :aria-describedby="`done-${l.no}-said`"
              />
            </td>
            <td>
              <TickBox :id="`close-${l.no}`" v-model="draft.close[l.no]!">nothing more comes</TickBox>
            </td>
          </tr>
          <tr class="said">
            <td :id="`done-${l.no}-said`" colspan="5">
              <span v-if="fault(`lines[${i}].quantity`)" class="text-danger">{{ fault(`lines[${i}].quantity`) }}</span>
              <span v-else-if="said(l.no)" :class="said(l.no)!.verdict === 'outside' ? 'outside-text' : 'muted'">{{
                said(l.no)!.sentence
              }}</span>
            </td>
          </tr>
        </template>
      </tbody>
    </table>
    <div class="d-flex flex-wrap gap-3">
      <div>
        <label for="work-day" class="d-block">Day</label>
        <TextField
          id="work-day"
          v-model="draft.day"
          type="date"
          :max="today"
          :state="at('day') ? false : undefined"
          aria-describedby="work-day-error"
        />
        <div id="work-day-error" class="small text-danger">{{ fault('day') }}</div>
      </div>
      <div style="flex: 1 1 200px">
        <label for="work-note">Their time sheet or report, where there is one</label>
        <TextField
          id="work-note"
          v-model="draft.note"
          autocomplete="off"
          :state="at('note') ? false : undefined"
          aria-describedby="work-note-error"
        />
        <div id="work-note-error" class="small text-danger">{{ at('note') }}</div>
        <TickBox v-if="twice" id="work-again" v-model="draft.again">It is something else</TickBox>
      </div>
    </div>
    <div class="small text-danger" role="alert">
      {{ refusal && !refusal.problem.field ? refusal.message : (at('order') ?? at('lines')) }}
    </div>
  </SmallForm>
</template>
