<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useDebounceFn } from '@vueuse/core'
import { useRouter } from 'vue-router'
import { api, Refusal, unwrap, type DeliveryEntry, type DeliveryPreview, type Finding, type OrderLine } from '@/api/client'
import { lostSince } from '@/api/live'
import LineGauge from '@/parts/LineGauge.vue'
import NoticeBar from '@/parts/NoticeBar.vue'
import NumberField from '@/parts/NumberField.vue'
import OrderThread from '@/parts/OrderThread.vue'
import VerdictMark from '@/parts/VerdictMark.vue'
import { useDraft } from '@/parts/draft'
import { useKeys } from '@/parts/keys'
import { notice, tell, warn } from '@/parts/notice'
import { read, sent, show, showDay } from '@/parts/numbers'
import { has, today } from '@/parts/session'
import TextField from '@/parts/TextField.vue'
import TickBox from '@/parts/TickBox.vue'

const props = defineProps<{ number: number }>()
const router = useRouter()
const client = useQueryClient()

interface Count {
  now: string
  refused: string
  close: boolean
}
interface Draft {
  note: string
  day: string
  place: string
  condition: string
  secondPart: boolean
  counts: Record<number, Count>
}
const { draft, clear, kept } = useDraft<Draft>(`delivery.${props.number}`, () => ({
  note: '',
  day: today.value,
  place: '',
  condition: '',
  secondPart: false,
  counts: {},
}))
const seen = ref<Record<number, string>>({}) // received of each line when it was first shown
const preview = ref<DeliveryPreview>()
const refusal = ref<Refusal>()
const busy = ref(false)
const line = ref(0) // the line that is worked on

const { data: order, error } = useQuery({
  queryKey: ['order', props.number],
  queryFn: () => unwrap(api.GET('/api/orders/{number}', { params: { path: { number: props.number } } })),
})
let shown = false
watch(
  order,
  (o) => {
    if (!o) return
    for (const l of o.lines) {
      draft.value.counts[l.no] ??= { now: '', refused: '', close: false }
      seen.value[l.no] ??= l.received
    }
    if (draft.value.place === '') draft.value.place = o.place
    if (!shown) void nextTick(() => document.getElementById('delivery-note')?.focus())
    shown = true
  },
  { immediate: true },
)

const counts = computed(() => draft.value.counts)
const typedAny = computed(() => Object.values(counts.value).some((c) => c.now.trim() !== '' || c.refused.trim() !== '' || c.close))
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
    lines: lines.value.map((l) => ({
      no: l.no,
      quantity: quantity(l) || '0',
      refused: sent(counts.value[l.no]?.refused ?? '') || '0',
      close: counts.value[l.no]?.close ?? false,
      before: seen.value[l.no] ?? l.received,
    })),
  }
}
const ask = useDebounceFn(async () => {
  if (lines.value.length === 0) {
    preview.value = undefined
    return
  }
  preview.value = await unwrap(api.POST('/api/deliveries/preview', { body: entry() })).catch(() => undefined)
}, 200)
watch([draft, order, lostSince], () => void ask(), { deep: true })
watch(draft, () => (refusal.value = undefined), { deep: true })

const indexOf = (no: number) => lines.value.findIndex((l) => l.no === no)
const problem = (field: string) => refusal.value?.at(field)
function lineProblem(no: number): string | undefined {
  const at = indexOf(no)
  if (at < 0) return undefined
  const refused = problem(`lines[${at}].quantity`) ?? problem(`lines[${at}].close`) ?? problem(`lines[${at}].refused`)
  if (refused) return saidOf(no)?.verdict === 'outside' ? undefined : refused
  return preview.value?.problems.find((p) => p.field.startsWith(`lines[${at}].`) && p.kind !== 'changed')?.sentence
}
const saidOf = (no: number): Finding | undefined => preview.value?.findings.find((f) => f.line === no)
const blocked = computed(() => preview.value?.findings.some((f) => f.verdict === 'outside') ?? false)
const needsSecond = computed(
  () => refusal.value?.problem.problems.some((p) => p.kind === 'duplicate') || preview.value?.problems.some((p) => p.kind === 'duplicate'),
)

async function book() {
  if (busy.value || !order.value) return
  busy.value = true
  refusal.value = undefined
  notice.value = undefined
  try {
    const booked = await unwrap(api.POST('/api/deliveries', { body: entry() }))
    clear()
    const links = [{ to: `/receiving/deliveries/${booked.number}`, text: `Look at delivery ${booked.number}` }]
    if (booked.entry) links.push({ to: `/lookup/journal/${booked.entry}`, text: `Ledger entry ${booked.entry}` })
    const moved = booked.moves.map((n) => ({ to: `/invoices/${n}`, text: `Invoice ${n} was matched again` }))
    tell(`Delivery ${booked.number} is booked: ${show(booked.value)} to goods received, not yet invoiced.`, [...links, ...moved])
    await Promise.all([
      client.invalidateQueries({ queryKey: ['order'] }),
      client.invalidateQueries({ queryKey: ['receiving'] }),
      client.invalidateQueries({ queryKey: ['course'] }),
    ])
    await router.push(`/receiving/deliveries/${booked.number}`)
  } catch (e) {
    refusal.value = e as Refusal
    if (!(e instanceof Refusal) || !e.problem.field || e.problem.field === 'order' || e.problem.field === 'lines') warn(e)
    if (e instanceof Refusal && e.problem.kind === 'changed') {
      await client.invalidateQueries({ queryKey: ['order', props.number] })
      for (const l of order.value.lines) seen.value[l.no] = l.received
    }
    await nextTick()
    document.querySelector<HTMLElement>('.sheet .is-invalid')?.focus()
    void ask()
  } finally {
    busy.value = false
  }
}

function allAsOrdered() {
  for (const l of order.value?.lines ?? []) counts.value[l.no] = { now: Number(l.rest) > 0 ? show(l.rest) : '', refused: '', close: false }
}
const current = computed(() => order.value?.lines.find((l) => l.no === line.value))
function leaveOpen(l = current.value) {
  if (l) counts.value[l.no]!.close = false
}
function close(l = current.value) {
  if (l) counts.value[l.no]!.close = !counts.value[l.no]!.close
}
/** Books up to the limit and records the surplus as refused at the door. */
function upToLimit(l = current.value) {
  const said = l && saidOf(l.no)
  if (!l || !said?.nearest || said.kind !== 'over_delivery') return
  const count = counts.value[l.no]!
  const typed = read(count.now, l.quantity)
  if (!typed) return
  count.refused = read(`${show(typed)}-${show(said.nearest)}`) ?? ''
  count.now = show(said.nearest)
}
function throwAway() {
  draft.value = {
    note: '',
    day: today.value,
    place: order.value?.place ?? '',
    condition: '',
    secondPart: false,
    counts: Object.fromEntries((order.value?.lines ?? []).map((l) => [l.no, { now: '', refused: '', close: false }])),
  }
  clear()
}
function nextField(event: KeyboardEvent) {
  if (event.ctrlKey || !(event.target instanceof HTMLInputElement)) return
  event.preventDefault()
  const fields = [...document.querySelectorAll<HTMLInputElement>('.sheet input:not([type=checkbox]):not(:disabled)')]
  fields[(fields.indexOf(event.target) + 1) % fields.length]?.focus()
}
const may = computed(() => has('receiver') && order.value?.state === 'issued')
useKeys(() =>
  may.value
    ? [
        { key: 'Ctrl+Enter', label: typedAny.value ? 'book delivery' : 'book all as ordered', run: () => void book() },
        { key: 'a', label: 'all as ordered', run: allAsOrdered },
        { key: 'c', label: 'no more to come', run: () => close() },
        { key: 'o', label: 'leave rest open', run: () => leaveOpen() },
        { key: 'l', label: 'book to the limit', run: () => upToLimit() },
      ]
    : [],
)
</script>

<template>
  <section class="sheet" aria-label="Delivery">
    <NoticeBar />
    <div v-if="error" class="nothing" role="alert">{{ error.message }}</div>
    <template v-else-if="order">
      <header @keydown.enter="nextField">
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
      </header>
      <div class="body" @keydown.enter="nextField">
        <table class="grid">
          <thead>
            <tr>
              <th>Line</th>
              <th class="num">Ordered</th>
              <th class="num">Before</th>
              <th class="num">Now</th>
              <th title="No more to come: the line is closed">Last</th>
              <th>Rest</th>
              <th>Gauge</th>
            </tr>
          </thead>
          <tbody>
            <template v-for="l in order.lines" :key="l.no">
              <tr :class="{ on: line === l.no }" @focusin="line = l.no">
                <td>
                  <b>{{ l.description }}</b><br /><span class="muted" :title="`Over: ${l.over}. Under: ${l.under}.`"
                    >{{ l.unitName }}<template v-if="l.least !== l.most"> · {{ show(l.least) }} to {{ show(l.most) }}</template></span
                  >
                </td>
                <td class="num">{{ show(l.quantity) }}</td>
                <td class="num">{{ show(l.received) }}</td>
                <td class="num">
                  <NumberField
                    v-if="counts[l.no]"
                    :id="`now-${l.no}`"
                    v-model="counts[l.no]!.now"
                    :label="`${l.description}, quantity now`"
                    :whole="l.quantity"
                    :error="lineProblem(l.no) ?? (saidOf(l.no)?.verdict === 'outside' ? ' ' : undefined)"
                    :placeholder="Number(l.rest) > 0 ? show(l.rest) : '—'"
                    :described="saidOf(l.no)?.verdict === 'outside' ? `said-${l.no}` : undefined"
                    :disabled="!may || l.closedGoods"
                  />
                </td>
                <td>
                  <TickBox
                    v-if="counts[l.no] && !l.closedGoods"
                    :id="`close-${l.no}`"
                    v-model="counts[l.no]!.close"
                    :disabled="!may"
                    :aria-label="`${l.description}: no more to come`"
                  />
                </td>
                <td>
                  <span v-if="l.closedGoods" class="muted">closed</span>
                  <VerdictMark
                    v-else-if="saidOf(l.no)"
                    :verdict="saidOf(l.no)!.verdict"
                    :text="
                      saidOf(l.no)!.verdict === 'agrees'
                        ? 'all here'
                        : saidOf(l.no)!.verdict === 'waiting'
                          ? 'rest stays open'
                          : saidOf(l.no)!.verdict === 'within'
                            ? 'in limit'
                            : 'past limit'
                    "
                  />
                  <VerdictMark v-else-if="Number(l.rest) === 0" verdict="agrees" text="all here" />
                  <span v-else class="muted nowrap">{{ show(l.rest) }} open</span>
                </td>
                <td><LineGauge :line="l" :now="read(counts[l.no]?.now ?? '', l.quantity) || (typedAny ? '0' : l.rest)" /></td>
              </tr>
              <tr
                v-if="saidOf(l.no) && (typedAny || saidOf(l.no)!.verdict === 'outside') && saidOf(l.no)!.verdict !== 'agrees'"
                class="said"
              >
                <td colspan="7">
                  <div :id="`said-${l.no}`" class="finding mb-0" :class="saidOf(l.no)!.verdict">
                    <div class="said">
                      <span>{{ saidOf(l.no)!.sentence }}</span>
                      <template v-if="saidOf(l.no)!.verdict === 'outside'">
                        <button v-if="saidOf(l.no)!.kind === 'under_delivery'" type="button" class="linkish" @click="leaveOpen(l)">
                          Leave open <kbd>O</kbd>
                        </button>
                        <button v-else-if="Number(saidOf(l.no)!.nearest) > 0" type="button" class="linkish" @click="upToLimit(l)">
                          Book to the limit <kbd>L</kbd>
                        </button>
                      </template>
                    </div>
                  </div>
                </td>
              </tr>
              <tr v-if="counts[l.no]?.refused" class="said">
                <td colspan="7" class="muted">
                  {{ counts[l.no]!.refused }} {{ l.unitName }} refused at the door.
                  <button type="button" class="linkish" @click="counts[l.no]!.refused = ''">Take that back</button>
                </td>
              </tr>
            </template>
          </tbody>
        </table>
        <label for="condition" class="mt-3 fw-semibold">Condition of the goods</label>
        <BFormTextarea
          id="condition"
          v-model="draft.condition"
          rows="2"
          placeholder="What is to be said about the goods; may be left empty"
          :disabled="!may"
        />
      </div>
      <div class="bar">
        <BButton variant="primary" :disabled="!may || busy || blocked" @click="book">{{
          typedAny ? 'Book delivery' : 'Book all as ordered'
        }}</BButton>
        <BButton variant="outline-secondary" :disabled="!may" @click="allAsOrdered">All as ordered</BButton>
        <BButton v-if="typedAny || draft.note" variant="outline-secondary" @click="throwAway">Start over</BButton>
        <span v-if="!may" class="muted">{{
          order.state === 'issued' ? 'Booking a delivery takes the role receiver.' : `This order is ${order.state}.`
        }}</span>
        <span v-else-if="blocked" class="sum outside-text">A line is past its limit.</span>
        <span v-else class="sum"
          ><template v-if="kept">Your draft was kept. </template>Books {{ show(preview?.value ?? '0.00') }} {{ order.currency }} to goods
          received, not yet invoiced</span
        >
      </div>
    </template>
  </section>
  <aside class="side" aria-label="Thread of the order">
    <OrderThread v-if="order" :events="order.thread" :title="`Thread of ${order.number}`" />
    <p v-if="order" class="muted small mt-2">Wanted {{ showDay(order.wantedOn, today) }}. {{ order.note }}</p>
  </aside>
</template>
