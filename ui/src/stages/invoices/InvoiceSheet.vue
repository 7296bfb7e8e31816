<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import { api, Refusal, unwrap, type Finding, type Hold } from '@/api/client'
import { companyQuery } from '@/api/queries'
import AskReason from '@/parts/AskReason.vue'
import LedgerEntry from '@/parts/LedgerEntry.vue'
import LineGauge from '@/parts/LineGauge.vue'
import SupplierNotes from '@/parts/SupplierNotes.vue'
import NoticeBar from '@/parts/NoticeBar.vue'
import OrderThread from '@/parts/OrderThread.vue'
import PaperPage from '@/parts/PaperPage.vue'
import VerdictMark from '@/parts/VerdictMark.vue'
import { useKeys, type KeyAction } from '@/parts/keys'
import { notice, tell } from '@/parts/notice'
import { distance, price, show, showDay, showInstant } from '@/parts/numbers'
import { has, today } from '@/parts/session'
import FindingCard from './FindingCard.vue'

const props = defineProps<{ number: number }>()
const emit = defineEmits<{ finished: [] }>()
const router = useRouter()
const client = useQueryClient()
const {
  data: inv,
  error,
  refetch,
} = useQuery({
  queryKey: ['invoice', props.number],
  queryFn: () => unwrap(api.GET('/api/invoices/{number}', { params: { path: { number: props.number } } })),
})

const side = ref<'paper' | 'thread'>('paper')
watch(inv, (i) => (i && !i.paper && i.thread.length ? (side.value = 'thread') : undefined), { once: true })
const open = ref(-1) // the finding that is being settled
const asking = ref<'' | 'refuse' | 'void' | 'hold' | 'lift' | 'back'>('')
const trouble = ref('')

const held = computed(() => inv.value?.holds.find((h) => !h.ended))
const unsettled = computed(() => ['captured', 'waiting', 'held'].includes(inv.value?.state ?? ''))
/** What can still be settled: nothing of an invoice that has ended. */
const openFindings = computed(() =>
  unsettled.value || inv.value?.state === 'verified' ? (inv.value?.findings.filter((f) => f.ways.length > 0) ?? []) : [],
)
const differences = computed(
  () => inv.value?.findings.filter((f) => !f.accepted && (f.verdict === 'outside' || f.verdict === 'waiting')).length ?? 0,
)
const words: Record<string, string> = {
  captured: 'Captured',
  waiting: 'Waits for goods',
  held: 'Held',
  verified: 'Verified',
  released: 'Released',
  in_payment: 'In payment',
  paid: 'Paid',
  void: 'Void',
  refused: 'Refused',
}
const headline = computed(() => {
  const i = inv.value
  if (!i) return ''
  if (i.state === 'held') return `Held: ${differences.value} difference${differences.value === 1 ? '' : 's'}`
  if (i.state === 'verified' && differences.value > 0) return 'Verified, not to be released yet'
  return words[i.state] ?? i.state
})
const lit = computed(() => inv.value?.findings.filter((f) => f.line > 0 && f.verdict === 'outside' && !f.accepted).map((f) => f.line) ?? [])
const agreed = computed(() => {
  const levels = inv.value?.lines.map((l) => l.ordered?.level) ?? []
  return levels.some((l) => l === 'three_way')
    ? 'Everything agrees with the order and what was received.'
    : 'Everything agrees with the order.'
})
/** Whether the day on which it is due still means something. */
const owed = computed(() => !['paid', 'void', 'refused'].includes(inv.value?.state ?? ''))
const bad = (line: number, ...kinds: string[]) =>
  inv.value?.findings.some((f) => f.line === line && kinds.includes(f.kind) && f.verdict === 'outside' && !f.accepted)
const rank = (f: Finding) => openFindings.value.indexOf(f) + 1

async function act(call: () => Promise<unknown>, done: (state: string) => string) {
  trouble.value = ''
  notice.value = undefined
  try {
    const before = inv.value?.state
    const answer = (await call()) as { state?: string; summary?: string; entry?: number } | undefined
    asking.value = ''
    open.value = -1
    await Promise.all([
      refetch(),
      client.invalidateQueries({ queryKey: ['invoices'] }),
      client.invalidateQueries({ queryKey: ['holds'] }),
      client.invalidateQueries({ queryKey: ['payments'] }),
      client.invalidateQueries({ queryKey: ['course'] }),
    ])
    const state = answer?.state ?? inv.value?.state ?? ''
    tell(done(state), answer?.entry ? [{ to: `/lookup/journal/${answer.entry}`, text: `Ledger entry ${answer.entry}` }] : [])
    if (state !== before && ['verified', 'refused', 'void'].includes(state)) emit('finished')
  } catch (e) {
    trouble.value = (e as Refusal).message
    if (e instanceof Refusal && e.problem.kind === 'changed') await refetch()
  }
}
const path = () => ({ params: { path: { number: props.number } } })
const version = () => inv.value?.version ?? 0

function accept(f: Finding, note: string) {
  void act(
    () =>
      unwrap(
        api.POST('/api/invoices/{number}/accept', {
          ...path(),
          body: { kind: f.kind, line: f.line, other: f.other ?? 0, order: f.order ?? 0, charge: f.charge ?? '', note, version: version() },
        }),
      ),
    (state) => `The difference is accepted. Invoice ${props.number} is ${(words[state] ?? state).toLowerCase()}.`,
  )
}
function end(reason: string) {
  const voiding = asking.value === 'void'
  const call = voiding
    ? () => unwrap(api.POST('/api/invoices/{number}/void', { ...path(), body: { reason, version: version() } }))
    : () => unwrap(api.POST('/api/invoices/{number}/refuse', { ...path(), body: { reason, version: version() } }))
  void act(call, () =>
    voiding ? `Invoice ${props.number} is void; its entry was taken back.` : `Invoice ${props.number} is refused. Tell the supplier.`,
  )
}
function takeBack(reason: string) {
  void act(
    () => unwrap(api.POST('/api/invoices/{number}/take-back-release', { ...path(), body: { reason, version: version() } })),
    () => `The release of invoice ${props.number} is taken back; it is verified.`,
  )
}
function hold(note: string, reason: string) {
  void act(
    () => unwrap(api.POST('/api/invoices/{number}/hold', { ...path(), body: { reason, note } })),
    () => `Invoice ${props.number} is on payment hold.`,
  )
}
function lift(note: string) {
  const h = held.value
  if (!h) return
  void act(
    () => unwrap(api.POST('/api/holds/{number}/lift', { params: { path: { number: h.number } }, body: { note } })),
    () => `The payment hold on invoice ${props.number} is taken off.`,
  )
}
async function release() {
  await act(
    async () => {
      const answer = await unwrap(api.POST('/api/invoices/release', { body: { invoices: [props.number] } }))
      if (answer.left[0]) throw new Error(answer.left[0].why)
      return { state: 'released' }
    },
    () => `Invoice ${props.number} is released for payment.`,
  )
}
function way(w: string) {
  trouble.value = ''
  if (w === 'correct') void router.push(`/invoices/${props.number}/correct`)
  else if (w === 'deliver' && inv.value?.order) void router.push(`/receiving/${inv.value.order}`)
  else if (w === 'refuse') ask('refuse')
}
function ask(what: typeof asking.value) {
  trouble.value = ''
  open.value = -1
  asking.value = what
}
function toggle(i: number) {
  trouble.value = ''
  asking.value = ''
  open.value = open.value === i ? -1 : i
}
const { data: frame } = useQuery(companyQuery)
const reasons = computed(() => Object.fromEntries((frame.value?.holdReasons ?? []).map((r) => [r.code, r.name])))
const mayHold = computed(
  () =>
    has('clerk', 'approver', 'treasurer') &&
    !held.value &&
    ['captured', 'waiting', 'held', 'verified', 'released'].includes(inv.value?.state ?? ''),
)
const mayRelease = computed(
  () =>
    inv.value?.state === 'verified' && !held.value && differences.value === 0 && !inv.value.own && has('clerk', 'approver', 'treasurer'),
)

useKeys(() => {
  const i = inv.value
  if (!i) return []
  const keys: KeyAction[] = openFindings.value
    .slice(0, 9)
    .map((_, n) => ({ key: String(n + 1), label: `settle difference ${n + 1}`, run: () => toggle(n), quiet: n > 0 }))
  if (mayRelease.value) keys.push({ key: 'Ctrl+Enter', label: 'release', run: () => void release() })
  if (unsettled.value && has('clerk', 'approver'))
    keys.push({ key: 'c', label: 'correct', run: () => way('correct') }, { key: 'r', label: 'refuse', run: () => ask('refuse') })
  if (mayHold.value) keys.push({ key: 'h', label: 'hold', run: () => ask('hold') })
  if (held.value && has('clerk', 'approver', 'treasurer')) keys.push({ key: 'h', label: 'take hold off', run: () => ask('lift') })
  if (i.state === 'verified' && has('clerk', 'approver')) keys.push({ key: 'v', label: 'make void', run: () => ask('void') })
  keys.push(
    { key: 'p', label: 'paper', run: () => (side.value = 'paper') },
    { key: 't', label: i.order ? `thread of ${i.order}` : 'thread', run: () => (side.value = 'thread') },
  )
  if (i.order) keys.push({ key: 'g', label: `go to order ${i.order}`, run: () => void router.push(`/orders/${i.order}`), quiet: true })
  return keys
})
const holdText = (h: Hold) => `${h.reasonText}${h.note ? `: ${h.note}` : ''} (${h.by}, ${showInstant(h.at, today.value)})`
</script>

<template>
  <section class="sheet" aria-label="Invoice">
    <NoticeBar />
    <div v-if="error" class="nothing" role="alert">{{ error.message }}</div>
    <template v-else-if="inv">
      <header>
        <div class="headline">
          <h1>
            {{ inv.supplierName }} <span class="mono fw-medium">{{ inv.supplierNumber }}</span>
          </h1>
          <VerdictMark :verdict="inv.state === 'verified' && differences ? 'outside' : inv.verdict" :text="headline" />
        </div>
        <dl class="facts">
          <div>
            <dt>{{ inv.orders.length > 1 ? 'Orders' : 'Order' }}</dt>
            <dd class="mono">
              <template v-for="(o, i) in inv.orders" :key="o"
                ><template v-if="i">, </template><RouterLink :to="`/orders/${o}`">{{ o }}</RouterLink></template
              ><template v-if="!inv.orders.length">{{ inv.orderStated || 'none' }}</template>
            </dd>
          </div>
          <div>
            <dt>Invoice date</dt>
            <dd>{{ showDay(inv.date, today) }}</dd>
          </div>
          <div>
            <dt>Due</dt>
            <dd>
              {{ showDay(inv.due, today) }}<span v-if="owed" class="muted"> · {{ distance(inv.due, today) }}</span
              ><template v-if="inv.dueStated && inv.dueStated !== inv.due">
                <span class="muted"> · the invoice says {{ showDay(inv.dueStated, today) }}</span></template
              ><template v-if="owed && inv.discountUntil >= today && Number(inv.discount) > 0">
                · {{ show(inv.discount) }} off until {{ showDay(inv.discountUntil, today) }}
                <span class="muted">({{ inv.yearlyRate }} a year)</span></template
              >
            </dd>
          </div>
          <div>
            <dt>Stated total</dt>
            <dd>
              <b>{{ show(inv.stated) }} {{ inv.currency }}</b>
            </dd>
          </div>
          <div v-if="inv.reference">
            <dt>Reference</dt>
            <dd class="mono">{{ inv.reference }}</dd>
          </div>
          <div>
            <dt>Lagoon’s number</dt>
            <dd class="mono">{{ inv.number }}</dd>
          </div>
        </dl>
        <p v-if="inv.rejected" class="outside-text mb-0 mt-1">The bank rejected its latest payment: {{ inv.rejected }}.</p>
        <SupplierNotes :code="inv.supplier?.code" stage="invoices" />
      </header>
      <div class="body" tabindex="0">
        <table class="grid mb-3">
          <thead>
            <tr>
              <th class="named">Line</th>
              <th class="num">Ordered</th>
              <th class="num">Received</th>
              <th class="num">Invoiced</th>
              <th class="num">Unit price</th>
              <th class="num">Net</th>
              <th>Gauge</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="l in inv.lines" :key="l.no">
              <td>
                <b>{{ l.ordered?.description ?? l.description }}</b><br /><span class="muted"
                  >{{ l.unitName }}<template v-if="l.order"> · order {{ l.order }}</template
                  ><template v-if="!l.ordered && !l.chargeKind"> · no order line</template
                  ><template v-if="l.chargeKind"> · charge</template></span
                >
              </td>
              <td class="num">{{ show(l.ordered?.quantity) }}</td>
              <td class="num">{{ show(l.ordered?.received) }}</td>
              <td class="num">
                <span :class="{ 'outside-text': bad(l.no, 'over_received', 'over_ordered', 'unit') }">{{ show(l.quantity) }}</span>
                <template v-if="l.ordered && Number(l.ordered.billed) > 0 && unsettled"
                  ><br /><span class="muted">{{ show(l.ordered.billed) }} before</span></template
                >
              </td>
              <td class="num">
                <span :class="{ 'outside-text': bad(l.no, 'unit_price') }">{{ price(l.price) }}</span>
                <template v-if="l.ordered && l.ordered.price !== l.price"
                  ><br /><span class="muted">{{ price(l.ordered.price) }}</span></template
                >
              </td>
              <td class="num">{{ show(l.net) }}</td>
              <td><LineGauge v-if="l.ordered" :line="l.ordered" :invoiced="unsettled ? l.quantity : l.ordered.billed" /></td>
            </tr>
            <tr v-for="(c, i) in inv.charges" :key="`c${i}`">
              <td>
                <b>{{ c.reason || c.kind }}</b><br /><span class="muted">{{
                  c.allowance ? 'discount on the whole' : 'not on the order'
                }}</span>
              </td>
              <td colspan="4"></td>
              <td class="num">{{ c.allowance ? '−' : '' }}{{ show(c.amount) }}</td>
              <td></td>
            </tr>
          </tbody>
        </table>
        <FindingCard
          v-for="f in inv.findings"
          :key="`${f.kind} ${f.line} ${f.other ?? f.order ?? 0} ${f.charge ?? ''}`"
          :finding="f"
          :rank="rank(f)"
          :open="rank(f) > 0 && open === rank(f) - 1"
          :may-accept="!inv.own && (has('approver') || (has('treasurer') && f.kind === 'bank_account'))"
          :may-correct="has('clerk', 'approver')"
          :may-deliver="has('receiver')"
          :trouble="trouble"
          @toggle="toggle(rank(f) - 1)"
          @accept="(note) => accept(f, note)"
          @way="(w) => way(w)"
          @cancel="open = -1"
        />
        <p v-if="inv.findings.length === 0 && inv.state !== 'refused'" class="finding agrees">
          {{ agreed }}
        </p>
        <p v-for="h in inv.holds.filter((x) => !x.ended)" :key="h.number" class="finding"><b>Payment hold.</b> {{ holdText(h) }}</p>

        <AskReason
          v-if="asking === 'refuse'"
          id="refuse"
          title="Refuse to the supplier."
          books="Books nothing. The invoice ends here and frees what it claimed. Nobody is told by itself: tell the supplier."
          label="Reason"
          action="Refuse the invoice"
          :error="trouble"
          @done="end"
          @cancel="asking = ''"
        />
        <AskReason
          v-if="asking === 'void'"
          id="void"
          title="Make void."
          books="Takes back its ledger entry by a counter-entry; what it used is open again."
          label="Reason"
          action="Make void"
          :error="trouble"
          @done="end"
          @cancel="asking = ''"
        />
        <AskReason
          v-if="asking === 'back'"
          id="back"
          title="Take the release back."
          books="Books nothing. The invoice is verified, and is paid only once it is released again."
          label="Reason"
          action="Take it back"
          :error="trouble"
          @done="takeBack"
          @cancel="asking = ''"
        />
        <AskReason
          v-if="asking === 'hold'"
          id="hold"
          title="Payment hold."
          books="Books nothing. The invoice is neither released nor paid until somebody takes the hold off."
          label="Note"
          action="Put on hold"
          :options="reasons"
          :error="trouble"
          @done="hold"
          @cancel="asking = ''"
        />
        <AskReason
          v-if="asking === 'lift'"
          id="lift"
          title="Take the hold off."
          books="Books nothing. The invoice can be released and paid again."
          label="Note"
          action="Take the hold off"
          :error="trouble"
          @done="lift"
          @cancel="asking = ''"
        />
        <p v-if="trouble && open < 0 && !asking" class="outside-text" role="alert">{{ trouble }}</p>

        <details v-if="inv.entries.length" class="mt-3">
          <summary class="mb-2">
            Ledger: {{ inv.entries.length === 1 ? `entry ${inv.entries[0]!.number}` : `${inv.entries.length} entries` }}
          </summary>
          <LedgerEntry v-for="e in inv.entries" :key="e.number" :entry="e" />
        </details>
        <p class="muted small mt-3 mb-0">
          {{ inv.source === 'ubl' ? 'Read from an e-invoice' : 'Keyed by hand' }} {{ showInstant(inv.capturedAt, today) }} by
          {{ inv.capturedBy }}<template v-if="inv.correctedBy">, entry corrected by {{ inv.correctedBy }}</template
          >. Checked {{ showInstant(inv.checkedAt, today) }}: {{ inv.cause }}.
        </p>
      </div>
      <div class="bar">
        <BButton v-if="mayRelease" variant="primary" @click="release">Release for payment</BButton>
        <BButton v-if="unsettled && has('clerk', 'approver')" variant="outline-secondary" @click="way('correct')"
          >Correct the entry</BButton
        >
        <BButton v-if="mayHold" variant="outline-secondary" @click="ask('hold')">Hold</BButton>
        <BButton v-if="held && has('clerk', 'approver', 'treasurer')" variant="outline-secondary" @click="ask('lift')"
          >Take hold off</BButton
        >
        <BButton v-if="unsettled && has('clerk', 'approver')" variant="outline-secondary" @click="ask('refuse')">Refuse</BButton>
        <BButton v-if="inv.state === 'released' && has('clerk', 'approver', 'treasurer')" variant="outline-secondary" @click="ask('back')"
          >Take the release back</BButton
        >
        <BButton v-if="inv.state === 'verified' && has('clerk', 'approver')" variant="outline-secondary" @click="ask('void')"
          >Make void</BButton
        >
        <span class="sum">
          Lines {{ show(inv.totals.lines) }}<template v-if="Number(inv.totals.charges)"> · charges {{ show(inv.totals.charges) }}</template
          ><template v-if="Number(inv.totals.allowances)"> · discount {{ show(inv.totals.allowances) }}</template> · tax
          {{ show(inv.totals.tax) }} =
          <b :class="Number(inv.totals.rounding) === 0 ? 'text-success' : 'outside-text'"
            >{{ show(inv.totals.total) }}, {{ Number(inv.totals.rounding) === 0 ? 'as stated' : `stated ${show(inv.stated)}` }}</b
          >
        </span>
      </div>
    </template>
  </section>
  <aside class="side" aria-label="Evidence">
    <template v-if="inv">
      <div class="tabs" role="tablist" aria-label="Evidence">
        <button type="button" role="tab" :aria-selected="side === 'paper'" @click="side = 'paper'">Paper</button>
        <button type="button" role="tab" :aria-selected="side === 'thread'" @click="side = 'thread'">
          Thread<template v-if="inv.order"> of {{ inv.order }}</template>
        </button>
      </div>
      <template v-if="side === 'paper'">
        <PaperPage v-if="inv.paper" :invoice="inv.number" :lit="lit" />
        <p v-else class="muted">This invoice was keyed by hand; there is no file of it.</p>
      </template>
      <OrderThread v-else-if="inv.order" :events="inv.thread" :title="`Thread of ${inv.order}`" />
      <p v-else class="muted">The invoice belongs to no order yet, so it has no thread.</p>
    </template>
  </aside>
</template>
