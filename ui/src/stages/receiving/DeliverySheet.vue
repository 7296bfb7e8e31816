<script setup lang="ts">
// Books what arrived on an order, counts it at the door, or takes up what a notice or a count has begun.
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { api, Refusal, unwrap, type DeliveryEntry } from '@/api/client'
import { useBeginning } from '@/parts/beginning'
import KeptDraft from '@/parts/KeptDraft.vue'
import LongRows from '@/parts/LongRows.vue'
import NoticeBar from '@/parts/NoticeBar.vue'
import SupplierNotes from '@/parts/SupplierNotes.vue'
import OrderThread from '@/parts/OrderThread.vue'
import { useDraft } from '@/parts/draft'
import { enter, nextField } from '@/parts/fields'
import { useKeys } from '@/parts/keys'
import { notice } from '@/parts/notice'
import { added, sent, show, showDay } from '@/parts/numbers'
import { useJob } from '@/parts/job'
import { may as allowed, today } from '@/parts/session'
import { usePreview } from '@/parts/preview'
import BegunDelivery from './BegunDelivery.vue'
import CountedLine from './CountedLine.vue'
import DeliveryHead from './DeliveryHead.vue'
import DeliverySum from './DeliverySum.vue'
import EndStart from './EndStart.vue'
import PhotoStrip from './PhotoStrip.vue'
import { blankDelivery, saidOf, type DeliveryDraft } from './count'
import { useCounting } from './counting'
import { useLineProblems } from './problems'
import { useStart } from './start'
import { placeOf } from '@/parts/places'

const props = defineProps<{
  number: number
  fromNotice?: number | undefined
  fromArrival?: number | undefined
  fromNote?: string
}>()
const client = useQueryClient()

const { draft, clear, kept, keptAt } = useDraft<DeliveryDraft>(`delivery.${props.number}`, () =>
  blankDelivery(today.value),
)
/** Another note was just typed than that of a delivery which was begun: which of the two is meant is asked. */
const other = ref(kept && !!props.fromNote && !!draft.value.note && draft.value.note.trim() !== props.fromNote.trim())
const { data: order, error } = useBeginning({
  queryKey: ['order', props.number],
  queryFn: () => unwrap(api.GET('/api/orders/{number}', { params: { path: { number: props.number } } })),
  select: (o) => ({ ...o, lines: o.lines.filter((l) => !l.byValue) }), // work is accepted on the order
})
const { announced, counted, waiting, arrives } = useStart(props, order, draft)
const counting = useCounting(order, draft)
const announcedOf = (no: number) =>
  announced.value && added(announced.value.lines.filter((l) => l.no === no).map((l) => l.quantity))
const { seen, at: line, typedAny, lines, quantity, countOf, change, news } = counting
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
    seen.value = Object.fromEntries(
      o.lines.map((l) => [l.no, draft.value.seen[l.no] ?? seen.value[l.no] ?? l.received]),
    )
    if (draft.value.note === '') draft.value.note = props.fromNote ?? ''
    const first = props.fromNote || props.fromNotice ? o.lines.find((l) => l.awaitsGoods) : undefined // the note is known
    if (!shown && !other.value)
      void nextTick(() => (first ? goTo(first.no) : document.getElementById('delivery-note')?.focus()))
    shown = true
  },
  { immediate: true },
)

function entry(): DeliveryEntry {
  return {
    order: props.number,
    note: draft.value.noNote ? '' : draft.value.note,
    noNote: draft.value.noNote ?? false,
    stated: sent(draft.value.stated ?? ''),
    statedWhy: draft.value.statedWhy ?? '',
    day: draft.value.day,
    place: draft.value.place,
    elsewhere: draft.value.elsewhere ?? '',
    condition: draft.value.condition,
    secondPart: draft.value.secondPart,
    photos: [...draft.value.photos.map((p) => p.sha256), ...(counted.value?.entry.photos ?? [])],
    ...(props.fromNotice ? { notice: props.fromNotice } : {}),
    ...(props.fromArrival ? { arrival: props.fromArrival } : {}),
    lines: counting.body(),
  }
}
const {
  preview,
  again: ask,
  wrong,
} = usePreview([draft, order], () =>
  lines.value.length
    ? unwrap(api.POST('/api/deliveries/preview', { body: entry(), params: { query: { counting: atTheDoor.value } } }))
    : undefined,
)
watch(draft, () => forget(), { deep: true })

const blocked = computed(() => preview.value?.findings.some((f) => f.verdict === 'outside') ?? false)
/** What says that the note was booked before. */
const sameNote = computed(
  () =>
    [...(refusal.value?.problem.problems ?? []), ...(preview.value?.problems ?? [])].find((p) => p.kind === 'duplicate')
      ?.sentence,
)

/** What says that the lines are not what the note counts. */
const missed = computed(() => problem('stated') ?? (draft.value.stated ? wrong('stated') : undefined))

/** Where deliveries are booked in two steps, this is the first: counted at the door, for another person to book. */
const atTheDoor = computed(() => (order.value?.twoStep ?? false) && !props.fromArrival)

const { refusal, busy, send, at: problem, forget } = useJob({ faced })
const { findings, found, lineProblem, lotProblem } = useLineProblems(preview, counting, draft, problem)
async function faced(r: Refusal) {
  if (r.problem.kind === 'changed') {
    await client.invalidateQueries({ queryKey: ['order', props.number] })
    draft.value.seen = seen.value = counting.received()
  }
  // the field that was refused may be far down and not there yet
  const place = r.problem.problems.map((p) => /^lines\[(\d+)\]/.exec(p.field)?.[1]).find(Boolean)
  const refused = place && lines.value[Number(place)]
  if (refused) await rows.value?.reach(refused.no)
  void ask()
}
const ending = ref(false) // the notice or the count at the door that it would start from
async function book() {
  if (busy.value || !order.value || other.value) return
  notice.value = undefined
  if (atTheDoor.value)
    await send(() => unwrap(api.POST('/api/arrivals', { body: entry() })), {
      after: clear,
      at: '/receiving',
      done: (kept) => `Counted at the door as number ${kept.number}. Somebody else books it.`,
    })
  else {
    const nothing = lines.value.every((l) => !Number(quantity(l)))
    await send(() => unwrap(api.POST('/api/deliveries', { body: entry() })), {
      after: clear,
      at: (b) => placeOf.delivery(b.number),
      done: (b) =>
        nothing
          ? `Delivery ${b.number} is kept: nothing was taken in by it.`
          : `Delivery ${b.number} is booked: ${show(b.value)} to goods received, not yet invoiced.`,
      links: (b) => [
        { to: placeOf.delivery(b.number), text: `Look at delivery ${b.number}` },
        ...(b.entry ? [{ to: placeOf.entry(b.entry), text: `Ledger entry ${b.entry}` }] : []),
        ...b.moves.map((n) => ({ to: placeOf.invoice(n), text: `Invoice ${n} was matched again` })),
      ],
    })
  }
}

function throwAway() {
  other.value = false
  draft.value = { ...blankDelivery(today.value), ...arrives(order.value), note: props.fromNote ?? '' }
  seen.value = counting.received()
  clear()
  const first = order.value?.lines.find((l) => l.awaitsGoods)
  void nextTick(() =>
    props.fromNote && first ? goTo(first.no) : enter(document.getElementById('delivery-note') ?? undefined),
  )
}
const origins = ref(false)
const may = computed(() => allowed('bookDelivery') && order.value?.state === 'issued')
useKeys(() =>
  may.value && !other.value
    ? [
        {
          key: 'Ctrl+Enter',
          label: atTheDoor.value ? 'counted' : typedAny.value ? 'book delivery' : 'book all as ordered',
          run: () => void book(),
        },
        { key: 'a', label: 'all as ordered', run: counting.allAsOrdered },
        { key: 'c', label: 'no more to come', run: () => counting.close() },
        { key: 'o', label: 'leave rest open', run: () => counting.leaveOpen() },
        { key: 'l', label: 'book to the limit', run: () => counting.upToLimit(found) },
        { key: 'r', label: 'refuse goods of this line', run: () => counting.refuse() },
        { key: 'b', label: 'came without a note', run: () => (draft.value.noNote = !draft.value.noNote), quiet: true },
        { key: 't', label: 'lot of this line', run: () => counting.addLot(), quiet: true },
        { key: 'w', label: 'where limits come from', run: () => (origins.value = !origins.value), quiet: true },
      ]
    : [],
)
</script>

<template>
  <section class="sheet" aria-label="Delivery">
    <NoticeBar />
    <div v-if="error" class="nothing" role="alert">{{ error.message }}</div>
    <template v-else-if="order">
      <BegunDelivery
        v-if="other"
        :draft="draft"
        :at="keptAt"
        :typed="fromNote ?? ''"
        @anew="throwAway"
        @go-on="other = false"
      />
      <header v-if="!other" @keydown.enter="nextField">
        <div class="headline">
          <h1>
            Delivery on order
            <RouterLink :to="placeOf.order(order.number)" class="mono fw-medium text-reset">{{
              order.number
            }}</RouterLink>
          </h1>
          <span class="muted">{{ order.supplier.name }} · asked for by {{ order.requestedBy }}</span>
        </div>
        <DeliveryHead v-model="draft" :problem="problem" :again="sameNote" :missed="missed" />
        <SupplierNotes :code="order.supplier.code" stage="receiving" />
        <KeptDraft v-if="kept && typedAny" :at="keptAt" :what="saidOf(draft)" :news="news" @anew="throwAway" />
        <p v-for="w in waiting" :key="w.to" class="mb-0 mt-1 advice">
          {{ w.text }} <RouterLink :to="w.to">{{ w.action }}</RouterLink>
        </p>
        <p v-if="counted" class="mb-0 mt-1 muted">
          Counted at the door by {{ counted.by }}; what you book is what stands here.
        </p>
        <p v-if="announced" class="mb-0 mt-1 muted">
          Started from notice
          <RouterLink :to="placeOf.noticed(announced.notice.number)">{{ announced.notice.reference }}</RouterLink> ({{
            announced.notice.carrier
          }}).
        </p>
      </header>
      <div v-if="!other" class="body" @keydown.enter="nextField">
        <EndStart v-if="ending" :notice="fromNotice" :arrival="fromArrival" @done="clear" @cancel="ending = false" />
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
              :announced="announcedOf(l.no)"
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
              @leave-open="counting.leaveOpen(l)"
              @to-limit="counting.upToLimit(found, l)"
              @refuse="counting.refuse(l)"
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
          atTheDoor ? 'Counted' : typedAny ? 'Book delivery' : 'Book all as ordered'
        }}</BButton>
        <BButton variant="outline-secondary" :disabled="!may" @click="counting.allAsOrdered">All as ordered</BButton>
        <BButton v-if="typedAny || draft.note" variant="outline-secondary" @click="throwAway">Start over</BButton>
        <BButton v-if="fromNotice && allowed('withdrawNotice')" variant="outline-secondary" @click="ending = true"
          >Take the notice back…</BButton
        >
        <BButton v-if="fromArrival && allowed('discardArrival')" variant="outline-secondary" @click="ending = true"
          >Throw the count away…</BButton
        >
        <DeliverySum :order="order" :preview="preview" :may="may" :blocked="blocked" :counting="atTheDoor" />
      </div>
    </template>
  </section>
  <aside class="side" aria-label="Thread of the order">
    <OrderThread v-if="order" :events="order.thread" :title="`Thread of ${order.number}`" />
    <p v-if="order" class="muted small mt-2">Wanted {{ showDay(order.wantedOn, today) }}. {{ order.note }}</p>
  </aside>
</template>
