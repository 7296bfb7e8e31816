<script setup lang="ts">
// Money that is paid ahead on an order: what is agreed, what became of it, and how it is agreed.
import { computed, ref } from 'vue'
import { api, unwrap, type MoneyAhead, type OrderSheet } from '@/api/client'
import ChoiceField from '@/parts/ChoiceField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import TextField from '@/parts/TextField.vue'
import { useJob } from '@/parts/job'
import { sent, show, showDay } from '@/parts/numbers'
import { placeOf } from '@/parts/places'
import { may as allowed, today } from '@/parts/session'

const props = defineProps<{ order: OrderSheet; open: boolean }>()
const emit = defineEmits<{ close: []; opens: [] }>()
const fresh = () => ({
  share: '',
  kind: '',
  event: '',
  expectedOn: props.order.issuedOn > today.value ? props.order.issuedOn : today.value,
  note: '',
})
const form = ref(fresh())
const kind = ref('')
const removing = ref<{ agreement: number; reason: string }>()
const replaces = ref(0)
const { busy, send, trouble, at, forget } = useJob({ within: '.ask', says: 'all' })
const may = (job: string) => props.order.may.includes(job)
const rows = computed(() => props.order.ahead ?? [])
const more = (a: string, b: string) => Number(a) > Number(b)
const share = (text: string) => (text.trim().endsWith('%') ? `${sent(text.replace('%', ''))}%` : sent(text))

async function agree() {
  await send(
    () =>
      unwrap(
        api.POST('/api/orders/{number}/ahead', {
          params: { path: { number: props.order.number } },
          body: {
            ...form.value,
            share: share(form.value.share),
            kind: form.value.kind || kind.value,
            version: props.order.version,
            ...(replaces.value ? { replaces: replaces.value } : {}),
          },
        }),
      ),
    { after: close, done: 'The money ahead is agreed.' },
  )
}
async function remove() {
  const r = removing.value
  if (!r) return
  await send(
    () =>
      unwrap(
        api.POST('/api/orders/{number}/ahead/{agreement}/remove', {
          params: { path: { number: props.order.number, agreement: r.agreement } },
          body: { reason: r.reason, version: props.order.version },
        }),
      ),
    { after: close, done: 'It is not agreed any more.' },
  )
}
async function request(m: MoneyAhead) {
  await send(
    () =>
      unwrap(
        api.POST('/api/orders/{number}/ahead/{agreement}/request', {
          params: { path: { number: props.order.number, agreement: m.agreement ?? 0 } },
          body: { version: props.order.version },
        }),
      ),
    { after: close, done: 'It is requested. Another person releases it.' },
  )
}
function change(m: MoneyAhead) {
  replaces.value = m.agreement ?? 0
  form.value = {
    share: m.share ?? show(m.agreed),
    kind: m.kind,
    event: m.event,
    expectedOn: m.expectedOn ?? today.value,
    note: m.note,
  }
  emit('opens')
}
function ask(m: MoneyAhead) {
  forget()
  removing.value = { agreement: m.agreement ?? 0, reason: '' }
}
function close() {
  form.value = fresh()
  kind.value = ''
  replaces.value = 0
  removing.value = undefined
  forget()
  emit('close')
}
</script>

<template>
  <template v-if="rows.length || open">
    <h2 class="mt-3 mb-1">Money ahead</h2>
    <table v-if="rows.length" class="grid">
      <thead>
        <tr>
          <th>Agreed</th>
          <th>When</th>
          <th class="num">With tax, {{ order.currency }}</th>
          <th>Asked for</th>
          <th class="num">Paid</th>
          <th class="num">Used</th>
          <th class="num">Can be used</th>
        </tr>
      </thead>
      <tbody>
        <template v-for="(m, i) in rows" :key="i">
          <tr>
            <td>
              <b>{{ m.share ?? (m.agreement ? 'an amount' : 'not agreed') }}</b> {{ m.kind }}
              <span v-if="m.note" class="d-block small">{{ m.note }}</span>
            </td>
            <td>
              {{ m.event
              }}<span v-if="m.expectedOn" :class="{ muted: m.event, 'd-block': m.event }">{{
                showDay(m.expectedOn, today)
              }}</span>
            </td>
            <td class="num">{{ show(m.agreed) }}</td>
            <td>
              <span v-for="n in m.invoices" :key="n.number" class="d-block"
                ><RouterLink :to="placeOf.invoice(n.number)" class="mono">{{ n.supplierNumber }}</RouterLink>
                {{ show(n.total) }} <span class="muted">{{ n.state }}</span></span
              >
              <RouterLink
                v-if="m.agreement && more(m.agreed, m.invoiced) && m.invoices.length === 0 && allowed('keyInvoice')"
                :to="placeOf.keyingAhead(order.number, m.agreement)"
                >Key its invoice</RouterLink
              >
              <span v-if="m.toRequest && may('requestPrepayment')" class="d-block small">
                <button type="button" class="linkish reach" :disabled="busy" @click="request(m)">
                  Pay {{ show(m.toRequest) }} without an invoice
                </button>
              </span>
              <span v-if="m.agreement && m.invoices.length === 0" class="d-block small">
                <button v-if="may('agreePrepayment')" type="button" class="linkish reach" @click="change(m)">
                  Change…
                </button>
                <button v-if="may('removePrepayment')" type="button" class="linkish reach ms-2" @click="ask(m)">
                  Remove…
                </button>
              </span>
            </td>
            <td class="num">{{ show(m.paid) }}</td>
            <td class="num">{{ show(m.used) }}</td>
            <td class="num">
              {{ show(m.usable) }}
              <span v-if="m.stuck" class="d-block small outside-text">the order has ended: to be credited</span>
            </td>
          </tr>
          <tr v-if="removing && removing.agreement === m.agreement" class="said">
            <td colspan="7">
              <SmallForm action="Remove it" :disabled="busy" @done="remove" @cancel="close">
                <label for="ahead-why">Why it is not agreed any more</label>
                <TextField
                  id="ahead-why"
                  v-model="removing.reason"
                  data-first
                  autocomplete="off"
                  aria-describedby="ahead-why-trouble"
                />
                <div id="ahead-why-trouble" class="small text-danger" role="alert">{{ trouble }}</div>
              </SmallForm>
            </td>
          </tr>
        </template>
      </tbody>
    </table>
    <SmallForm
      v-if="open"
      :action="replaces ? 'Agree it so instead' : 'Agree it'"
      :disabled="busy"
      @done="agree"
      @cancel="close"
    >
      <p class="mb-2">
        <b>Money that is paid before the goods.</b> The order comes to {{ show(order.total) }} {{ order.currency }} with
        tax. Nothing is booked before the supplier’s invoice for it is verified.
      </p>
      <div class="d-flex flex-wrap gap-3">
        <div>
          <label for="ahead-share">Share or amount</label>
          <TextField
            id="ahead-share"
            v-model="form.share"
            data-first
            autocomplete="off"
            placeholder="30% or 850"
            :state="at('share') ? false : undefined"
            aria-describedby="ahead-order-trouble"
            style="width: 110px"
          />
        </div>
        <div>
          <label for="ahead-kind">Kind, which is its account</label>
          <ChoiceField
            id="ahead-kind"
            v-model="form.kind"
            v-model:typed="kind"
            label="Kind"
            placeholder="deposit"
            :choices="(order.aheadKinds ?? []).map((k) => ({ value: k, text: k }))"
            :state="at('kind') ? false : undefined"
            style="width: 190px"
          />
        </div>
        <div>
          <label for="ahead-event">With what, if anything</label>
          <TextField
            id="ahead-event"
            v-model="form.event"
            autocomplete="off"
            placeholder="on shipment"
            style="width: 170px"
          />
        </div>
        <div>
          <label for="ahead-day">Expected on</label>
          <TextField
            id="ahead-day"
            v-model="form.expectedOn"
            type="date"
            :state="at('expectedOn') ? false : undefined"
          />
        </div>
        <div>
          <label for="ahead-remark">Note</label>
          <TextField id="ahead-remark" v-model="form.note" autocomplete="off" style="width: 190px" />
        </div>
      </div>
      <div id="ahead-order-trouble" class="small text-danger mt-1" role="alert">{{ trouble }}</div>
    </SmallForm>
  </template>
</template>

<style scoped>
.reach {
  min-height: 24px;
}
</style>
