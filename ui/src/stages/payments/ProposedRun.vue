<script setup lang="ts">
import { computed, reactive, ref, watch } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { until, useDebounceFn } from '@vueuse/core'
import { api, Refusal, unwrap, type ProposedRun } from '@/api/client'
import { lostSince } from '@/api/live'
import { companyQuery } from '@/api/queries'
import SupplierNotes from '@/parts/SupplierNotes.vue'
import AtBankPart from './AtBankPart.vue'
import NoticeBar from '@/parts/NoticeBar.vue'
import NumberField from '@/parts/NumberField.vue'
import PickField from '@/parts/PickField.vue'
import { useJob } from '@/parts/job'
import { useKeys } from '@/parts/keys'
import { sent, show, showDay, sums } from '@/parts/numbers'
import { current, may as allowed, today } from '@/parts/session'
import TextField from '@/parts/TextField.vue'
import TickBox from '@/parts/TickBox.vue'
import { useArrive } from '@/parts/arrive'
import { placeOf } from '@/parts/places'
import { runMade } from './alone'

const arrive = useArrive()
const dueBy = ref(shift(today.value, 14))
const payOn = ref(current.value?.bankDay ?? today.value)
const atHand = ref('') // empty: enough
const proposal = ref<ProposedRun>()
const out = reactive(new Set<number>()) // taken out by the person
const urgent = ref(false)
const from = ref('') // the account of ours that it leaves; empty: the company's own
const { data: frame } = useQuery(companyQuery)
/** The accounts that it may leave, where there are several. */
const accounts = computed(() =>
  (frame.value?.debitAccounts ?? [])
    .filter((a) => !a.ended)
    .map((a) => ({
      value: a.own ? '' : a.iban,
      text: a.own ? `the company’s own, ${a.iban}` : `${a.name}, ${a.iban}`,
    })),
)
const only = ref(false) // nothing but what is put in
const asking = ref(false) // what is shown is not yet what was chosen last
const extra = reactive(new Set<number>()) // put in although not due
const amounts = ref<Record<number, string>>({})
const left = reactive(new Set<number>()) // credit notes that nothing is taken off for
const { refusal, busy, send, at } = useJob()

function shift(day: string, n: number): string {
  return new Date(Date.parse(day) + n * 86_400_000).toISOString().slice(0, 10)
}
async function propose() {
  if (!dueBy.value || !payOn.value) return // a date that is still being typed
  refusal.value = undefined
  const query = () => ({
    dueBy: dueBy.value,
    payOn: payOn.value,
    ...(atHand.value.trim() ? { atHand: sent(atHand.value) } : {}),
    ...(left.size ? { without: [...left] } : {}),
    ...(out.size ? { out: [...out] } : {}),
    ...(extra.size ? { in: [...extra] } : {}),
    ...(only.value ? { only: true } : {}),
    ...(from.value ? { from: from.value } : {}),
    ...(parts.value.length ? { part: parts.value } : {}),
  })
  const asked = query()
  asking.value = true
  try {
    const answer = await unwrap(api.GET('/api/payments/proposed-run', { params: { query: asked } }))
    if (JSON.stringify(asked) !== JSON.stringify(query())) return // a later question is on its way
    proposal.value = answer
    asking.value = false
    for (const i of answer.payments.flatMap((p) => p.items)) amounts.value[i.invoice] ??= ''
  } catch (e) {
    refusal.value = e as Refusal
    asking.value = false
  }
}
/** The parts that are typed, as they are asked for. */
const parts = computed(() =>
  Object.entries(amounts.value)
    .filter(([, typed]) => typed.trim())
    .map(([invoice, typed]) => `${invoice}:${sent(typed, openOf(Number(invoice)))}`),
)
const openOf = (invoice: number) =>
  proposal.value?.payments.flatMap((p) => p.items).find((i) => i.invoice === invoice)?.open
watch([dueBy, payOn, atHand], () => {
  proposal.value = undefined // of another question
})
watch([dueBy, payOn, atHand, lostSince, only, from, left, out, extra], () => void propose(), { immediate: true })
watch(() => parts.value.join(), useDebounceFn(propose, 200))

/** The credit of whoever is paid, in the currency of the payment, that a person leaves. */
const leftOf = (p: ProposedRun['payments'][number]) =>
  (proposal.value?.credits ?? []).filter(
    (c) => c.supplier === p.supplier && c.currency === p.currency && left.has(c.number),
  )

const chosen = computed(() =>
  (proposal.value?.payments.flatMap((p) => p.items) ?? []).filter((i) => !i.out).map((i) => i.invoice),
)
const credited = computed(() => proposal.value?.payments.some((p) => p.nettings.length) ?? false)
/** What is chosen comes to, each currency by itself. */
const worth = computed(() =>
  sums((proposal.value?.payments ?? []).map((p) => ({ amount: p.total, currency: p.currency }))),
)
const may = computed(() => allowed('makeRun'))

const make = () =>
  send(async () => {
    await until(asking).toBe(false) // what is worked out is what is made
    const sum = worth.value
    const items = chosen.value.map((invoice) => ({ invoice, amount: sent(amounts.value[invoice] ?? '') }))
    const run = await unwrap(
      api.POST('/api/runs', {
        body: {
          dueBy: dueBy.value,
          payOn: payOn.value,
          items,
          without: [...left],
          urgent: urgent.value,
          from: from.value,
        },
      }),
    )
    await arrive(placeOf.run(run.number), runMade(run, sum))
  })
const amountProblem = (invoice: number) => at(`items[${chosen.value.indexOf(invoice)}].amount`)
/** Takes an invoice out, or puts it in; the rest is worked out anew. */
function toggle(i: { invoice: number; out: boolean; in: boolean }) {
  if (i.out) {
    if (!out.delete(i.invoice)) extra.add(i.invoice)
  } else if (!extra.delete(i.invoice)) out.add(i.invoice)
}
/** Takes out all that is proposed, to tick just what is wanted; or puts all of it in again. */
function all() {
  only.value = chosen.value.length > 0
  extra.clear()
  out.clear()
}
useKeys(() =>
  may.value
    ? [
        { key: 'Ctrl+Enter', label: 'make the run', run: () => void make() },
        { key: 'a', label: chosen.value.length ? 'choose none' : 'choose all that is due', run: all },
      ]
    : [],
)
</script>

<template>
  <section class="sheet" aria-label="Propose a run">
    <NoticeBar />
    <header>
      <h1>Propose a payment run</h1>
      <dl class="facts fields">
        <div>
          <dt><label for="due-by">Due by</label></dt>
          <dd>
            <TextField id="due-by" v-model="dueBy" type="date" :state="refusal?.at('dueBy') ? false : undefined" />
          </dd>
        </div>
        <div>
          <dt><label for="pay-on">Pay on</label></dt>
          <dd>
            <TextField
              id="pay-on"
              v-model="payOn"
              type="date"
              :min="today"
              :state="refusal?.at('payOn') ? false : undefined"
            />
          </dd>
        </div>
        <div>
          <dt><label for="at-hand">At hand, empty: enough</label></dt>
          <dd>
            <TextField
              id="at-hand"
              v-model="atHand"
              class="num"
              inputmode="decimal"
              autocomplete="off"
              :state="refusal?.at('atHand') ? false : undefined"
            />
          </dd>
        </div>
        <div v-if="accounts.length > 1">
          <dt><label for="run-from">Leaves</label></dt>
          <dd>
            <PickField id="run-from" v-model="from" :options="accounts" :state="at('from') ? false : undefined" />
          </dd>
        </div>
      </dl>
      <p v-if="proposal?.within" class="mb-0 mt-1" role="status">
        What loses most a year is paid first; <b>{{ show(proposal.within.left) }} {{ proposal.within.currency }}</b> are
        left after it<template v-if="Number(proposal.within.lost)"
          >, and discounts of <b>{{ show(proposal.within.lost) }}</b> are lost for want of money</template
        >.
      </p>
      <TickBox v-model="urgent" class="mt-1">Urgent: the bank carries it out at once, and may charge for that</TickBox>
      <p class="muted small mb-0 mt-1">
        A discount counts when it is lost unless paid by then. One payment per supplier and currency.
      </p>
      <div class="small text-danger" role="alert">
        {{ refusal?.at('dueBy') ?? refusal?.at('payOn') ?? refusal?.at('atHand') ?? at('from') }}
      </div>
      <p v-if="proposal && proposal.bankDay !== proposal.payOn" class="outside-text mb-0" role="status">
        {{ showDay(proposal.payOn, today) }} is no bank day: the run would be proposed again for
        {{ showDay(proposal.bankDay, today) }}.
      </p>
    </header>
    <div class="body">
      <div v-if="proposal && proposal.payments.length === 0" class="nothing">
        <h1>Nothing is due by then</h1>
        <p>Release invoices first, or choose a later day. What is left out stands below with the reason.</p>
      </div>
      <section v-for="p in proposal?.payments ?? []" :key="p.supplier + p.currency" class="mb-3">
        <div class="d-flex justify-content-between">
          <h2>{{ p.supplier }}{{ p.payee ? `, paid to ${p.payee}` : '' }}</h2>
          <b class="num">{{ show(p.total) }} {{ p.currency }}</b>
        </div>
        <div class="muted small mono mb-1">{{ p.iban }}</div>
        <p v-if="p.warning" class="outside-text mb-1">
          The bank rejected the last payment to this account: {{ p.warning }}. Have the account changed, or confirmed on
          the supplier’s page.
        </p>
        <SupplierNotes :code="p.code" stage="payments" />
        <table class="grid alike">
          <thead>
            <tr>
              <th style="width: 52px">Pay</th>
              <th>Invoice</th>
              <th style="width: 110px">Due</th>
              <th class="num" style="width: 110px">Open</th>
              <th v-if="credited" class="num" style="width: 110px">Credited</th>
              <th class="num" style="width: 100px">Discount</th>
              <th class="num" style="width: 120px">To pay</th>
              <th class="num" style="width: 130px">Pay in part</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="i in p.items" :key="i.invoice" :class="{ muted: i.out }">
              <td>
                <TickBox
                  :model-value="!i.out"
                  :aria-label="`Pay ${i.supplierNumber}`"
                  @update:model-value="toggle(i)"
                />
              </td>
              <td>
                <RouterLink :to="placeOf.invoice(i.invoice)" class="mono">{{ i.supplierNumber }}</RouterLink><span
                  v-if="i.ahead"
                  class="muted"
                >
                  · money ahead</span
                >
              </td>
              <td class="nowrap" :class="{ 'outside-text': i.due < today }">{{ showDay(i.due, today) }}</td>
              <td class="num">{{ show(i.open) }}</td>
              <td v-if="credited" class="num">{{ Number(i.netted) ? `− ${show(i.netted)}` : '' }}</td>
              <td class="num">{{ Number(i.discount) ? show(i.discount) : '' }}</td>
              <td class="num">{{ i.out ? '' : show(i.amount) }}</td>
              <td class="num">
                <NumberField
                  :id="`part-${i.invoice}`"
                  v-model="amounts[i.invoice]!"
                  :label="`Pay ${i.supplierNumber} in part`"
                  :whole="i.open"
                  :error="amountProblem(i.invoice)"
                  placeholder="all"
                />
              </td>
            </tr>
          </tbody>
        </table>
        <p v-for="(n, k) in p.nettings" :key="k" class="mb-0 mt-1">
          <TickBox :model-value="true" @update:model-value="left.add(n.credit)"
            >{{ show(n.amount) }} of credit note
            <RouterLink :to="placeOf.invoice(n.credit)" class="mono">{{ n.creditNumber }}</RouterLink>,
            {{ showDay(n.date, today) }}, taken off <span class="mono">{{ n.supplierNumber }}</span></TickBox
          >
        </p>
        <p v-for="c in leftOf(p)" :key="c.number" class="mb-0 mt-1">
          <TickBox :model-value="false" @update:model-value="left.delete(c.number)"
            >Take off credit note <span class="mono">{{ c.supplierNumber }}</span>, {{ show(c.open.replace('-', '')) }}
            {{ c.currency }}</TickBox
          >
        </p>
      </section>
      <AtBankPart v-if="proposal?.atBank" :at="proposal.atBank" />
      <template v-if="proposal?.leftOut.length">
        <h2 class="mb-1">Left out</h2>
        <table class="grid">
          <tbody>
            <tr v-for="l in proposal.leftOut" :key="l.invoice">
              <td>
                {{ l.supplier }}
                <RouterLink :to="placeOf.invoice(l.invoice)" class="mono">{{ l.supplierNumber }}</RouterLink><span
                  v-if="l.ahead"
                  class="muted"
                >
                  · money ahead</span
                >
              </td>
              <td class="num">{{ show(l.open) }} {{ l.currency }}</td>
              <td class="nowrap">due {{ showDay(l.due, today) }}</td>
              <td>{{ l.why }}</td>
              <td>
                <TickBox v-if="l.payable" :model-value="extra.has(l.invoice)" @update:model-value="extra.add(l.invoice)"
                  >put in</TickBox
                >
              </td>
            </tr>
          </tbody>
        </table>
      </template>
    </div>
    <div class="bar">
      <BButton variant="primary" :disabled="!may || busy || chosen.length === 0" @click="make">Make the run</BButton>
      <BButton variant="outline-secondary" :disabled="!may" @click="all">{{
        chosen.length ? 'Choose none' : 'Choose all that is due'
      }}</BButton>
      <span class="sum"
        >{{ chosen.length === 1 ? '1 invoice' : `${chosen.length} invoices` }} chosen<template v-if="worth"
          >, <b>{{ worth }}</b></template
        >. A second person approves the run before anything is paid.</span
      >
    </div>
  </section>
</template>
