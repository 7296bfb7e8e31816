<script setup lang="ts">
import { computed, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import { api, unwrap, type BookedLine } from '@/api/client'
import AskReason from '@/parts/AskReason.vue'
import HistoryList from '@/parts/HistoryList.vue'
import QuestionsPart from '@/parts/QuestionsPart.vue'
import SideTabs from '@/parts/SideTabs.vue'
import LedgerEntry from '@/parts/LedgerEntry.vue'
import KeptPapers from '@/parts/KeptPapers.vue'
import NoticeBar from '@/parts/NoticeBar.vue'
import OrderThread from '@/parts/OrderThread.vue'
import { useKeys } from '@/parts/keys'
import { show, showDay, showInstant } from '@/parts/numbers'
import { today } from '@/parts/session'
import SendPanel from '@/stages/orders/SendPanel.vue'
import ReturnForm from './ReturnForm.vue'
import { useJob } from '@/parts/job'
import { placeOf } from '@/parts/places'
import { apart } from './notices'

const props = defineProps<{ number: number }>()
const router = useRouter()
const asking = ref(false)
const { data: d, error } = useQuery({
  queryKey: ['delivery', props.number],
  queryFn: () => unwrap(api.GET('/api/deliveries/{number}', { params: { path: { number: props.number } } })),
})
/** What is asked about a delivery stands on its order, and is shown here as well. */
const { data: order } = useQuery({
  queryKey: ['order', computed(() => d.value?.order)],
  queryFn: () => unwrap(api.GET('/api/orders/{number}', { params: { path: { number: d.value!.order } } })),
  enabled: computed(() => !!d.value),
})
const begins = computed(() => `${titles[d.value?.kind ?? ''] ?? 'Number'} ${d.value?.note || props.number}: `)
const asked = computed(() => (order.value?.questions ?? []).filter((q) => q.text.startsWith(begins.value.trim())))
const returning = ref(false)
const telling = ref(false)
const may = (...jobs: string[]) => jobs.some((j) => d.value?.may.includes(j))
const titles: Record<string, string> = {
  delivery: 'Delivery',
  work: 'Work accepted',
  reversal: 'Reversal',
  return: 'Return',
  free: 'Free of charge',
}
const columns: Record<string, string> = {
  delivery: 'Received',
  work: 'Accepted',
  return: 'Sent back',
  free: 'Free of charge',
  reversal: 'Undone',
}
const undoing: Record<string, string> = {
  work: 'A counter-document takes back what is not invoiced yet, and its ledger entry with it; lines that it closed are open again.',
  delivery:
    'A counter-document takes back what is not invoiced yet, and its ledger entry with it; lines that it closed are open again, and so is the notice or the count that it started from.',
  return:
    'A counter-document says that the goods are here: what was to be replaced is invoiced as before, and a line that the return opened closes again.',
  free: 'A counter-document puts the goods back to received and not invoiced, and opens the line as it was.',
}
const print = () => window.print()
const off = (l: BookedLine) => apart([l.quantity, l.refused], l.announced ?? '0')

const { send, trouble } = useJob({ says: 'all' })
function reverse(reason: string) {
  const free = d.value?.kind === 'free'
  const what = titles[d.value?.kind ?? ''] ?? 'Number'
  const body = { params: { path: { number: props.number } }, body: { reason } }
  return send(
    () =>
      unwrap(
        free
          ? api.POST('/api/deliveries/{number}/undo-free', body)
          : may('takeBackWork')
            ? api.POST('/api/work/{number}/take-back', body)
            : api.POST('/api/deliveries/{number}/reverse', body),
      ),
    {
      after: () => (asking.value = false),
      at: (b) => placeOf.delivery(b.number),
      done: (b) => `${what} ${props.number} is undone by ${b.number}.`,
      links: (b) => (b.entry ? [{ to: placeOf.entry(b.entry), text: `Ledger entry ${b.entry}` }] : []),
    },
  )
}
const credit = () => void router.push(placeOf.creditForReturn(props.number))
useKeys(() => [
  ...(may('reverseDelivery', 'undoFree', 'takeBackWork')
    ? [{ key: 'u', label: 'undo this booking', run: () => (asking.value = true) }]
    : []),
  ...(may('bookReturn') ? [{ key: 'r', label: 'return goods', run: () => (returning.value = true) }] : []),
  ...(may('keyInvoice') ? [{ key: 'e', label: 'key the credit note', run: credit }] : []),
  ...(may('sendOrder') ? [{ key: 's', label: 'tell the supplier', run: () => (telling.value = true) }] : []),
  { key: 'p', label: 'print', run: print, quiet: true },
  ...(d.value
    ? [
        {
          key: 'd',
          label: 'another delivery on this order',
          run: () => void router.push(placeOf.receiving(d.value.order)),
        },
      ]
    : []),
])
const side = ref<'thread' | 'history'>('thread')
const tabs = [
  { id: 'thread' as const, text: 'Thread of the order' },
  { id: 'history' as const, text: 'History' },
]
</script>

<template>
  <section class="sheet" aria-label="Booked delivery">
    <NoticeBar />
    <div v-if="error" class="nothing" role="alert">{{ error.message }}</div>
    <template v-else-if="d">
      <header>
        <div class="headline">
          <h1>
            {{ titles[d.kind] }} <span class="mono fw-medium">{{ d.number }}</span>
          </h1>
          <span class="muted"
            >{{ d.supplier }} · order
            <RouterLink :to="placeOf.order(d.order)" class="mono">{{ d.order }}</RouterLink></span
          >
        </div>
        <dl class="facts">
          <div v-if="d.note && !(d.kind === 'work' && d.noNote)">
            <dt>
              {{ d.kind === 'work' ? 'Time sheet or report' : d.noNote ? 'Came without a note' : 'Delivery note' }}
            </dt>
            <dd class="mono">{{ d.note }}</dd>
          </div>
          <div v-if="d.notice">
            <dt>Announced by</dt>
            <dd class="mono">
              <RouterLink :to="placeOf.noticed(d.notice.number)">{{ d.notice.reference }}</RouterLink>
            </dd>
          </div>
          <div v-if="d.stated">
            <dt>Note’s own count</dt>
            <dd>
              {{ show(d.stated) }}<span v-if="d.statedWhy" class="muted"> · {{ d.statedWhy }}</span>
            </dd>
          </div>
          <div>
            <dt>{{ d.kind === 'return' ? 'Went back' : d.kind === 'delivery' ? 'Arrived' : 'Day' }}</dt>
            <dd>{{ showDay(d.day, today) }}</dd>
          </div>
          <div v-if="d.place">
            <dt>Place</dt>
            <dd>{{ d.place }}</dd>
          </div>
          <div>
            <dt>Booked</dt>
            <dd>{{ showInstant(d.at, today) }} by {{ d.by }}</dd>
          </div>
          <div v-if="d.secondPart">
            <dt>Confirmed as</dt>
            <dd>{{ d.noNote ? 'other goods than before' : 'second part of the note' }}</dd>
          </div>
        </dl>
        <p v-for="a in d.against" :key="a.number" class="mb-0 mt-2" :class="{ 'outside-text': a.kind === 'reversal' }">
          {{ a.kind === 'reversal' ? 'Undone by' : `Goods went back, ${a.outcome} asked for:` }}
          <RouterLink :to="placeOf.delivery(a.number)" class="mono">{{ a.number }}</RouterLink>.
        </p>
        <p v-if="d.original" class="mb-0 mt-2">
          {{ d.kind === 'return' ? 'Sends back goods of delivery' : 'Undoes' }}
          <RouterLink :to="placeOf.delivery(d.original)" class="mono">{{ d.original }}</RouterLink>:
          {{ d.reason }}
          <template v-if="d.kind === 'return'">
            {{
              d.outcome !== 'credit'
                ? 'A replacement is expected.'
                : d.creditDue
                  ? 'A credit note is expected.'
                  : 'No credit note is expected any more: they were not invoiced, or are credited.'
            }}</template
          >
        </p>
        <p v-if="d.kind === 'free'" class="mb-0 mt-2">{{ d.reason }}</p>
      </header>
      <div class="body" tabindex="0">
        <QuestionsPart v-if="order" :questions="asked" :order="d.order" :begins="begins" />
        <ReturnForm v-if="returning" :delivery="d" @cancel="returning = false" />
        <SendPanel
          v-if="telling"
          :number="d.order"
          kind="return"
          :returned="d.number"
          @done="telling = false"
          @cancel="telling = false"
        />
        <AskReason
          v-if="asking"
          id="reverse"
          title="Undo this booking."
          :books="undoing[d.kind] ?? ''"
          label="What was wrong"
          action="Undo the booking"
          :error="trouble"
          @done="reverse"
          @cancel="asking = false"
        />
        <table class="grid mb-3">
          <thead>
            <tr>
              <th class="named">Line</th>
              <th v-if="d.notice" class="num">Announced</th>
              <th class="num">{{ columns[d.kind] }}</th>
              <th class="num">Refused</th>
              <th class="num">Value, {{ d.currency }}</th>
              <th>Line closed</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="l in d.lines" :key="l.no">
              <td>
                <b>{{ l.description }}</b><br /><span class="muted"
                  >{{ l.unitName }}{{ l.counted ? `, counted as ${l.counted}` : '' }}</span
                >
                <span v-if="l.remark" class="d-block small">{{ l.remark }}</span>
                <span v-for="x in l.lots" :key="x.lot" class="d-block small"
                  >lot <span class="mono">{{ x.lot }}</span> {{ show(x.quantity)
                  }}{{ x.bestBefore ? `, best before ${showDay(x.bestBefore, today)}` : '' }}</span
                >
              </td>
              <td v-if="d.notice" class="num">
                {{ Number(l.announced) ? show(l.announced) : 'nothing'
                }}<span v-if="off(l)" class="d-block small outside-text">{{ off(l) }}</span>
              </td>
              <td class="num">{{ show(l.quantity) }}</td>
              <td class="num">
                {{ Number(l.refused) ? show(l.refused) : ''
                }}<span v-if="l.reason" class="d-block small muted">{{ l.reason }}</span>
              </td>
              <td class="num">{{ show(l.value) }}</td>
              <td>{{ l.closed ? 'no more to come' : '' }}</td>
            </tr>
            <tr v-for="l in d.notCome ?? []" :key="`announced ${l.no}`">
              <td>
                <b>{{ l.description }}</b><br /><span class="muted">{{ l.unitName }}</span>
              </td>
              <td class="num">{{ show(l.quantity) }}</td>
              <td class="num outside-text">nothing came</td>
              <td colspan="3"></td>
            </tr>
          </tbody>
        </table>
        <p v-if="d.condition"><b>Condition of the goods.</b> {{ d.condition }}</p>
        <div v-if="d.photos" class="photos large mb-3">
          <a
            v-for="n in d.photos"
            :key="n"
            :href="`/api/deliveries/${d.number}/photos/${n}`"
            target="_blank"
            rel="noopener"
          >
            <img :src="`/api/deliveries/${d.number}/photos/${n}`" :alt="`Photograph ${n} of delivery ${d.number}`" />
          </a>
        </div>
        <KeptPapers :key="d.number" on="delivery" :of="d.number" />
        <LedgerEntry v-for="e in d.entries" :key="e.number" :entry="e" />
        <p v-if="d.entries.length === 0" class="muted">This made no ledger entry.</p>
      </div>
      <div class="bar">
        <BButton variant="primary" :to="`/receiving`">Next delivery</BButton>
        <BButton
          v-if="d.kind === 'return'"
          variant="outline-secondary"
          :href="`/api/returns/${d.number}/note`"
          target="_blank"
          >Return note (PDF)</BButton
        >
        <BButton v-if="may('keyInvoice')" variant="outline-secondary" @click="credit">Key the credit note</BButton>
        <BButton v-if="may('sendOrder')" variant="outline-secondary" @click="telling = true"
          >Tell the supplier…</BButton
        >
        <BButton v-if="may('bookReturn')" variant="outline-secondary" @click="returning = true">Return goods…</BButton>
        <BButton
          v-if="may('reverseDelivery', 'undoFree', 'takeBackWork')"
          variant="outline-secondary"
          @click="asking = true"
          >Undo this booking…</BButton
        >
        <BButton variant="outline-secondary" @click="print">Print</BButton>
      </div>
    </template>
  </section>
  <aside class="side" aria-label="Thread of the order">
    <template v-if="d">
      <SideTabs v-model="side" :tabs="tabs" label="Evidence" />
      <OrderThread v-if="side === 'thread'" :events="d.thread" :title="`Thread of ${d.order}`" />
      <HistoryList v-else subject="delivery" :number="d.number" />
    </template>
  </aside>
</template>
