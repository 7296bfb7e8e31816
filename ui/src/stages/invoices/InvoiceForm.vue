<script setup lang="ts">
// Keys an invoice against an order or a credit note of one, or corrects the entry: one form for all.
import { computed, nextTick, ref, watch } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import { api, unwrap } from '@/api/client'
import { companyQuery } from '@/api/queries'
import NewSupplier from '@/stages/setup/NewSupplier.vue'
import KeptDraft from '@/parts/KeptDraft.vue'
import SupplierNotes from '@/parts/SupplierNotes.vue'
import NoticeBar from '@/parts/NoticeBar.vue'
import OrderThread from '@/parts/OrderThread.vue'
import PaperFile from '@/parts/PaperFile.vue'
import PaperPage from '@/parts/PaperPage.vue'
import { useDraft } from '@/parts/draft'
import { nextField } from '@/parts/fields'
import { useKeys } from '@/parts/keys'
import { useJob } from '@/parts/job'
import { may as allowed } from '@/parts/session'
import TextField from '@/parts/TextField.vue'
import { useArrive } from '@/parts/arrive'
import { usePreview } from '@/parts/preview'
import InvoiceHead from './InvoiceHead.vue'
import InvoiceLines from './InvoiceLines.vue'
import InvoiceStated from './InvoiceStated.vue'
import OwnTax from './OwnTax.vue'
import StatedTaxes from './StatedTaxes.vue'
import EntryOutcome from './EntryOutcome.vue'
import EntrySum from './EntrySum.vue'
import PaperSaid from './PaperSaid.vue'
import { usePaper } from './papers'
import { useTied } from './tied'
import BilledPart from './BilledPart.vue'
import MailBeside from './MailBeside.vue'
import OpenOrders from './OpenOrders.vue'
import {
  type EntryOf,
  blankCharge,
  blankLine,
  couldBeCoded,
  draftName,
  freshInvoice,
  invoiceBody,
  kindWords,
  orderLineOf,
  outcome,
  saidOf,
} from './entry'
import { placeOf } from '@/parts/places'

const props = defineProps<EntryOf>()
const router = useRouter()
const arrive = useArrive()

const { draft, clear, kept: before, keptAt, begin } = useDraft(draftName(props), () => freshInvoice(props.order))
const kept = ref(before)
const what = computed(() => kindWords[draft.value.kind] ?? 'Invoice')
const { refusal, busy, send, at: problem, forget } = useJob()
const unknown = ref('') // a name that is no supplier's yet
const paperRead = usePaper(props, draft)
const { beside } = paperRead
const tied = useTied(props, draft, begin, unknown, refusal, paperRead.read)
const { chosen, others, paper, ready, nothing, said, item, orderTyped, withoutOrder, takeReceipts } = tied

const entry = () => ({
  ...invoiceBody(draft.value, (l) => orderLineOf(l, chosen.value, others.value)?.quantity, chosen.value?.net),
  ...(props.corrects ? { corrects: props.corrects, version: draft.value.version } : {}),
  ...(props.mail?.number ? { mail: props.mail.number, mailPart: props.mail.part } : {}),
})

const { preview } = usePreview([draft, chosen], () =>
  draft.value.lines.length ? unwrap(api.POST('/api/invoices/preview', { body: entry() })) : undefined,
)
watch(draft, () => forget(), { deep: true })
watch(paper, (p) => p.kind && !p.page && props.corrects && void paperRead.look(props.corrects))

/** Why nothing can be captured yet. */
const lacks = computed(() =>
  !may.value
    ? 'Keying an invoice takes the role clerk.'
    : draft.value.lines.length === 0
      ? 'Nothing to capture yet: it has no line.'
      : paperRead.lacks.value,
)
const state = (field: string) => (problem(field) ? false : undefined)

const capture = () => {
  if (paperRead.doubtful.value.length) return paperRead.next()
  return book()
}
const book = () =>
  send(async () => {
    const answer = props.corrects
      ? await unwrap(
          api.POST('/api/invoices/{number}/correct', { params: { path: { number: props.corrects } }, body: entry() }),
        )
      : await unwrap(api.POST('/api/invoices', { body: entry() }))
    clear()
    await arrive(
      placeOf.invoice(answer.number),
      `${what.value} ${answer.number} ${outcome(answer)}.`,
      answer.entry ? [{ to: placeOf.entry(answer.entry), text: `Ledger entry ${answer.entry}` }] : [],
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
  draft.value.lines.push(coded.value ? { ...blankLine(), budget: '' } : blankLine())
  draft.value.filled = true
  const at = draft.value.lines.length - 1
  void nextTick(() =>
    document
      .querySelectorAll<HTMLElement>('.body table.grid tbody tr')
      [at]?.querySelector<HTMLElement>('input, select')
      ?.focus(),
  )
}
function addCharge() {
  const code = frame.value?.charges.find((k) => k.name === 'freight')?.taxCode
  draft.value.charges.push(blankCharge('freight', code, draft.value.lines))
  void nextTick(() => document.getElementById(`charge-${draft.value.charges.length - 1}`)?.focus())
}
function anew() {
  kept.value = false
  clear()
  tied.anew()
}
function throwAway() {
  clear()
  void router.push(props.corrects ? placeOf.invoice(props.corrects) : '/invoices')
}
function goOn(event: KeyboardEvent) {
  paperRead.check(event.target)
  if (!(event.target instanceof HTMLInputElement && event.target.id === 'invoice-order') || event.ctrlKey)
    return nextField(event)
  event.preventDefault()
  void orderTyped()
}
/** Lines are charged to budgets, or could be: they are about no order. */
const coded = computed(() => draft.value.lines.some((l) => l.budget !== undefined))
const uncoded = computed(() => couldBeCoded(draft.value))
const { data: frame } = useQuery(companyQuery)
const wantsByLine = ref(false)
const byLine = computed(() => wantsByLine.value || draft.value.lines.some((l) => l.discount || l.charge))
const may = computed(() => allowed(props.corrects ? 'correctInvoice' : 'keyInvoice'))
useKeys(() =>
  may.value
    ? [
        { key: 'Ctrl+Enter', label: props.corrects ? 'correct the entry' : 'capture', run: () => void capture() },
        { key: 'x', label: 'add a charge', run: addCharge },
        ...paperRead.keys.value,
      ]
    : [],
)
</script>

<template>
  <section
    class="sheet"
    aria-label="Invoice entry"
    :inert="!ready"
    @focusin="paperRead.light($event.target)"
    @taken="paperRead.check($event.target)"
  >
    <NoticeBar />
    <header @keydown.enter="goOn">
      <div class="headline">
        <h1>
          {{
            corrects
              ? `Correct the entry of ${what.toLowerCase()} ${corrects}`
              : `Key ${draft.kind === 'invoice' ? 'an' : 'a'} ${what.toLowerCase()}`
          }}
        </h1>
        <span class="muted">{{ chosen?.supplier.name ?? '' }}</span>
      </div>
      <InvoiceHead
        v-model="draft"
        v-model:unknown="unknown"
        :corrects="corrects"
        :problem="problem"
        :mark="paperRead.mark"
        @order="orderTyped"
      />
      <PaperSaid :paper="paperRead" />
      <SupplierNotes :code="draft.supplier" stage="invoices" />
      <KeptDraft v-if="kept" :at="keptAt" :what="saidOf(draft)" @anew="anew" />
      <NewSupplier
        v-if="unknown && !draft.supplier && allowed('saveSupplier')"
        id="invoice-country"
        :name="unknown"
        @made="madeSupplier"
      />
    </header>
    <div class="body" @keydown.enter="goOn">
      <template v-if="draft.lines.length === 0">
        <p v-if="nothing" class="muted">
          {{ nothing }} Add the line that the supplier invoices, or take one of another order.
        </p>
        <OpenOrders
          v-else-if="(draft.supplier || item) && !chosen"
          :supplier="draft.supplier"
          :item="item"
          @take="takeOrder"
          @receipts="takeReceipts"
          @none="withoutOrder"
        />
        <p v-else class="muted">
          Enter the number of the order or of a delivery note: Lagoon proposes what is received and not yet invoiced, at
          the order’s prices. Or type an item or a supplier, and pick from what is here.
        </p>
      </template>
      <p v-if="said && draft.lines.length" class="muted mb-1">{{ said }}</p>
      <InvoiceLines
        v-if="draft.lines.length"
        v-model="draft"
        :order="draft.kind === 'prepayment' ? undefined : chosen"
        :others="others"
        :preview="preview"
        :problem="problem"
        :by-line="byLine"
        :mark="paperRead.mark('lines')"
      />
      <div v-if="draft.lines.length || chosen" class="my-2 d-flex flex-wrap gap-3 align-items-center">
        <button v-if="chosen || coded" type="button" class="linkish" @click="addLine">Add a line</button>
        <button v-if="uncoded && draft.kind !== 'prepayment'" type="button" class="linkish" @click="withoutOrder">
          Without an order: charge it to a budget
        </button>
        <button type="button" class="linkish" @click="addCharge">Add a charge or discount <kbd>X</kbd></button>
        <button v-if="!byLine" type="button" class="linkish" @click="wantsByLine = true">
          Key discounts and charges line by line
        </button>
        <StatedTaxes v-model="draft.taxes" :computed="preview?.taxes ?? []" :problem="problem" />
      </div>
      <BilledPart
        v-if="(draft.lines.length || chosen) && draft.kind !== 'prepayment'"
        :tied="tied"
        :whole="!corrects && draft.kind === 'invoice'"
        class="my-2"
      />
      <InvoiceStated
        v-if="draft.lines.length || corrects"
        v-model="draft"
        :problem="problem"
        :mark="paperRead.mark('total')"
        :taxed="draft.lines.some((l) => /\p{L}/u.test(l.taxRate))"
        :ordered="draft.kind === 'invoice' && !!chosen"
        :holds="draft.kind === 'invoice' && !corrects"
      />
      <OwnTax
        v-if="preview?.totals"
        class="mb-2"
        :own="preview.totals.own"
        :currency="chosen?.currency ?? draft.currency"
      />
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
      <EntryOutcome v-if="preview" :preview="preview" :what="what" :corrects="!!corrects" />
    </div>
    <div class="bar">
      <BButton variant="primary" :disabled="!!lacks || busy" @click="capture">{{
        corrects ? 'Correct the entry' : 'Capture'
      }}</BButton>
      <BButton variant="outline-secondary" @click="throwAway">{{
        corrects ? 'Leave it as it is' : 'Throw away'
      }}</BButton>
      <span v-if="lacks" class="sum">{{ lacks }}</span>
      <EntrySum v-else-if="preview?.totals" :totals="preview.totals" :stated="draft.statedTotal" />
    </div>
  </section>
  <aside class="side" aria-label="Evidence">
    <MailBeside v-if="mail?.number" :number="mail.number" :part="mail.part" v-bind="beside" />
    <PaperPage v-if="paper.page" :invoice="corrects" :lit="[]" />
    <PaperFile
      v-else-if="paper.kind"
      :url="`/api/invoices/${corrects}/paper`"
      name="of it"
      :kind="paper.kind"
      v-bind="beside"
    />
    <OrderThread v-else-if="chosen" :events="chosen.thread" :title="`Thread of ${chosen.number}`" />
  </aside>
</template>
