<script setup lang="ts">
// Money that moved outside payment runs: how an invoice was paid otherwise, or a credit note refunded.
import { computed, ref } from 'vue'
import { api, unwrap, type InvoiceSheet } from '@/api/client'
import NumberField from '@/parts/NumberField.vue'
import PickField from '@/parts/PickField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import TextField from '@/parts/TextField.vue'
import { useJob } from '@/parts/job'
import { sent, show, showDay } from '@/parts/numbers'
import { today } from '@/parts/session'

const props = defineProps<{ inv: InvoiceSheet }>()
const emit = defineEmits<{ opens: []; done: [state: string, said: string] }>()
const form = ref<{ way: 'bank' | 'cash' | 'card'; amount: string; day: string; reference: string }>()
const back = ref<{ number: number; reason: string }>()
const { busy, send, trouble, at, forget } = useJob({ within: '.ask', says: 'all' })
const refund = computed(() => props.inv.kind === 'credit_note')
const owed = computed(() => props.inv.open.replace('-', ''))
const ways = computed(() => [
  { value: 'bank', text: refund.value ? 'to the bank' : 'by the bank, without us' },
  { value: 'cash', text: 'in cash' },
  { value: 'card', text: refund.value ? 'to the card' : 'by card' },
])
function open() {
  forget()
  emit('opens')
  back.value = undefined
  form.value = { way: 'bank', amount: '', day: today.value, reference: '' }
}
function askBack(number: number) {
  forget()
  emit('opens')
  form.value = undefined
  back.value = { number, reason: '' }
}
function close() {
  form.value = undefined
  back.value = undefined
}
async function record() {
  const f = form.value
  if (!f) return
  const answer = await send(() =>
    unwrap(
      api.POST('/api/invoices/{number}/settled', {
        params: { path: { number: props.inv.number } },
        body: { ...f, amount: sent(f.amount), version: props.inv.version },
      }),
    ),
  )
  if (!answer) return
  close()
  emit('done', answer.state, refund.value ? 'The refund is recorded.' : 'The payment is recorded.')
}
async function takeBack() {
  const b = back.value
  if (!b) return
  const answer = await send(() =>
    unwrap(
      api.POST('/api/settlements/{number}/take-back', {
        params: { path: { number: b.number } },
        body: { reason: b.reason, version: props.inv.version },
      }),
    ),
  )
  if (!answer) return
  close()
  emit(
    'done',
    answer.state,
    refund.value ? 'The refund is taken back.' : 'The payment is taken back; it is owed again.',
  )
}
defineExpose({ open, close })
</script>

<template>
  <section v-for="s in inv.settled ?? []" :key="s.number" class="finding within">
    <div class="said">
      <span>
        <b>{{ refund ? 'Refunded' : 'Paid' }} {{ s.way }}: {{ show(s.amount) }} {{ inv.currency }}</b
        >, {{ showDay(s.day, today) }}, {{ s.reference }}. <span class="muted">{{ s.by }}</span>
      </span>
      <button v-if="inv.may.includes('takeBackSettlement')" type="button" class="linkish" @click="askBack(s.number)">
        Take back…
      </button>
    </div>
    <SmallForm v-if="back?.number === s.number" action="Take it back" :disabled="busy" @done="takeBack" @cancel="close">
      <label for="settled-back">Why it is taken back; it is owed again</label>
      <TextField
        id="settled-back"
        v-model="back.reason"
        data-first
        autocomplete="off"
        aria-describedby="settled-trouble"
      />
      <div id="settled-trouble" class="small text-danger" role="alert">{{ trouble }}</div>
    </SmallForm>
  </section>
  <SmallForm
    v-if="form"
    :action="refund ? 'Record the refund' : 'Record the payment'"
    :disabled="busy"
    @done="record"
    @cancel="close"
  >
    <p class="mb-2">
      <b>{{ refund ? 'It was refunded.' : 'It was paid otherwise.' }}</b>
      {{
        refund
          ? `What the supplier owes, ${show(owed)} ${inv.currency}, came back.`
          : `No payment run pays it any more. ${inv.state === 'verified' ? 'It is released with it.' : ''}`
      }}
    </p>
    <div class="d-flex flex-wrap gap-3">
      <div>
        <label for="settled-reference">What tells it: receipt, statement, card</label>
        <TextField
          id="settled-reference"
          v-model="form.reference"
          data-first
          autocomplete="off"
          :state="at('reference') ? false : undefined"
          aria-describedby="otherwise-trouble"
          style="width: 240px"
        />
      </div>
      <div>
        <label for="settled-way">How</label>
        <PickField id="settled-way" v-model="form.way" :options="ways" />
      </div>
      <div>
        <label for="settled-amount">Amount, if not {{ show(owed) }}</label>
        <NumberField
          id="settled-amount"
          v-model="form.amount"
          label="Amount"
          :error="at('amount')"
          style="width: 120px"
        />
      </div>
      <div>
        <label for="settled-day">Day</label>
        <TextField
          id="settled-day"
          v-model="form.day"
          type="date"
          :max="today"
          :state="at('day') ? false : undefined"
        />
      </div>
    </div>
    <div id="otherwise-trouble" class="small text-danger mt-1" role="alert">{{ trouble }}</div>
  </SmallForm>
</template>
