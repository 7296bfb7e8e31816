<script setup lang="ts">
// Keys an invoice against an order, or corrects the entry of one: one form for both.
import { computed, nextTick, ref, watch } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { useDebounceFn } from '@vueuse/core'
import { useRouter } from 'vue-router'
import { api, Refusal, unwrap, type EntryPreview, type Numbered, type OrderSheet } from '@/api/client'
import { suppliersQuery } from '@/api/queries'
import { lostSince } from '@/api/live'
import ChoiceField from '@/parts/ChoiceField.vue'
import NewSupplier from '@/stages/setup/NewSupplier.vue'
import SupplierNotes from '@/parts/SupplierNotes.vue'
import NoticeBar from '@/parts/NoticeBar.vue'
import LedgerEntry from '@/parts/LedgerEntry.vue'
import NumberField from '@/parts/NumberField.vue'
import OrderThread from '@/parts/OrderThread.vue'
import PaperPage from '@/parts/PaperPage.vue'
import VerdictMark from '@/parts/VerdictMark.vue'
import { useDraft } from '@/parts/draft'
import { nextField } from '@/parts/fields'
import { useKeys } from '@/parts/keys'
import { warn } from '@/parts/notice'
import { show, showDay } from '@/parts/numbers'
import { useJob } from '@/parts/job'
import { may as allowed, today } from '@/parts/session'
import TextField from '@/parts/TextField.vue'
import { useArrive } from '@/parts/arrive'
import InvoiceLines from './InvoiceLines.vue'
import OpenOrders from './OpenOrders.vue'
import { blankLine, freshInvoice, invoiceBody, proposedInvoice, orderLineOf, proposedLines, retied, typedInvoice } from './entry'

const props = defineProps<{ order: number; corrects: number }>()
const router = useRouter()
const arrive = useArrive()

const { draft, clear, kept } = useDraft(props.corrects ? `correct.${props.corrects}` : `key.${props.order}`, () =>
  freshInvoice(props.order),
)
const chosen = ref<OrderSheet>()
const others = ref<OrderSheet[]>([]) // further orders that lines are about
const preview = ref<EntryPreview>()
const { refusal, busy, send, at: problem } = useJob()
const unknown = ref('') // a name that is no supplier's yet
const ready = ref(false) // until then nothing can be typed that the loading would overwrite
const { data: suppliers } = useQuery(suppliersQuery)

async function start() {
  try {
    if (props.corrects) {
      const inv = await unwrap(api.GET('/api/invoices/{number}', { params: { path: { number: props.corrects } } }))
      if (!draft.value.filled) Object.assign(draft.value, typedInvoice(inv))
      draft.value.version = inv.version
      if (!draft.value.supplier) unknown.value = inv.supplierName
    }
    await fromOrder()
    for (const number of new Set(draft.value.lines.map((l) => l.order ?? 0))) if (number) others.value.push((await proposal(number)).order)
  } catch (e) {
    warn(e)
  }
  tiedTo.value = Number(draft.value.order) || 0
  ready.value = true
  await nextTick()
  document.getElementById(props.corrects || props.order ? 'invoice-number' : 'invoice-order')?.focus()
}

const proposal = (number: number) => unwrap(api.GET('/api/orders/{number}/invoice-proposal', { params: { path: { number } } }))

/** Reads the order and, for a new entry, proposes what is received and not yet invoiced. */
async function fromOrder() {
  const wanted = draft.value.order.trim()
  const number = Number(wanted)
  const before = chosen.value
  if (before && before.number === number) return
  chosen.value = undefined
  nothing.value = ''
  if (wanted === '') return
  if (!/^\d+$/.test(wanted) || !number) throw new Error(`“${wanted}” is no order number.`)
  const p = await proposal(number)
  chosen.value = p.order
  const typed = draft.value.filled && draft.value.lines.length > 0 && JSON.stringify(draft.value.lines) !== proposed
  if (props.corrects || (typed && draft.value.supplier === p.order.supplier.code)) {
    if (draft.value.supplier === '') draft.value.supplier = p.order.supplier.code
    if (ready.value && tiedTo.value !== number) draft.value.lines = retied(draft.value.lines, before, p.order)
  } else {
    Object.assign(draft.value, proposedInvoice(p))
    proposed = JSON.stringify(draft.value.lines)
    if (p.lines.length === 0) nothing.value = `Nothing of order ${number} is received and not yet invoiced.`
  }
  tiedTo.value = number
}
let proposed = '' // the lines as they were proposed, while nothing is typed over them
const tiedTo = ref(0) // the order whose lines the numbers of order lines are
const nothing = ref('') // why nothing is proposed
async function orderTyped() {
  refusal.value = undefined
  try {
    await fromOrder()
    document.getElementById('invoice-number')?.focus()
  } catch (e) {
    refusal.value = new Refusal({
      kind: 'not_found',
      sentence: (e as Error).message,
      field: 'order',
      problems: [{ kind: 'not_found', sentence: (e as Error).message, field: 'order' }],
    })
  }
}
void start()

const entry = () => ({
  ...invoiceBody(draft.value, (l) => orderLineOf(l, chosen.value, others.value)?.quantity, chosen.value?.net),
  ...(props.corrects ? { corrects: props.corrects, version: draft.value.version } : {}),
})

// An invoice may be about several orders of its supplier: what is received on another and not
// yet invoiced is taken in as further lines.
const another = ref('')
const anotherTrouble = ref('')
async function takeAnother() {
  anotherTrouble.value = ''
  const number = Number(another.value)
  if (!number) return
  try {
    const p = await proposal(number)
    if (chosen.value && p.order.supplier.code !== chosen.value.supplier.code)
      throw new Error(`Order ${number} is of ${p.order.supplier.name}, not of ${chosen.value.supplier.name}.`)
    if (p.lines.length === 0) throw new Error(`Nothing of order ${number} is received and not yet invoiced.`)
    if (number === Number(draft.value.order) || draft.value.lines.some((l) => l.order === number))
      throw new Error(`Lines of order ${number} stand here already.`)
    others.value.push(p.order)
    const first = draft.value.lines.length
    draft.value.lines.push(...proposedLines(p).map((l) => ({ ...l, order: number })))
    another.value = ''
    await nextTick()
    document.getElementById(`quantity-${first}`)?.focus()
  } catch (e) {
    anotherTrouble.value = (e as Error).message
  }
}
const ask = useDebounceFn(async () => {
  if (draft.value.lines.length) preview.value = await unwrap(api.POST('/api/invoices/preview', { body: entry() })).catch(() => undefined)
}, 250)
watch([draft, chosen, lostSince], () => void ask(), { deep: true }) // also when Lagoon answers again
watch(draft, () => (refusal.value = undefined), { deep: true })

/** Why nothing can be captured yet. */
const lacks = computed(() =>
  !may.value ? 'Keying an invoice takes the role clerk.' : draft.value.lines.length === 0 ? 'Nothing to capture yet: it has no line.' : '',
)
const state = (field: string) => (problem(field) ? false : undefined)

const capture = () =>
  send(async () => {
    const answer = props.corrects
      ? await unwrap(api.POST('/api/invoices/{number}/correct', { params: { path: { number: props.corrects } }, body: entry() }))
      : await unwrap(api.POST('/api/invoices', { body: entry() }))
    clear()
    const words: Record<string, string> = {
      verified: 'agrees and is verified',
      waiting: 'waits for goods',
      held: `is held: ${answer.summary}`,
    }
    await arrive(
      `/invoices/${answer.number}`,
      `Invoice ${answer.number} ${words[answer.state] ?? answer.state}.`,
      answer.entry ? [{ to: `/lookup/journal/${answer.entry}`, text: `Ledger entry ${answer.entry}` }] : [],
    )
  })
function madeSupplier(code: string) {
  draft.value.supplier = code
  unknown.value = ''
}
async function takeOrder(number: number) {
  draft.value.order = String(number)
  await orderTyped()
}
function addLine() {
  draft.value.lines.push(blankLine())
  draft.value.filled = true
  const at = draft.value.lines.length - 1
  void nextTick(() => document.querySelectorAll<HTMLElement>('.body table.grid tbody tr')[at]?.querySelector('select')?.focus())
}
function addCharge() {
  const taxed = draft.value.lines.find((l) => Number(l.taxRate) > 0) ?? draft.value.lines[0] // a charge follows the goods it came with
  draft.value.charges.push({
    allowance: false,
    kind: 'freight',
    reason: 'Freight',
    amount: '',
    taxCategory: taxed?.taxCategory ?? 'S',
    taxRate: taxed?.taxRate ?? '0',
  })
  void nextTick(() => document.getElementById(`charge-${draft.value.charges.length - 1}`)?.focus())
}
function throwAway() {
  clear()
  void router.push(props.corrects ? `/invoices/${props.corrects}` : '/invoices')
}
function goOn(event: KeyboardEvent) {
  if (!(event.target instanceof HTMLInputElement && event.target.id === 'invoice-order') || event.ctrlKey) return nextField(event)
  event.preventDefault()
  void orderTyped()
}
const wantsByLine = ref(false)
const byLine = computed(() => wantsByLine.value || draft.value.lines.some((l) => l.discount || l.charge))
const may = computed(() => allowed(props.corrects ? 'correctInvoice' : 'keyInvoice'))
// What stands under the number already is said before any line is typed.
const given = ref<Numbered>()
const lookUp = useDebounceFn(async () => {
  const { supplier, number } = draft.value
  given.value =
    supplier && number.trim()
      ? await unwrap(
          api.GET('/api/invoices/numbered', {
            params: { query: { supplier, number, ...(props.corrects ? { except: props.corrects } : {}) } },
          }),
        ).catch(() => undefined)
      : undefined
}, 200)
watch(
  () => [draft.value.supplier, draft.value.number, lostSince.value],
  () => void lookUp(),
  { immediate: true },
)
useKeys(() =>
  may.value
    ? [
        { key: 'Ctrl+Enter', label: props.corrects ? 'correct the entry' : 'capture', run: () => void capture() },
        { key: 'x', label: 'add a charge', run: addCharge },
      ]
    : [],
)
</script>

<template>
  <section class="sheet" aria-label="Invoice entry" :inert="!ready">
    <NoticeBar />
    <header @keydown.enter="goOn">
      <div class="headline">
        <h1>{{ corrects ? `Correct the entry of invoice ${corrects}` : 'Key an invoice' }}</h1>
        <span class="muted">{{ chosen?.supplier.name ?? '' }}</span>
      </div>
      <dl class="facts fields">
        <div>
          <dt><label for="invoice-order">Order</label></dt>
          <dd>
            <TextField
              id="invoice-order"
              v-model="draft.order"
              class="mono"
              autocomplete="off"
              inputmode="numeric"
              :state="state('order')"
              style="width: 84px"
              @change="orderTyped"
            />
          </dd>
        </div>
        <div>
          <dt><label for="invoice-supplier">Supplier</label></dt>
          <dd>
            <ChoiceField
              id="invoice-supplier"
              v-model="draft.supplier"
              v-model:typed="unknown"
              label="Supplier"
              :choices="(suppliers ?? []).map((s) => ({ value: s.code, text: s.name, also: s.code }))"
              :state="state('supplier')"
              style="width: 190px"
            />
          </dd>
        </div>
        <div>
          <dt><label for="invoice-number">Invoice number</label></dt>
          <dd>
            <TextField
              id="invoice-number"
              v-model="draft.number"
              class="mono"
              autocomplete="off"
              :state="state('number')"
              style="width: 130px"
            />
          </dd>
        </div>
        <div>
          <dt><label for="invoice-date">Invoice date</label></dt>
          <dd>
            <TextField id="invoice-date" v-model="draft.date" type="date" :max="today" :state="state('date')" style="width: 142px" />
          </dd>
        </div>
        <div v-if="draft.prepaid">
          <dt><label for="invoice-prepaid">Said to be paid before</label></dt>
          <dd>
            <NumberField
              id="invoice-prepaid"
              v-model="draft.prepaid"
              label="Said to be paid before"
              :error="problem('prepaid')"
              style="width: 120px"
            />
          </dd>
        </div>
      </dl>
      <div
        v-for="f in ['order', 'supplier', 'number', 'date', 'postingDay', 'lines', 'currency']"
        :key="f"
        class="small text-danger"
        role="alert"
      >
        {{ problem(f) }}
      </div>
      <p v-for="n in given?.its ?? []" :key="n.number" class="finding outside mt-2" role="status">
        <VerdictMark verdict="outside" only /> An invoice of this number is here already:
        <RouterLink :to="`/invoices/${n.number}`">Lagoon’s invoice {{ n.number }}</RouterLink
        >, {{ n.supplierNumber }} dated {{ showDay(n.date, today) }}, {{ show(n.total) }} {{ n.currency }}, taken in on
        {{ showDay(n.capturedOn, today) }}. Captured once more it is refused, or held as a likely second copy.
      </p>
      <p v-if="given?.others.length" class="small muted mt-2" role="status">
        Other suppliers have sent this number too:
        <template v-for="(n, i) in given.others" :key="n.number"
          ><template v-if="i">, </template
          ><RouterLink :to="`/invoices/${n.number}`">{{ n.supplierName }} {{ n.supplierNumber }}</RouterLink></template
        >.
      </p>
      <SupplierNotes :code="draft.supplier" stage="invoices" />
      <NewSupplier v-if="unknown && !draft.supplier && allowed('saveSupplier')" id="invoice-country" :name="unknown" @made="madeSupplier" />
    </header>
    <div class="body" @keydown.enter="goOn">
      <template v-if="draft.lines.length === 0">
        <p v-if="nothing" class="muted">{{ nothing }} Add the line that the supplier invoices, or take one of another order.</p>
        <OpenOrders v-else-if="draft.supplier && !chosen" :supplier="draft.supplier" @take="takeOrder" />
        <p v-else class="muted">
          Enter the order’s number: Lagoon proposes what is received and not yet invoiced, at the order’s prices. Or choose the supplier,
          and one of its orders.
        </p>
      </template>
      <InvoiceLines v-else v-model="draft" :order="chosen" :others="others" :preview="preview" :problem="problem" :by-line="byLine" />
      <div v-if="draft.lines.length || chosen" class="my-2 d-flex flex-wrap gap-3 align-items-center">
        <button v-if="chosen" type="button" class="linkish" @click="addLine">Add a line</button>
        <button type="button" class="linkish" @click="addCharge">Add a charge or discount <kbd>X</kbd></button>
        <button v-if="!byLine" type="button" class="linkish" @click="wantsByLine = true">Key discounts and charges line by line</button>
        <span class="d-inline-flex gap-2 align-items-center ms-auto" @keydown.enter.stop.prevent="takeAnother">
          <label for="another-order" class="muted text-nowrap">Lines of another order</label>
          <TextField id="another-order" v-model="another" class="mono" autocomplete="off" inputmode="numeric" style="width: 84px" />
          <BButton size="sm" variant="outline-secondary" :disabled="!another.trim()" @click="takeAnother">Add</BButton>
        </span>
      </div>
      <div v-if="anotherTrouble" class="small text-danger mb-2" role="alert">{{ anotherTrouble }}</div>
      <div v-if="draft.taxes.length" class="mb-2">
        <span class="muted">Tax as the supplier states it: </span>
        <span v-for="(t, i) in draft.taxes" :key="i" class="d-inline-flex gap-1 align-items-center me-3"
          >{{ t.category }} {{ t.rate }} %
          <NumberField
            :id="`stated-tax-${i}`"
            v-model="t.amount"
            :label="`Stated tax ${t.category} ${t.rate} %`"
            :error="problem(`taxes[${i}].amount`)"
            style="width: 100px"
        /></span>
        <button type="button" class="linkish" @click="draft.taxes = []">Compute it instead</button>
      </div>
      <div v-if="draft.lines.length || corrects" class="mb-2 d-flex gap-3">
        <div>
          <label for="invoice-total">Stated total with tax</label>
          <NumberField
            id="invoice-total"
            v-model="draft.statedTotal"
            label="Stated total with tax"
            :error="problem('statedTotal')"
            style="width: 140px"
          />
        </div>
        <div>
          <label for="invoice-posting" title="Blank: the date of the invoice, or the first open day after it">Posting day</label>
          <TextField id="invoice-posting" v-model="draft.postingDay" type="date" :state="state('postingDay')" style="width: 142px" />
        </div>
      </div>
      <div v-if="corrects" class="mb-2">
        <label for="correct-reason">Why the entry is corrected</label>
        <TextField
          id="correct-reason"
          v-model="draft.reason"
          autocomplete="off"
          :state="state('reason')"
          aria-describedby="correct-reason-error"
        />
        <div id="correct-reason-error" class="small text-danger">{{ problem('reason') }}</div>
      </div>
      <h2 v-if="preview?.verdict" class="mt-2 mb-1">What it comes to</h2>
      <div v-for="(f, i) in preview?.findings ?? []" :key="i" class="finding" :class="f.verdict">
        <VerdictMark :verdict="f.verdict" only /> {{ f.sentence }}
      </div>
      <p v-if="preview?.verdict === 'agrees'" class="finding agrees">
        Everything agrees; the invoice verifies when it is {{ corrects ? 'corrected' : 'captured' }}.
      </p>
      <template v-if="preview?.books">
        <h2 class="mt-3 mb-1">What it books</h2>
        <LedgerEntry :entry="preview.books" />
      </template>
    </div>
    <div class="bar">
      <BButton variant="primary" :disabled="!may || busy || draft.lines.length === 0" @click="capture">{{
        corrects ? 'Correct the entry' : 'Capture'
      }}</BButton>
      <BButton variant="outline-secondary" @click="throwAway">{{ corrects ? 'Leave it as it is' : 'Throw away' }}</BButton>
      <span v-if="lacks" class="sum">{{ lacks }}</span>
      <span v-else-if="preview?.totals" class="sum">
        <template v-if="kept">Your draft was kept. </template>Lines {{ show(preview.totals.lines)
        }}<template v-if="Number(preview.totals.charges)"> · charges {{ show(preview.totals.charges) }}</template
        ><template v-if="Number(preview.totals.allowances)"> · discount {{ show(preview.totals.allowances) }}</template> · tax
        {{ show(preview.totals.tax) }} = <b>{{ show(preview.totals.total) }}</b>
        <template v-if="draft.statedTotal"
          ><b :class="Number(preview.totals.rounding) === 0 ? 'text-success' : 'outside-text'">{{
            Number(preview.totals.rounding) === 0 ? ', as stated' : `, ${show(preview.totals.rounding)} off`
          }}</b></template
        >
      </span>
    </div>
  </section>
  <aside class="side" aria-label="Evidence">
    <PaperPage v-if="corrects" :invoice="corrects" :lit="[]" />
    <OrderThread v-else-if="chosen" :events="chosen.thread" :title="`Thread of ${chosen.number}`" />
  </aside>
</template>
