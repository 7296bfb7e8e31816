<script setup lang="ts">
import { computed, nextTick, ref, shallowRef, useTemplateRef, watch } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useDebounceFn } from '@vueuse/core'
import { api, Refusal, unwrap, type DeliveryEntry, type DeliveryPreview, type OrderLine } from '@/api/client'
import { lostSince } from '@/api/live'
import AskReason from '@/parts/AskReason.vue'
import KeptDraft from '@/parts/KeptDraft.vue'
import LongRows from '@/parts/LongRows.vue'
import NoticeBar from '@/parts/NoticeBar.vue'
import SupplierNotes from '@/parts/SupplierNotes.vue'
import OrderThread from '@/parts/OrderThread.vue'
import { useDraft } from '@/parts/draft'
import { enter, nextField } from '@/parts/fields'
import { useKeys } from '@/parts/keys'
import { notice } from '@/parts/notice'
import { sent, show, showDay, showInstant } from '@/parts/numbers'
import { useJob } from '@/parts/job'
import { may as allowed, today } from '@/parts/session'
import TextField from '@/parts/TextField.vue'
import TickBox from '@/parts/TickBox.vue'
import { useArrive } from '@/parts/arrive'
import CountedLine from './CountedLine.vue'
import PhotoStrip from './PhotoStrip.vue'
import { blankCount, blankDelivery, blankLot, lotsOf, saidOf, touched, type Count, type DeliveryDraft } from './count'
import { useStart } from './start'

const props = defineProps<{ number: number; fromNotice?: number | undefined; fromArrival?: number | undefined; fromNote?: string }>()
const client = useQueryClient()
const arrive = useArrive()

const { draft, clear, kept, keptAt } = useDraft<DeliveryDraft>(`delivery.${props.number}`, () => blankDelivery(today.value))
/** Another note was just typed than that of a delivery which was begun: which of the two is meant is asked. */
const other = ref(kept && !!props.fromNote && !!draft.value.note && draft.value.note.trim() !== props.fromNote.trim())
const seen = shallowRef<Record<number, string>>({}) // received of each line when it was first shown
const preview = ref<DeliveryPreview>()
const line = ref(0) // the line that is worked on

const { data: order, error } = useQuery({
  queryKey: ['order', props.number],
  queryFn: () => unwrap(api.GET('/api/orders/{number}', { params: { path: { number: props.number } } })),
})
const { announced, counted, waiting } = useStart(props, order, draft)
const asked = useTemplateRef<HTMLElement>('asked')
watch(asked, (e) => e?.focus()) // neither answer is given by one more Enter
const rows = useTemplateRef<{ reach: (no: number) => Promise<void> }>('rows')
async function goTo(no: number) {
  await rows.value?.reach(no)
  enter(document.getElementById(`now-${no}`) ?? undefined)
}
let shown = false
watch(
  order,
  (o) => {
    if (!o) return
    seen.value = Object.fromEntries(o.lines.map((l) => [l.no, draft.value.seen[l.no] ?? seen.value[l.no] ?? l.received]))
    if (draft.value.place === '') draft.value.place = o.place
    if (draft.value.note === '') draft.value.note = props.fromNote ?? ''
    const first = props.fromNote || props.fromNotice ? o.lines.find((l) => l.awaitsGoods) : undefined // the note is known
    if (!shown && !other.value) void nextTick(() => (first ? goTo(first.no) : document.getElementById('delivery-note')?.focus()))
    shown = true
  },
  { immediate: true },
)

// Only lines of which something is typed have a count in the draft: an order may have many lines.
const counts = computed(() => draft.value.counts)
const blanks = new Map<number, Count>()
function countOf(l: OrderLine): Count {
  const count = counts.value[l.no] ?? blanks.get(l.no) ?? blankCount(l)
  if (!counts.value[l.no]) blanks.set(l.no, count)
  return count
}
function change(l: OrderLine | undefined, part: Partial<Count>) {
  if (!l) return
  if (Object.keys(draft.value.seen).length === 0) draft.value.seen = { ...seen.value }
  draft.value.counts[l.no] = { ...countOf(l), ...part }
}
const typedAny = computed(() => Object.values(counts.value).some(touched))
/** What is booked on a line: what was typed, or its rest where nothing at all is typed yet. */
const quantity = (l: OrderLine) => (typedAny.value ? sent(counts.value[l.no]?.now ?? '', l.quantity) : l.rest)
const lines = computed(() =>
  (order.value?.lines ?? []).filter((l) => quantity(l) !== '' || counts.value[l.no]?.close || counts.value[l.no]?.refused),
)

function entry(): DeliveryEntry {
  return {
    order: props.number,
    note: draft.value.note,
    day: draft.value.day,
    place: draft.value.place,
    condition: draft.value.condition,
    secondPart: draft.value.secondPart,
    photos: [...draft.value.photos.map((p) => p.sha256), ...(counted.value?.entry.photos ?? [])],
    ...(props.fromNotice ? { notice: props.fromNotice } : {}),
    ...(props.fromArrival ? { arrival: props.fromArrival } : {}),
    lines: lines.value.map((l) => ({
      no: l.no,
      quantity: quantity(l) || '0',
      refused: sent(counts.value[l.no]?.refused ?? '') || '0',
      close: counts.value[l.no]?.close ?? false,
      before: seen.value[l.no] ?? l.received,
      ...(counts.value[l.no]?.unit ? { unit: counts.value[l.no]!.unit } : {}),
      lots: lotsOf(counts.value[l.no], quantity(l)),
    })),
  }
}
const ask = useDebounceFn(async () => {
  if (lines.value.length === 0) {
    preview.value = undefined
    return
  }
  preview.value = await unwrap(
    api.POST('/api/deliveries/preview', { body: entry(), params: { query: { counting: counting.value } } }),
  ).catch(() => undefined)
}, 200)
watch([order, lostSince], () => void ask())
watch(
  draft,
  () => {
    refusal.value = undefined
    void ask()
  },
  { deep: true },
)

const places = computed(() => new Map(lines.value.map((l, i) => [l.no, i])))
const findings = computed(() => new Map(preview.value?.findings.map((f) => [f.line, f])))
/** What the preview finds wrong with each line; of lots by themselves. */
const foretold = computed(() => {
  const all = new Map<string, string>()
  for (const p of preview.value?.problems ?? []) {
    const [, place, name] = /^lines\[(\d+)\]\.(.*)$/.exec(p.field) ?? []
    const key = name === 'lots' ? `${place} lots` : place
    if (key !== undefined && p.kind !== 'changed' && !all.has(key)) all.set(key, p.sentence)
  }
  return all
})
function lineProblem(no: number): string | undefined {
  const at = places.value.get(no)
  if (at === undefined) return undefined
  const refused =
    problem(`lines[${at}].quantity`) ?? problem(`lines[${at}].unit`) ?? problem(`lines[${at}].close`) ?? problem(`lines[${at}].refused`)
  if (refused) return findings.value.get(no)?.verdict === 'outside' ? undefined : refused
  return foretold.value.get(String(at))
}
/** What is wrong with lots is said once something of them is typed, or the booking was refused. */
function lotProblem(l: OrderLine): string | undefined {
  const at = places.value.get(l.no)
  return problem(`lines[${at}].lots`) ?? (lotsOf(counts.value[l.no], quantity(l)).length ? foretold.value.get(`${at} lots`) : undefined)
}
const blocked = computed(() => preview.value?.findings.some((f) => f.verdict === 'outside') ?? false)
const needsSecond = computed(
  () => refusal.value?.problem.problems.some((p) => p.kind === 'duplicate') || preview.value?.problems.some((p) => p.kind === 'duplicate'),
)

/** Where deliveries are booked in two steps, this is the first: counted at the door, for another person to book. */
const counting = computed(() => (order.value?.twoStep ?? false) && !props.fromArrival)

const { refusal, busy, send, at: problem } = useJob({ faced })
async function faced(r: Refusal) {
  if (r.problem.kind === 'changed') {
    await client.invalidateQueries({ queryKey: ['order', props.number] })
    draft.value.seen = seen.value = Object.fromEntries((order.value?.lines ?? []).map((l) => [l.no, l.received]))
  }
  // the field that was refused may be far down and not there yet
  const place = r.problem.problems.map((p) => /^lines\[(\d+)\]/.exec(p.field)?.[1]).find(Boolean)
  const refused = place && lines.value[Number(place)]
  if (refused) await rows.value?.reach(refused.no)
  void ask()
}
async function countOnly() {
  const kept = await unwrap(api.POST('/api/arrivals', { body: entry() }))
  clear()
  await arrive('/receiving', `Counted at the door as number ${kept.number}. Somebody else books it.`)
}
/** Ends the notice or the count at the door that this delivery would start from. */
const ending = ref(false)
const endTrouble = ref('')
async function endStart(reason: string) {
  const body = { reason }
  try {
    if (props.fromNotice) await unwrap(api.POST('/api/notices/{number}/withdraw', { params: { path: { number: props.fromNotice } }, body }))
    else await unwrap(api.POST('/api/arrivals/{number}/discard', { params: { path: { number: props.fromArrival! } }, body }))
    clear()
    await arrive('/receiving', props.fromNotice ? 'The notice is taken back.' : 'The count is thrown away.')
  } catch (e) {
    endTrouble.value = (e as Error).message
  }
}
async function book() {
  if (busy.value || !order.value || other.value) return
  notice.value = undefined
  await send(counting.value ? countOnly : bookAll)
}
async function bookAll() {
  const booked = await unwrap(api.POST('/api/deliveries', { body: entry() }))
  clear()
  const links = [{ to: `/receiving/deliveries/${booked.number}`, text: `Look at delivery ${booked.number}` }]
  if (booked.entry) links.push({ to: `/lookup/journal/${booked.entry}`, text: `Ledger entry ${booked.entry}` })
  const moved = booked.moves.map((n) => ({ to: `/invoices/${n}`, text: `Invoice ${n} was matched again` }))
  const nothing = lines.value.every((l) => !Number(quantity(l)))
  await arrive(
    `/receiving/deliveries/${booked.number}`,
    nothing
      ? `Delivery ${booked.number} is kept: nothing was taken in by it.`
      : `Delivery ${booked.number} is booked: ${show(booked.value)} to goods received, not yet invoiced.`,
    [...links, ...moved],
  )
}

function allAsOrdered() {
  for (const l of order.value?.lines ?? []) change(l, { now: l.awaitsGoods ? show(l.rest) : '', refused: '', close: false, unit: '' })
}
const current = computed(() => order.value?.lines.find((l) => l.no === line.value))
function leaveOpen(l = current.value) {
  change(l, { close: false })
}
function close(l = current.value) {
  if (l) change(l, { close: !countOf(l).close })
}
/** Books up to the limit, or nothing on a closed line, and records the surplus as refused at the door. */
function upToLimit(l = current.value) {
  const said = l && findings.value.get(l.no)
  if (!l) return
  if (l.closedGoods) change(l, { refused: countOf(l).now, now: '' })
  else if (said?.kind === 'over_delivery' && said.nearest)
    change(l, { refused: show(said.surplus), now: Number(said.nearest) ? show(said.nearest) : '', unit: '' })
}
function throwAway() {
  other.value = false
  draft.value = { ...blankDelivery(today.value), place: order.value?.place ?? '', note: props.fromNote ?? '' }
  seen.value = Object.fromEntries((order.value?.lines ?? []).map((l) => [l.no, l.received]))
  clear()
  const first = order.value?.lines.find((l) => l.awaitsGoods)
  void nextTick(() => (props.fromNote && first ? goTo(first.no) : enter(document.getElementById('delivery-note') ?? undefined)))
}
/** What was received meanwhile of what was counted before. */
const news = computed(() => {
  const moved = (order.value?.lines ?? []).filter((l) => draft.value.seen[l.no] !== undefined && draft.value.seen[l.no] !== l.received)
  return moved
    .map((l) => `Since then ${l.description} went from ${show(draft.value.seen[l.no])} to ${show(l.received)} received.`)
    .join(' ')
})
const origins = ref(false)
function addLot(l = current.value) {
  if (!l) return
  const lots = [...countOf(l).lots, blankLot()]
  change(l, { lots })
  void nextTick(() => document.getElementById(`lot-${l.no}-${lots.length - 1}`)?.focus())
}
const may = computed(() => allowed('bookDelivery') && order.value?.state === 'issued')
useKeys(() =>
  may.value && !other.value
    ? [
        {
          key: 'Ctrl+Enter',
          label: counting.value ? 'counted' : typedAny.value ? 'book delivery' : 'book all as ordered',
          run: () => void book(),
        },
        { key: 'a', label: 'all as ordered', run: allAsOrdered },
        { key: 'c', label: 'no more to come', run: () => close() },
        { key: 'o', label: 'leave rest open', run: () => leaveOpen() },
        { key: 'l', label: 'book to the limit', run: () => upToLimit() },
        { key: 't', label: 'lot of this line', run: () => addLot(), quiet: true },
        { key: 'w', label: 'where limits come from', run: () => (origins.value = !origins.value) },
      ]
    : [],
)
</script>

<template>
  <section class="sheet" aria-label="Delivery">
    <NoticeBar />
    <div v-if="error" class="nothing" role="alert">{{ error.message }}</div>
    <template v-else-if="order">
      <div v-if="other" ref="asked" class="nothing" role="alertdialog" aria-labelledby="other-note" tabindex="-1">
        <h1 id="other-note">Another delivery on this order was begun</h1>
        <p>
          {{ showInstant(keptAt, today) }}: {{ saidOf(draft) }}, not booked. You typed note <b class="mono">{{ fromNote }}</b>.
        </p>
        <p class="d-flex gap-2 justify-content-center">
          <BButton variant="primary" @click="throwAway">Begin {{ fromNote }} anew</BButton>
          <BButton variant="outline-secondary" @click="other = false">Go on with {{ draft.note }}</BButton>
        </p>
      </div>
      <header v-if="!other" @keydown.enter="nextField">
        <div class="headline">
          <h1>
            Delivery on order <RouterLink :to="`/orders/${order.number}`" class="mono fw-medium text-reset">{{ order.number }}</RouterLink>
          </h1>
          <span class="muted">{{ order.supplier.name }} · asked for by {{ order.requestedBy }}</span>
        </div>
        <dl class="facts fields">
          <div>
            <dt><label for="delivery-note">Delivery note</label></dt>
            <dd>
              <TextField
                id="delivery-note"
                v-model="draft.note"
                class="mono"
                autocomplete="off"
                :state="problem('note') ? false : undefined"
                aria-describedby="delivery-note-error"
                style="width: 150px"
              />
            </dd>
          </div>
          <div>
            <dt><label for="delivery-day">Arrived</label></dt>
            <dd>
              <TextField
                id="delivery-day"
                v-model="draft.day"
                type="date"
                :max="today"
                :state="problem('day') ? false : undefined"
                aria-describedby="delivery-day-error"
                style="width: 142px"
              />
            </dd>
          </div>
          <div>
            <dt><label for="delivery-place">Place</label></dt>
            <dd><TextField id="delivery-place" v-model="draft.place" autocomplete="off" style="width: 142px" /></dd>
          </div>
          <div v-if="needsSecond" class="align-self-end pb-1">
            <dt class="visually-hidden">The same note again</dt>
            <dd><TickBox id="second-part" v-model="draft.secondPart">Second part of this note</TickBox></dd>
          </div>
        </dl>
        <div id="delivery-note-error" class="small text-danger">
          {{ problem('note') ?? preview?.problems.find((p) => p.kind === 'duplicate')?.sentence }}
        </div>
        <div id="delivery-day-error" class="small text-danger">{{ problem('day') }}</div>
        <SupplierNotes :code="order.supplier.code" stage="receiving" />
        <KeptDraft v-if="kept && typedAny" :at="keptAt" :what="saidOf(draft)" :news="news" @anew="throwAway" />
        <p v-for="w in waiting" :key="w.to" class="mb-0 mt-1 advice">
          {{ w.text }} <RouterLink :to="w.to">{{ w.action }}</RouterLink>
        </p>
        <p v-if="counted" class="mb-0 mt-1 muted">Counted at the door by {{ counted.by }}; what you book is what stands here.</p>
        <p v-if="announced" class="mb-0 mt-1 muted">
          Started from notice {{ announced.notice.reference }} ({{ announced.notice.carrier }}).
        </p>
      </header>
      <div v-if="!other" class="body" @keydown.enter="nextField">
        <AskReason
          v-if="ending"
          id="end-start"
          :title="fromNotice ? 'Take this notice back.' : 'Throw this count away.'"
          :books="
            fromNotice
              ? 'Nothing is announced by it any more; the order stays as it is.'
              : 'Nothing was booked of it; the delivery is counted again.'
          "
          :label="fromNotice ? 'Why it does not hold' : 'What was wrong with it'"
          :action="fromNotice ? 'Take the notice back' : 'Throw the count away'"
          :error="endTrouble"
          @done="endStart"
          @cancel="ending = false"
        />
        <table class="grid" :class="{ long: order.lines.length > 40 }">
          <thead>
            <tr>
              <th class="named">Line</th>
              <th class="num">Ordered</th>
              <th class="num">Before</th>
              <th class="num">Now</th>
              <th title="No more to come: the line is closed">Last</th>
              <th>Rest</th>
              <th>Gauge</th>
            </tr>
          </thead>
          <LongRows ref="rows" v-slot="{ row: l }" :rows="order.lines" :columns="7" :height="56">
            <CountedLine
              :count="countOf(l)"
              :line="l"
              :said="findings.get(l.no)"
              :problem="lineProblem(l.no)"
              :lot-problem="lotProblem(l)"
              :typed-any="typedAny"
              :origins="origins"
              :on="line === l.no"
              :may="may"
              @here="line = l.no"
              @change="change(l, $event)"
              @leave-open="leaveOpen(l)"
              @to-limit="upToLimit(l)"
            />
          </LongRows>
        </table>
        <label for="condition" class="mt-3 fw-semibold">Condition of the goods</label>
        <textarea
          id="condition"
          v-model="draft.condition"
          class="form-control"
          rows="2"
          placeholder="What is to be said about the goods; may be left empty"
          :disabled="!may"
        />
        <h2 class="mt-3 mb-2 fs-6">Photographs</h2>
        <PhotoStrip v-model="draft.photos" :disabled="!may" />
      </div>
      <div v-if="!other" class="bar">
        <BButton variant="primary" :disabled="!may || busy || blocked" @click="book">{{
          counting ? 'Counted' : typedAny ? 'Book delivery' : 'Book all as ordered'
        }}</BButton>
        <BButton variant="outline-secondary" :disabled="!may" @click="allAsOrdered">All as ordered</BButton>
        <BButton v-if="typedAny || draft.note" variant="outline-secondary" @click="throwAway">Start over</BButton>
        <BButton v-if="fromNotice && allowed('withdrawNotice')" variant="outline-secondary" @click="ending = true"
          >Take the notice back…</BButton
        >
        <BButton v-if="fromArrival && allowed('discardArrival')" variant="outline-secondary" @click="ending = true"
          >Throw the count away…</BButton
        >
        <span v-if="!may" class="muted">{{
          order.state === 'issued' ? 'Booking a delivery takes the role receiver.' : `This order is ${order.state}.`
        }}</span>
        <span v-else-if="blocked" class="sum outside-text">A line is past its limit.</span>
        <span v-else-if="counting" class="sum">Counted now, booked by somebody else.</span>
        <span v-else class="sum"
          >Books {{ show(preview?.value ?? '0.00') }} {{ order.currency }} to goods received, not yet invoiced<template
            v-if="preview?.postedOn"
            >, posted on {{ showDay(preview.postedOn, today) }}: the period of its arrival is closed</template
          ></span
        >
      </div>
    </template>
  </section>
  <aside class="side" aria-label="Thread of the order">
    <OrderThread v-if="order" :events="order.thread" :title="`Thread of ${order.number}`" />
    <p v-if="order" class="muted small mt-2">Wanted {{ showDay(order.wantedOn, today) }}. {{ order.note }}</p>
  </aside>
</template>
