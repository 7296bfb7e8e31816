<script setup lang="ts">
// Enters an order at the speed of typing and issues it, or changes one that was issued. What was agreed is proposed and
// can be typed over.
import { computed, nextTick, ref, watch } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import { api, unwrap, type OrderEntry } from '@/api/client'
import { suppliersQuery } from '@/api/queries'
import { useBeginning } from '@/parts/beginning'
import MoreRows from '@/parts/MoreRows.vue'
import AskReason from '@/parts/AskReason.vue'
import NoticeBar from '@/parts/NoticeBar.vue'
import NotesStrip from '@/parts/NotesStrip.vue'
import { useDraft } from '@/parts/draft'
import { goOn } from '@/parts/fields'
import { useKeys } from '@/parts/keys'
import { price as sent, show } from '@/parts/numbers'
import { useJob } from '@/parts/job'
import { may as allowed, person } from '@/parts/session'
import NewSupplier from '@/stages/setup/NewSupplier.vue'
import { useArrive } from '@/parts/arrive'
import { usePreview } from '@/parts/preview'
import OrderHead from './OrderHead.vue'
import OrderLines from './OrderLines.vue'
import IssuePanel from './IssuePanel.vue'
import { useKeptDraft } from './kept'
import OrderTerms from './OrderTerms.vue'
import { useChoices } from './choices'
import { useIssuing, type Issued } from './issuing'
import {
  aboutOf,
  changeOrder,
  discardKept,
  emptyLine,
  filledLine,
  withoutBudgetFirst,
  freshOrder,
  keepOrder,
  orderBody,
  typedOrder,
  type DraftLine,
} from './entry'
import { placeOf } from '@/parts/places'

const props = defineProps<{
  change?: number | undefined
  draftNumber?: number | undefined
  /** The supplier that it is for, where nothing is typed yet. */
  supplier?: string
  /** A charge that is to be planned. */
  plans?: { kind: string; amount: string; taxRate: string } | undefined
}>()

const router = useRouter()
const client = useQueryClient()
const arrive = useArrive()
const { draft, clear, kept, begin } = useDraft(
  props.change ? `order.${props.change}` : props.draftNumber ? `order.draft.${props.draftNumber}` : 'order',
  () => freshOrder(person.value?.name),
)
if (props.supplier && !draft.value.supplier) draft.value.supplier = props.supplier
const asking = ref(false) // why it is changed
const {
  forget,
  busy,
  send,
  at: problem,
} = useJob({
  says: ['lines', 'send', 'from', 'to', 'subject'],
  faced: async (r) => {
    if (r.problem.field === 'send') await lookAgain() // another number is free now
    asking.value = asking.value && r.problem.field === 'reason'
    if (r.problem.kind !== 'changed') return
    if (draft.value.draft && r.problem.field === 'draft') await seeAgain()
    if (!props.change) return
    await client.invalidateQueries({ queryKey: ['order', props.change] })
    draft.value.version = issued.value?.version ?? 0
  },
})

const { data: suppliers } = useQuery(suppliersQuery)
const seller = computed(() => suppliers.value?.find((s) => s.code === draft.value.supplier))
const { data: issued } = useBeginning({
  queryKey: ['order', props.change],
  queryFn: () => unwrap(api.GET('/api/orders/{number}', { params: { path: { number: props.change! } } })),
  enabled: !!props.change,
})
const about = computed(() => aboutOf(draft.value, choices.value?.items ?? []))
let taken = kept
watch(
  issued,
  (o) => {
    if (!o || taken) return
    taken = true
    Object.assign(draft.value, typedOrder(o))
    if (props.plans) draft.value.charges.push({ description: '', ...props.plans })
  },
  { immediate: true },
)
const { theirs, ended, takeTheirs, seeAgain } = useKeptDraft(props.draftNumber, draft, kept, begin)
const choices = useChoices(draft, !props.change && !props.draftNumber)
const itemOf = (l: DraftLine) => choices.value?.items.find((i) => i.code === l.item)
const isAgreed = (l: DraftLine) => choices.value?.prices.some((p) => p.item === l.item) ?? false
const lines = computed(() => draft.value.lines.filter(filledLine))

function entry(): OrderEntry {
  return orderBody(draft.value, (l) => (sent(l.taxRate) === itemOf(l)?.taxRate ? (itemOf(l)?.taxCategory ?? '') : '')) // another rate has another category
}
const { preview, again } = usePreview([draft], () =>
  draft.value.supplier && lines.value.length
    ? unwrap(
        api.POST('/api/orders/preview', {
          body: entry(),
          params: { query: props.change ? { number: props.change } : {} },
        }),
      )
    : undefined,
)
void again()
watch(
  draft,
  (d) => {
    forget()
    outgoing.value = undefined
    if (d.lines.every(filledLine))
      d.lines.push({ ...emptyLine(), budget: props.draftNumber ? '' : (choices.value?.budget ?? '') })
  },
  { deep: true },
)

/** What stands against the lines together, once there is something on them. */
const ofLines = computed(
  () =>
    problem('lines') ??
    (Number(preview.value?.net) > 0 ? preview.value?.problems.find((p) => p.field === 'lines')?.sentence : undefined),
)

function submit(job: () => Promise<Issued>, says: (number: string) => string, then = '') {
  return send(async () => {
    const { number, waits } = await job()
    clear()
    if (waits) await arrive(`/orders/${number}`, `Order ${number} waits for an approver; nobody is told before.`)
    else await arrive(`/orders/${number}${then}`, says(number))
  })
}
async function issue() {
  if (busy.value || !may.value) return
  if (props.change) {
    asking.value = true
    return
  }
  if (lines.value.some((l) => l.budget === '')) draft.value.lines = withoutBudgetFirst(draft.value.lines)
  await send(() => lookAgain(true))
}
const { outgoing, lookAgain, issueNow } = useIssuing(entry, submit, () => seller.value?.name ?? draft.value.supplier)
const change = (reason: string) =>
  submit(
    () => changeOrder(props.change!, draft.value.version, reason, entry()),
    (number) => `Order ${number} is changed. Send it, so that the supplier knows.`,
    '?send=yes',
  )
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
    await discardKept(draft.value.draft)
    clear()
    await client.invalidateQueries({ queryKey: ['drafts'] })
    await router.push(props.change ? placeOf.order(props.change) : '/orders')
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
const title = computed(() => {
  if (props.change) return `Change order ${props.change}`
  return draft.value.draft ? `Draft ${draft.value.draft.number}` : 'Enter an order'
})
useKeys(() =>
  may.value
    ? [
        { key: 'Ctrl+Enter', label: props.change ? 'change the order' : 'issue and send', run: () => void issue() },
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
        <h1>{{ title }}</h1>
        <span class="muted">{{ seller ? `${seller.code} · ${seller.currency}` : '' }}</span>
      </div>
      <OrderHead v-model="draft" v-model:unknown="unknown" :change="!!props.change" :problem="problem" />
      <p v-if="theirs" class="small mb-0 advice">
        {{ theirs.by }} kept this draft differently.
        <button type="button" class="linkish" @click="takeTheirs">Take that instead of what stands here</button>
      </p>
      <p v-if="ended" class="small mb-0 text-danger" role="alert">{{ ended }}</p>
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
        Type the beginning of the supplier’s name or code and press <kbd>Enter</kbd>. What was ordered there before is
        known: an item’s code and its quantity are enough for a line.
      </p>
      <div v-else v-show="!outgoing">
        <OrderLines
          v-model="draft"
          :choices="choices"
          :preview="preview"
          :currency="seller?.currency ?? ''"
          :problem="problem"
        />
        <MoreRows :more="choices?.more" way="Type the code of an item that is not offered." />
        <OrderTerms
          v-if="draft.supplier"
          v-model="draft"
          :contacts="choices?.contacts ?? []"
          :currency="seller?.currency ?? ''"
          :about="about"
          :preview="preview"
          :problem="problem"
        />
        <p v-if="ofLines" class="small text-danger mb-0" role="alert">{{ ofLines }}</p>
      </div>
      <IssuePanel
        v-if="outgoing"
        :letter="outgoing"
        :busy="busy"
        :problem="problem"
        @issue="issueNow"
        @prices="(on) => send(() => lookAgain(on))"
        @cancel="outgoing = undefined"
      />
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
      <BButton v-if="!outgoing" variant="primary" :disabled="!may || busy" @click="issue">{{
        props.change ? 'Change' : 'Issue and send'
      }}</BButton>
      <BButton v-if="!props.change" variant="outline-secondary" :disabled="!may" @click="keepDraft"
        >Keep as a draft</BButton
      >
      <BButton variant="outline-secondary" @click="throwAway">Throw away</BButton>
      <span v-if="preview" class="sum">
        <template v-if="kept">Your draft was kept. </template>Net {{ show(preview.net) }} · tax
        {{ show(preview.tax) }} = <b>{{ show(preview.total) }}</b> {{ seller?.currency }}
      </span>
      <span v-else-if="!may" class="sum">Issuing takes the role buyer.</span>
    </div>
  </section>
</template>
