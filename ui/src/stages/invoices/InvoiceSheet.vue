<script setup lang="ts">
// One invoice: what it is about, what differs and how that is settled, what it booked, and the evidence beside it.
import { computed, inject, ref } from 'vue'
import { finished } from '@/parts/slip'
import { useQuery } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import { api, unwrap, type Finding } from '@/api/client'
import AskReason from '@/parts/AskReason.vue'
import HoldsPart from '@/parts/HoldsPart.vue'
import QuestionsPart from '@/parts/QuestionsPart.vue'
import SupplierNotes from '@/parts/SupplierNotes.vue'
import NoticeBar from '@/parts/NoticeBar.vue'
import VerdictMark from '@/parts/VerdictMark.vue'
import { useArrive } from '@/parts/arrive'
import { useJob } from '@/parts/job'
import { useKeys, type KeyAction } from '@/parts/keys'
import { notice } from '@/parts/notice'
import AheadPart from './AheadPart.vue'
import ClaimPanel from './ClaimPanel.vue'
import ClaimsPart from './ClaimsPart.vue'
import CodedPart from './CodedPart.vue'
import CreditTable from './CreditTable.vue'
import FindingCard from './FindingCard.vue'
import InvoiceEvidence from './InvoiceEvidence.vue'
import InvoiceFoot from './InvoiceFoot.vue'
import InvoiceFacts from './InvoiceFacts.vue'
import InvoiceSum from './InvoiceSum.vue'
import InvoiceTable from './InvoiceTable.vue'
import WithPart from './WithPart.vue'
import OtherwisePart from './OtherwisePart.vue'
import PaidPart from './PaidPart.vue'
import { runMade, runOf } from '../payments/alone'
import { dueOf, tie, useAsks, type Ask } from './asks'
import { kindWords } from './entry'
import { useSaid } from './said'
import { stateWords } from './slips'
import { useSteps } from './steps'
import { placeOf } from '@/parts/places'

const props = defineProps<{ number: number }>()
const next = inject(finished, () => undefined)
const router = useRouter()
const { data: inv, error } = useQuery({
  queryKey: ['invoice', props.number],
  queryFn: () => unwrap(api.GET('/api/invoices/{number}', { params: { path: { number: props.number } } })),
})

const side = ref<'paper' | 'thread' | 'history'>('paper')
const open = ref(-1) // the finding that is being settled
const asking = ref<Ask | 'hold' | 'lift'>()
const claiming = ref(false)
const questions = ref<{ close: () => void }>()
const withWhom = ref<{ close: () => void }>()
const ahead = ref<{ settle: (how: 'use' | 'leave') => void; close: () => void }>()
const otherwise = ref<{ open: () => void; close: () => void }>()
const arrive = useArrive()
const { busy, send, trouble, forget } = useJob({ says: 'all' })

const credit = computed(() => inv.value?.kind === 'credit_note')
const what = computed(() => kindWords[inv.value?.kind ?? ''] ?? 'Invoice')
const may = (job: string) => inv.value?.may.includes(job) ?? false
const { openFindings, differences, headline, lit, agreed } = useSaid(inv, credit)
const rank = (f: Finding) => openFindings.value.indexOf(f) + 1

/** Gives a command on the invoice; one that it ends or verifies by lets the pile go on. */
async function act(call: () => Promise<{ state?: string; entry?: number } | object>, done: (state: string) => string) {
  notice.value = undefined
  const before = inv.value?.state
  const answer = await send(call, {
    after: () => ask(),
    done: (a) => done('state' in a && a.state ? a.state : (inv.value?.state ?? '')),
    links: (a) => ('entry' in a && a.entry ? [{ to: placeOf.entry(a.entry), text: `Ledger entry ${a.entry}` }] : []),
  })
  const state = inv.value?.state ?? ''
  if (answer && state !== before && ['verified', 'refused', 'void'].includes(state)) next()
}
const path = computed(() => ({ params: { path: { number: props.number } } }))
const version = () => inv.value?.version ?? 0

const about = (f: Finding, note: string) => ({
  kind: f.kind,
  line: f.line,
  other: f.other ?? 0,
  order: f.order ?? 0,
  charge: f.charge ?? '',
  note,
  version: version(),
})
const now = (state: string) => `${what.value} ${props.number} is ${(stateWords[state] ?? state).toLowerCase()}.`
const accept = (f: Finding, note: string, all: boolean) =>
  act(
    () => unwrap(api.POST('/api/invoices/{number}/accept', { ...path.value, body: { ...about(f, note), all } })),
    (state) => `The difference is accepted. ${now(state)}`,
  )
const takeBack = (f: Finding, note: string) =>
  act(
    () => unwrap(api.POST('/api/invoices/{number}/take-back-acceptance', { ...path.value, body: about(f, note) })),
    () => 'The acceptance is taken back; the difference is open again.',
  )
/** Approves an invoice without an order, or passes that on to somebody. */
function approve(note: string, to: string) {
  const body = { note, version: version(), ...(to ? { to } : {}) }
  const name = inv.value?.coded?.approvers.find((a) => a.login === to)?.name ?? to
  void act(
    () =>
      to
        ? unwrap(api.POST('/api/invoices/{number}/pass', { ...path.value, body }))
        : unwrap(api.POST('/api/invoices/{number}/approve', { ...path.value, body })),
    (state) => (to ? `Passed on to ${name}.` : `Approved. ${now(state)}`),
  )
}
const release = () =>
  act(
    async () => {
      const answer = await unwrap(api.POST('/api/invoices/release', { body: { invoices: [props.number] } }))
      if (answer.left[0]) throw new Error(answer.left[0].why)
      return { state: 'released' }
    },
    () => `Invoice ${props.number} is released for payment.`,
  )
const asks = useAsks(
  props.number,
  () => what.value,
  version,
  () => inv.value?.refusal,
  () => dueOf(inv.value),
)
const asked = computed(() => (asking.value && asking.value in asks.value ? asks.value[asking.value as Ask] : undefined))
function answered(text: string, _: string, tell: boolean) {
  const a = asked.value
  if (a)
    void act(
      () => a.run(text, tell),
      () => a.done,
    )
}
const correct = () => void router.push(placeOf.correction(props.number))
function way(w: string, f: Finding) {
  if (w === 'correct') correct()
  else if (w === 'deliver' && inv.value?.order) void router.push(placeOf.receiving(inv.value.order))
  else if (w === 'return' && inv.value?.order) void router.push(placeOf.sendingBack(inv.value.order))
  else if (w === 'plan' && f.order) void router.push(placeOf.orderPlanning(f, inv.value?.charges ?? []))
  else if (w === 'refuse') ask('refuse')
  else if (w === 'use' || w === 'leave') {
    open.value = -1
    ahead.value?.settle(w)
  }
}
function ask(what?: Ask | 'hold' | 'lift') {
  forget()
  questions.value?.close()
  ahead.value?.close()
  otherwise.value?.close()
  withWhom.value?.close()
  open.value = -1
  claiming.value = false
  asking.value = what
}
function claim() {
  ask()
  claiming.value = true
}
/** It was done by a part of the sheet; one that is verified by it lets the pile go on. */
function done(state: string, said: string, entry?: number) {
  void act(
    () => Promise.resolve({ state, entry }),
    (s) => `${said} ${now(s)}`,
  )
}
function toggle(i: number) {
  forget()
  questions.value?.close()
  asking.value = undefined
  claiming.value = false
  open.value = open.value === i ? -1 : i
}
const steps = useSteps(inv, differences, {
  correct,
  claim,
  ask,
  credit: () => void router.push(placeOf.creditOf(props.number)),
  otherwise: () => otherwise.value?.open(),
  pay: () => void send(() => runOf(inv.value!), { after: (run) => arrive(placeOf.run(run.number), runMade(run)) }),
})
useKeys(() => {
  const i = inv.value
  if (!i) return []
  const keys: KeyAction[] = openFindings.value
    .slice(0, 9)
    .map((_, n) => ({ key: String(n + 1), label: `settle difference ${n + 1}`, run: () => toggle(n), quiet: n > 0 }))
  if (may('releaseInvoices')) keys.push({ key: 'Ctrl+Enter', label: 'release', run: () => void release() })
  keys.push(
    ...steps.value,
    { key: 'y', label: 'history', run: () => (side.value = 'history'), quiet: true },
    { key: 'p', label: 'paper', run: () => (side.value = 'paper'), quiet: true },
    { key: 't', label: i.order ? `thread of ${i.order}` : 'thread', run: () => (side.value = 'thread') },
  )
  if (i.order)
    keys.push({
      key: 'g',
      label: `go to order ${i.order}`,
      run: () => void router.push(placeOf.order(i.order)),
      quiet: true,
    })
  return keys
})
</script>

<template>
  <section class="sheet" aria-label="Invoice">
    <NoticeBar />
    <div v-if="error" class="nothing" role="alert">{{ error.message }}</div>
    <template v-else-if="inv">
      <header>
        <div class="headline">
          <h1>
            <template v-if="inv.kind !== 'invoice'">{{ what }} of </template>{{ inv.supplierName }}
            <span class="mono fw-medium">{{ inv.supplierNumber }}</span>
          </h1>
          <VerdictMark :verdict="inv.state === 'verified' && differences ? 'outside' : inv.verdict" :text="headline" />
        </div>
        <p v-if="inv.about" class="mb-1">{{ inv.about }}</p>
        <InvoiceFacts :inv="inv" @due="ask('due')" />
        <WithPart ref="withWhom" :inv="inv" @opens="ask()" @gone="next" />
        <p v-if="inv.rejected" class="outside-text mb-0 mt-1">
          The bank rejected its latest payment: {{ inv.rejected }}.
        </p>
        <SupplierNotes :code="inv.supplier?.code" stage="invoices" />
      </header>
      <div class="body" tabindex="0">
        <CreditTable v-if="credit" :inv="inv" />
        <InvoiceTable v-else :inv="inv" />
        <FindingCard
          v-for="f in inv.findings"
          :key="`${f.kind} ${f.line} ${f.other ?? f.order ?? 0} ${f.charge ?? ''}`"
          :finding="f"
          :rank="rank(f)"
          :open="rank(f) > 0 && open === rank(f) - 1"
          :trouble="trouble"
          :approvers="inv.coded?.approvers"
          :others="inv.findings.filter((o) => o.kind === f.kind && o !== f && o.ways.length > 0).length"
          :may-take-back="!!f.accepted && may('takeBackAcceptance')"
          @toggle="toggle(rank(f) - 1)"
          @accept="(note, all) => accept(f, note, all)"
          @back="(note) => takeBack(f, note)"
          @approve="approve"
          @way="(w) => way(w, f)"
          @tie="(c) => act(() => tie(number, version(), f, c), now)"
          @cancel="open = -1"
        />
        <p v-if="inv.findings.length === 0 && !['refused', 'held'].includes(inv.state)" class="finding agrees">
          {{ agreed }}
        </p>
        <AheadPart ref="ahead" :inv="inv" @opens="ask()" @done="done" />
        <PaidPart :inv="inv" />
        <QuestionsPart
          ref="questions"
          :questions="inv.questions"
          :invoice="inv.number"
          :findings="openFindings"
          :holds="may('holdInvoice')"
          :supplier="!!inv.supplier"
          @opens="ask()"
          @gone="next"
        />
        <HoldsPart v-model:panel="asking" :holds="inv.holds" :invoice="inv.number" />
        <OtherwisePart ref="otherwise" :inv="inv" @opens="ask()" @done="done" />
        <ClaimPanel
          v-if="claiming"
          :inv="inv"
          @done="(state, entry) => done(state, 'The claim is made.', entry)"
          @cancel="ask()"
        />
        <ClaimsPart :inv="inv" />
        <CodedPart v-if="inv.coded" :coded="inv.coded" />
        <AskReason
          v-if="asking && asked"
          :id="asking"
          :key="asking"
          v-bind="asked"
          :error="trouble"
          @done="answered"
          @cancel="ask()"
        />
        <p v-if="trouble && open < 0 && !asking" class="outside-text" role="alert">{{ trouble }}</p>
        <InvoiceFoot :inv="inv" />
      </div>
      <div class="bar">
        <BButton v-if="may('releaseInvoices')" variant="primary" :disabled="busy" @click="release"
          >Release for payment</BButton
        >
        <BButton v-for="s in steps" :key="s.job" variant="outline-secondary" @click="s.run">{{ s.text }}</BButton>
        <InvoiceSum :inv="inv" />
      </div>
    </template>
  </section>
  <InvoiceEvidence v-model="side" :inv="inv" :what="what" :lit="lit" />
</template>
