<script setup lang="ts">
// Keys an invoice against an order, or corrects the entry of one: one form for both.
import { computed, nextTick, ref, watch } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { useDebounceFn } from '@vueuse/core'
import { useRouter } from 'vue-router'
import { api, Refusal, unwrap, type EntryPreview, type Numbered, type OrderSheet } from '@/api/client'
import { companyQuery, suppliersQuery } from '@/api/queries'
import { lostSince } from '@/api/live'
import ChoiceField from '@/parts/ChoiceField.vue'
import NewSupplier from '@/stages/setup/NewSupplier.vue'
import SupplierNotes from '@/parts/SupplierNotes.vue'
import NoticeBar from '@/parts/NoticeBar.vue'
import NumberField from '@/parts/NumberField.vue'
import OrderThread from '@/parts/OrderThread.vue'
import PaperPage from '@/parts/PaperPage.vue'
import VerdictMark from '@/parts/VerdictMark.vue'
import { useDraft } from '@/parts/draft'
import { nextField } from '@/parts/fields'
import { useKeys } from '@/parts/keys'
import { warn } from '@/parts/notice'
import { show, showDay } from '@/parts/numbers'
import { useSending } from '@/parts/sending'
import { has, today } from '@/parts/session'
import TextField from '@/parts/TextField.vue'
import PickField from '@/parts/PickField.vue'
import { useArrive } from '@/parts/arrive'
import { freshInvoice, invoiceBody, proposedInvoice, proposedLines, typedInvoice, type DraftInvoiceLine } from './entry'

const props = defineProps<{ order: number; corrects: number }>()
const router = useRouter()
const arrive = useArrive()

const { draft, clear, kept } = useDraft(props.corrects ? `correct.${props.corrects}` : `key.${props.order}`, () =>
  freshInvoice(props.order),
)
const chosen = ref<OrderSheet>()
const others = ref<OrderSheet[]>([]) // further orders that lines are about
const preview = ref<EntryPreview>()
const { refusal, busy, send, at: problem } = useSending()
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
  ready.value = true
  await nextTick()
  document.getElementById(props.corrects || props.order ? 'invoice-number' : 'invoice-order')?.focus()
}

const proposal = (number: number) => unwrap(api.GET('/api/orders/{number}/invoice-proposal', { params: { path: { number } } }))

/** Reads the order and, for a new entry, proposes what is received and not yet invoiced. */
async function fromOrder() {
  const typed = draft.value.order.trim()
  const number = Number(typed)
  chosen.value = undefined
  if (typed === '') return
  if (!/^\d+$/.test(typed) || !number) throw new Error(`“${typed}” is no order number.`)
  const p = await proposal(number)
  chosen.value = p.order
  if (props.corrects) {
    if (draft.value.supplier === '') draft.value.supplier = p.order.supplier.code
    return
  }
  if (draft.value.filled && draft.value.supplier === p.order.supplier.code) return
  Object.assign(draft.value, proposedInvoice(p))
}
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
  ...invoiceBody(draft.value, (l) => orderLine(l)?.quantity, chosen.value?.net),
  ...(props.corrects ? { corrects: props.corrects, version: draft.value.version } : {}),
})
const orderOf = (l: DraftInvoiceLine) => (l.order ? others.value.find((o) => o.number === l.order) : chosen.value)
const orderLine = (l: DraftInvoiceLine) => orderOf(l)?.lines.find((o) => o.no === l.orderLine)

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

// What is wrong with what was typed is said at once, a price that is missing once the invoice is to be captured.
function lineProblem(i: number, name: string): string | undefined {
  const field = `lines[${i}].${name}`
  const missing = name === 'price' && draft.value.lines[i]?.price.trim() === ''
  return problem(field) ?? (missing ? undefined : preview.value?.problems.find((p) => p.field === field)?.sentence)
}
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
const may = computed(() => (props.corrects ? has('clerk', 'approver') : has('clerk')))
const { data: frame } = useQuery(companyQuery)
const kinds = (chosenKind: string) =>
  [...(frame.value?.charges ?? []).filter((k) => !k.ended || k.name === chosenKind).map((k) => k.name), 'discount'].map((value) => ({
    value,
    text: value,
  }))

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
        <div>
          <dt><label for="invoice-total">Stated total</label></dt>
          <dd>
            <NumberField
              id="invoice-total"
              v-model="draft.statedTotal"
              label="Stated total with tax"
              :error="problem('statedTotal')"
              style="width: 120px"
            />
          </dd>
        </div>
        <div>
          <dt><label for="invoice-posting" title="Blank: the date of the invoice, or the first open day after it">Posting day</label></dt>
          <dd>
            <TextField id="invoice-posting" v-model="draft.postingDay" type="date" :state="state('postingDay')" style="width: 142px" />
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
      <NewSupplier v-if="unknown && !draft.supplier && has('clerk')" id="invoice-country" :name="unknown" @made="madeSupplier" />
    </header>
    <div class="body" @keydown.enter="goOn">
      <p v-if="draft.lines.length === 0" class="muted">
        Enter the order’s number: Lagoon proposes what is received and not yet invoiced, at the order’s prices.
      </p>
      <table v-else class="grid">
        <thead>
          <tr>
            <th class="named">Line, and the order line that it is</th>
            <th class="num">Quantity</th>
            <th class="num">Unit price</th>
            <template v-if="byLine">
              <th class="num">Discount</th>
              <th class="num">Charge</th>
            </template>
            <th class="num">Tax %</th>
            <th class="num">Net</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(l, i) in draft.lines" :key="i">
            <td>
              <b>{{ l.description }}</b>
              <span class="muted ms-1">{{
                orderLine(l)?.unitName ?? frame?.units.find((u) => u.code === l.unit)?.name ?? l.unit
              }}</span><PickField
                v-model="l.orderLine"
                :aria-label="`Order line of ${l.description}`"
                :state="lineProblem(i, 'orderLine') ? false : undefined"
                :options="[
                  { value: 0, text: 'none' },
                  ...(orderOf(l)?.lines ?? []).map((o) => ({
                    value: o.no,
                    text: `${l.order ? `order ${l.order}, ` : ''}${o.no} ${o.description}`,
                  })),
                ]"
                class="mt-1"
              />
            </td>
            <td class="num">
              <NumberField
                :id="`quantity-${i}`"
                v-model="l.quantity"
                :label="`Quantity of ${l.description}`"
                :whole="orderLine(l)?.quantity"
                :error="lineProblem(i, 'quantity')"
              />
            </td>
            <td class="num">
              <NumberField :id="`price-${i}`" v-model="l.price" :label="`Price of ${l.description}`" :error="lineProblem(i, 'price')" />
            </td>
            <template v-if="byLine">
              <td class="num">
                <NumberField
                  :id="`discount-${i}`"
                  v-model="l.discount"
                  :label="`Discount on ${l.description}`"
                  :error="lineProblem(i, 'discount')"
                />
              </td>
              <td class="num">
                <NumberField
                  :id="`line-charge-${i}`"
                  v-model="l.charge"
                  :label="`Charge on ${l.description}`"
                  :error="lineProblem(i, 'charge')"
                />
              </td>
            </template>
            <td class="num">
              <NumberField
                :id="`tax-${i}`"
                v-model="l.taxRate"
                :label="`Tax rate of ${l.description}`"
                :error="lineProblem(i, 'taxRate')"
              />
            </td>
            <td class="num pt-2">{{ show(preview?.lineNets[i]) }}</td>
            <td>
              <button type="button" class="linkish" :aria-label="`Leave out ${l.description}`" @click="draft.lines.splice(i, 1)">
                Leave out
              </button>
            </td>
          </tr>
          <tr v-for="(c, i) in draft.charges" :key="`c${i}`">
            <td colspan="2">
              <div class="d-flex gap-2">
                <PickField
                  v-model="c.kind"
                  :aria-label="`Kind of charge ${i + 1}`"
                  :options="kinds(c.kind)"
                  style="width: 124px"
                  @update:model-value="c.allowance = c.kind === 'discount'"
                /><TextField v-model="c.reason" :aria-label="`Name of charge ${i + 1}`" style="flex: 1; min-width: 0; text-align: left" />
              </div>
            </td>
            <td v-if="byLine" colspan="2"></td>
            <td class="num">
              <NumberField
                :id="`charge-${i}`"
                v-model="c.amount"
                :label="`Amount of charge ${i + 1}`"
                :whole="chosen?.net"
                :error="problem(`charges[${i}].amount`)"
              />
            </td>
            <td class="num">
              <NumberField
                :id="`charge-tax-${i}`"
                v-model="c.taxRate"
                :label="`Tax rate of charge ${i + 1}`"
                :error="problem(`charges[${i}].taxRate`)"
              />
            </td>
            <td class="num pt-2">{{ c.allowance ? 'off the whole' : '' }}</td>
            <td><button type="button" class="linkish" @click="draft.charges.splice(i, 1)">Leave out</button></td>
          </tr>
        </tbody>
      </table>
      <div v-if="draft.lines.length" class="my-2 d-flex flex-wrap gap-3 align-items-center">
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
    </div>
    <div class="bar">
      <BButton variant="primary" :disabled="!may || busy || draft.lines.length === 0" @click="capture">{{
        corrects ? 'Correct the entry' : 'Capture'
      }}</BButton>
      <BButton variant="outline-secondary" @click="throwAway">{{ corrects ? 'Leave it as it is' : 'Throw away' }}</BButton>
      <span v-if="preview?.totals" class="sum">
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
