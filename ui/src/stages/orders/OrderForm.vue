<script setup lang="ts">
// Enters an order at the speed of typing and issues it, or changes one that was issued. What was agreed is proposed and
// can be typed over.
import { computed, nextTick, ref, watch } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useDebounceFn } from '@vueuse/core'
import { useRouter } from 'vue-router'
import { api, unwrap, type Draft, type ItemChoice, type OrderEntry, type OrderPreview } from '@/api/client'
import { suppliersQuery } from '@/api/queries'
import { lostSince } from '@/api/live'
import MoreRows from '@/parts/MoreRows.vue'
import ChoiceField from '@/parts/ChoiceField.vue'
import type { Choice } from '@/parts/choice'
import AskReason from '@/parts/AskReason.vue'
import NoticeBar from '@/parts/NoticeBar.vue'
import NotesStrip from '@/parts/NotesStrip.vue'
import NumberField from '@/parts/NumberField.vue'
import TextField from '@/parts/TextField.vue'
import { useDraft } from '@/parts/draft'
import { goOn } from '@/parts/fields'
import { useKeys } from '@/parts/keys'
import { price as asPrice, sent, show } from '@/parts/numbers'
import { useJob } from '@/parts/job'
import { may as allowed, person, today } from '@/parts/session'
import NewSupplier from '@/stages/setup/NewSupplier.vue'
import UnitField from '@/parts/UnitField.vue'
import { useArrive } from '@/parts/arrive'
import OrderLineMore from './OrderLineMore.vue'
import OrderTerms from './OrderTerms.vue'
import { emptyLine, filledLine, freshOrder, itemChoices, keepOrder, orderBody, typedOrder, type DraftLine, type DraftOrder } from './entry'

const props = defineProps<{ change?: number | undefined; draftNumber?: number | undefined }>()

const router = useRouter()
const client = useQueryClient()
const arrive = useArrive()
const { draft, clear, kept, begin } = useDraft(
  props.change ? `order.${props.change}` : props.draftNumber ? `order.draft.${props.draftNumber}` : 'order',
  () => freshOrder(person.value?.name),
)
const preview = ref<OrderPreview>()
const asking = ref(false) // why it is changed
const {
  refusal,
  busy,
  send,
  at: problem,
} = useJob({
  says: ['lines'],
  faced: async (r) => {
    asking.value = asking.value && r.problem.field === 'reason'
    if (r.problem.kind !== 'changed') return
    if (draft.value.draft && r.problem.field === 'draft') await seeAgain()
    if (!props.change) return
    await client.invalidateQueries({ queryKey: ['order', props.change] })
    draft.value.version = issued.value?.version ?? 0
  },
})

const { data: suppliers } = useQuery(suppliersQuery)
const sellers = computed<Choice[]>(() => (suppliers.value ?? []).map((s) => ({ value: s.code, text: s.name, also: s.code })))
const seller = computed(() => suppliers.value?.find((s) => s.code === draft.value.supplier))
const { data: issued } = useQuery({
  queryKey: ['order', props.change],
  queryFn: () => unwrap(api.GET('/api/orders/{number}', { params: { path: { number: props.change! } } })),
  enabled: !!props.change,
})
let taken = kept
watch(
  issued,
  (o) => {
    if (!o || taken) return
    taken = true
    Object.assign(draft.value, typedOrder(o))
  },
  { immediate: true },
)
const readDraft = () => unwrap(api.GET('/api/drafts/{number}', { params: { path: { number: props.draftNumber! } } }))
/** The draft as somebody else kept it meanwhile, and why there is none any more. */
const theirs = ref<Draft>()
const ended = ref('')
function take(d: Draft) {
  const order = { ...freshOrder(), ...(d.entry as Partial<DraftOrder>), draft: { number: d.number, version: d.version } }
  order.lines = withoutBudgetFirst([...order.lines.map((l) => ({ ...emptyLine(), ...l })), emptyLine()])
  begin(order)
}
/** A kept draft is read once, from then on what is typed counts; what was typed over it here before stays. */
async function openDraft() {
  try {
    const now = await readDraft()
    if (!kept) take(now)
    else if (now.version !== draft.value.draft?.version) theirs.value = now
  } catch (e) {
    ended.value = (e as Error).message
  }
}
if (props.draftNumber) void openDraft()
/** After a refusal that said so: the next try is about the draft as it is now. */
async function seeAgain() {
  theirs.value = await readDraft().catch(() => undefined)
  if (theirs.value) draft.value.draft = { number: theirs.value.number, version: theirs.value.version }
}
function takeTheirs() {
  if (theirs.value) take(theirs.value)
  theirs.value = undefined
}
const { data: choices } = useQuery({
  queryKey: ['order-choices', computed(() => draft.value.supplier)],
  queryFn: () => unwrap(api.GET('/api/orders/choices', { params: { query: { supplier: draft.value.supplier } } })),
  enabled: computed(() => draft.value.supplier !== ''),
})
const items = computed(() => itemChoices(choices.value?.items ?? []))
const budgets = computed<Choice[]>(() => (choices.value?.budgets ?? []).map((b) => ({ value: b.code, text: b.code, also: b.name })))
const itemOf = (l: DraftLine): ItemChoice | undefined => choices.value?.items.find((i) => i.code === l.item)
const filled = filledLine
const lines = computed(() => draft.value.lines.filter(filled))
const at = (l: DraftLine) => lines.value.indexOf(l)

const planned = (l: DraftLine) => preview.value?.lines[at(l)]
const isAgreed = (l: DraftLine) => choices.value?.prices.some((p) => p.item === l.item) ?? false
/** A price that was typed where another is agreed. */
const typedOver = (l: DraftLine) => {
  const p = planned(l)
  return l.price.trim() !== '' && p?.agreed !== undefined && p.agreed !== p.price ? asPrice(p.agreed) : undefined
}
function withoutBudgetFirst(all: DraftLine[]): DraftLine[] {
  const first = (l: DraftLine) => filledLine(l) && l.budget === ''
  return [...all.filter(first), ...all.filter((l) => !first(l))]
}
function proposed(l: DraftLine) {
  const item = itemOf(l)
  if (!item) return
  l.unit = item.unit
  if (l.price === '' && item.price !== undefined && !isAgreed(l)) l.price = asPrice(item.price)
  if (l.budget === '') l.budget = item.budget ?? ''
  if (l.taxRate === '' && item.taxRate !== undefined) l.taxRate = show(item.taxRate)
}

function entry(): OrderEntry {
  return orderBody(draft.value, (l) => (sent(l.taxRate) === itemOf(l)?.taxRate ? (itemOf(l)?.taxCategory ?? '') : '')) // another rate has another category
}
const ask = useDebounceFn(async () => {
  if (!draft.value.supplier || lines.value.length === 0) {
    preview.value = undefined
    return
  }
  preview.value = await unwrap(
    api.POST('/api/orders/preview', { body: entry(), params: { query: props.change ? { number: props.change } : {} } }),
  ).catch(() => undefined)
}, 200)
watch([draft, lostSince], () => void ask(), { deep: true, immediate: true })
watch(
  draft,
  (d) => {
    refusal.value = undefined
    if (d.lines.every(filled)) d.lines.push(emptyLine())
  },
  { deep: true },
)

// What is wrong with what was typed is said at once, what is missing once the order is to be issued.
function lineProblem(l: DraftLine, name: 'item' | 'quantity' | 'unit' | 'price' | 'taxRate' | 'budget'): string | undefined {
  if (at(l) < 0) return undefined
  const field = `lines[${at(l)}].${name}`
  return problem(field) ?? (l[name].trim() === '' ? undefined : preview.value?.problems.find((p) => p.field === field)?.sentence)
}

/** What stands against the lines together, once there is something on them. */
const ofLines = computed(
  () =>
    problem('lines') ?? (Number(preview.value?.net) > 0 ? preview.value?.problems.find((p) => p.field === 'lines')?.sentence : undefined),
)

async function issue() {
  if (busy.value || !may.value) return
  if (props.change) {
    asking.value = true
    return
  }
  if (lines.value.some((l) => l.budget === '')) draft.value.lines = withoutBudgetFirst(draft.value.lines)
  await submit(async () => (await unwrap(api.POST('/api/orders', { body: entry() }))).number, 'issued')
}
const change = (reason: string) =>
  submit(
    async () =>
      (
        await unwrap(
          api.POST('/api/orders/{number}/change', {
            params: { path: { number: props.change! } },
            body: { version: draft.value.version, reason, entry: entry() },
          }),
        )
      ).number,
    'changed',
  )
const submit = (job: () => Promise<string>, done: string) =>
  send(async () => {
    const number = await job()
    clear()
    await arrive(
      `/orders/${number}`,
      done === 'issued'
        ? `Order ${number} is issued to ${seller.value?.name ?? draft.value.supplier}.`
        : `Order ${number} is changed. Send it, so that the supplier knows.`,
    )
  })
/** Keeps the order with its number, for another day, desk or person. */
const keepDraft = () =>
  send(async () => {
    const number = await keepOrder(draft.value)
    clear()
    await arrive('/orders', `The draft is kept as number ${number}; everybody who buys can go on with it.`)
  })
const unknown = ref('') // a name that is no supplier's yet
function madeSupplier(code: string) {
  draft.value.supplier = code
  unknown.value = ''
}
const throwAway = () =>
  send(async () => {
    const seen = draft.value.draft
    if (seen)
      await unwrap(api.POST('/api/drafts/{number}/discard', { params: { path: { number: seen.number } }, body: { version: seen.version } }))
    clear()
    await client.invalidateQueries({ queryKey: ['drafts'] })
    await router.push(props.change ? `/orders/${props.change}` : '/orders')
  })

/** Enter goes to what is missing next: a known item needs its quantity only. */
function nextField(event: KeyboardEvent) {
  if (event.ctrlKey || !(event.target instanceof HTMLInputElement)) return
  event.preventDefault()
  const id = event.target.id
  void nextTick(() => {
    const [, name, no] = /^order-(quantity|budget)-(\d+)$/.exec(id) ?? []
    const line = no === undefined ? undefined : draft.value.lines[Number(no)]
    if (line && (name === 'budget' || ((sent(line.price) !== '' || isAgreed(line)) && line.budget !== ''))) {
      document.getElementById(`order-item-${Number(no) + 1}`)?.focus()
      return
    }
    goOn(document.getElementById(id))
  })
}
const may = computed(() => allowed('issueOrder'))
useKeys(() =>
  may.value
    ? [
        { key: 'Ctrl+Enter', label: props.change ? 'change the order' : 'issue the order', run: () => void issue() },
        ...(props.change ? [] : [{ key: 's', label: 'keep as a draft', run: () => void keepDraft() }]),
      ]
    : [],
)
void nextTick(() => document.getElementById(props.change ? 'order-wanted' : 'order-supplier')?.focus())
</script>

<template>
  <section class="sheet" aria-label="Order entry">
    <NoticeBar />
    <header @keydown.enter="nextField">
      <div class="headline">
        <h1>{{ props.change ? `Change order ${props.change}` : draft.draft ? `Draft ${draft.draft.number}` : 'Enter an order' }}</h1>
        <span class="muted">{{ seller ? `${seller.code} · ${seller.currency}` : '' }}</span>
      </div>
      <dl class="facts fields">
        <div>
          <dt><label for="order-supplier">Supplier</label></dt>
          <dd>
            <span v-if="props.change" class="d-block pt-1 fw-semibold">{{ seller?.name }}</span>
            <ChoiceField
              v-else
              id="order-supplier"
              v-model="draft.supplier"
              v-model:typed="unknown"
              label="Supplier"
              :choices="sellers"
              :state="problem('supplier') ? false : undefined"
              described="order-supplier-error"
              style="width: 230px"
            />
          </dd>
        </div>
        <div>
          <dt><label for="order-wanted">Wanted by</label></dt>
          <dd>
            <TextField
              id="order-wanted"
              v-model="draft.wantedOn"
              type="date"
              :min="today"
              :state="problem('wantedOn') ? false : undefined"
              aria-describedby="order-wanted-error"
              style="width: 142px"
            />
          </dd>
        </div>
        <div>
          <dt><label for="order-requested">Asked for by</label></dt>
          <dd><TextField id="order-requested" v-model="draft.requestedBy" autocomplete="off" style="width: 170px" /></dd>
        </div>
        <div>
          <dt><label for="order-place">Place</label></dt>
          <dd>
            <TextField id="order-place" v-model="draft.place" autocomplete="off" :placeholder="choices?.place ?? ''" style="width: 130px" />
          </dd>
        </div>
      </dl>
      <p v-if="theirs" class="small mb-0 advice">
        {{ theirs.by }} kept this draft differently.
        <button type="button" class="linkish" @click="takeTheirs">Take that instead of what stands here</button>
      </p>
      <p v-if="ended" class="small mb-0 text-danger" role="alert">{{ ended }}</p>
      <div id="order-supplier-error" class="small text-danger" role="alert">{{ problem('supplier') }}</div>
      <div id="order-wanted-error" class="small text-danger" role="alert">{{ problem('wantedOn') }}</div>
      <NewSupplier
        v-if="unknown && !draft.supplier && !props.change && allowed('saveSupplier')"
        id="order-country"
        :name="unknown"
        @made="madeSupplier"
      />
      <NotesStrip :notes="choices?.notes ?? []" />
      <p v-for="w in preview?.warnings ?? []" :key="w" class="small mb-0 advice">{{ w }}</p>
    </header>
    <div class="body" @keydown.enter="nextField">
      <p v-if="!draft.supplier" class="muted">
        Type the beginning of the supplier’s name or code and press <kbd>Enter</kbd>. What was ordered there before is known: an item’s code
        and its quantity are enough for a line.
      </p>
      <table v-else class="grid">
        <thead>
          <tr>
            <th style="width: 30%">Item, or a description</th>
            <th class="num">Quantity</th>
            <th>Unit</th>
            <th class="num">Unit price</th>
            <th class="num">Tax %</th>
            <th style="width: 14%">Budget</th>
            <th class="num">Net</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <template v-for="(l, i) in draft.lines" :key="i">
            <tr>
              <td>
                <span v-if="l.no" class="d-block pt-1 fw-semibold">{{ itemOf(l)?.name ?? l.text }}</span>
                <ChoiceField
                  v-else
                  :id="`order-item-${i}`"
                  v-model="l.item"
                  v-model:typed="l.text"
                  free
                  :label="`Item of line ${i + 1}`"
                  :choices="items"
                  :state="lineProblem(l, 'item') ? false : undefined"
                  :described="`order-item-${i}-said`"
                  @chosen="proposed(l)"
                />
                <div :id="`order-item-${i}-said`" class="small" :class="lineProblem(l, 'item') ? 'text-danger' : 'muted'">
                  {{ lineProblem(l, 'item') ?? itemOf(l)?.name }}
                </div>
              </td>
              <td class="num">
                <NumberField
                  :id="`order-quantity-${i}`"
                  v-model="l.quantity"
                  :label="`Quantity of line ${i + 1}`"
                  :error="lineProblem(l, 'quantity')"
                />
              </td>
              <td>
                <span v-if="itemOf(l)" class="d-block pt-1">{{ itemOf(l)?.unitName }}</span>
                <UnitField
                  v-else
                  :id="`order-unit-${i}`"
                  v-model="l.unit"
                  :label="`Unit of line ${i + 1}`"
                  :state="lineProblem(l, 'unit') ? false : undefined"
                  :described="`order-unit-${i}-said`"
                  placeholder="pieces"
                  style="width: 84px"
                />
                <div :id="`order-unit-${i}-said`" class="small text-danger">{{ lineProblem(l, 'unit') }}</div>
              </td>
              <td class="num">
                <NumberField
                  :id="`order-price-${i}`"
                  v-model="l.price"
                  :label="`Price of line ${i + 1}`"
                  :error="lineProblem(l, 'price')"
                  :placeholder="planned(l)?.agreed ? asPrice(planned(l)!.agreed!) : isAgreed(l) ? 'agreed' : ''"
                />
                <div v-if="typedOver(l)" class="small advice">agreed: {{ typedOver(l) }}</div>
                <div v-if="planned(l) && planned(l)!.base !== '1'" class="small muted">per {{ show(planned(l)!.base) }}</div>
              </td>
              <td class="num">
                <NumberField
                  :id="`order-tax-${i}`"
                  v-model="l.taxRate"
                  :label="`Tax rate of line ${i + 1}`"
                  :error="lineProblem(l, 'taxRate')"
                />
              </td>
              <td>
                <ChoiceField
                  :id="`order-budget-${i}`"
                  v-model="l.budget"
                  :label="`Budget of line ${i + 1}`"
                  :choices="budgets"
                  :state="lineProblem(l, 'budget') ? false : undefined"
                  :described="`order-budget-${i}-said`"
                />
                <div :id="`order-budget-${i}-said`" class="small text-danger">{{ lineProblem(l, 'budget') }}</div>
              </td>
              <td class="num pt-2">{{ at(l) >= 0 ? show(preview?.nets[at(l)]) : '' }}</td>
              <td>
                <button
                  v-if="filled(l)"
                  type="button"
                  class="linkish d-block"
                  :aria-expanded="l.more"
                  :aria-label="`${l.more ? 'Less' : 'More'} of line ${i + 1}`"
                  @click="l.more = !l.more"
                >
                  {{ l.more ? 'Less' : 'More' }}
                </button>
                <button
                  v-if="filled(l) && !l.no"
                  type="button"
                  class="linkish d-block"
                  :aria-label="`Leave out line ${i + 1}`"
                  @click="draft.lines.splice(i, 1)"
                >
                  Leave out
                </button>
              </td>
            </tr>
            <tr v-if="l.more" class="said">
              <td colspan="8">
                <OrderLineMore
                  v-model="draft.lines[i]!"
                  :place="i"
                  :planned="planned(l)"
                  :currency="seller?.currency ?? ''"
                  :problem="(field) => problem(`lines[${at(l)}].${field}`)"
                />
              </td>
            </tr>
          </template>
        </tbody>
      </table>
      <MoreRows :more="choices?.more" way="Type the code of an item that is not offered." />
      <OrderTerms
        v-if="draft.supplier"
        v-model="draft"
        :contacts="choices?.contacts ?? []"
        :currency="seller?.currency ?? ''"
        :problem="problem"
      />
      <p v-if="ofLines" class="small text-danger mb-0" role="alert">{{ ofLines }}</p>
      <AskReason
        v-if="asking"
        id="change-reason"
        title="Change the order."
        books="The earlier version stays, and open invoices are matched against the new one."
        label="Why it is changed"
        action="Change the order"
        :error="problem('reason') ?? ''"
        @done="change"
        @cancel="asking = false"
      />
    </div>
    <div class="bar">
      <BButton variant="primary" :disabled="!may || busy" @click="issue">{{ props.change ? 'Change' : 'Issue' }}</BButton>
      <BButton v-if="!props.change" variant="outline-secondary" :disabled="!may" @click="keepDraft">Keep as a draft</BButton>
      <BButton variant="outline-secondary" @click="throwAway">Throw away</BButton>
      <span v-if="preview" class="sum">
        <template v-if="kept">Your draft was kept. </template>Net {{ show(preview.net) }} · tax {{ show(preview.tax) }} =
        <b>{{ show(preview.total) }}</b> {{ seller?.currency }}
      </span>
      <span v-else-if="!may" class="sum">Issuing takes the role buyer.</span>
    </div>
  </section>
</template>
