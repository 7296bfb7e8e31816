<script setup lang="ts">
// A month's end on one page: what is left to be done, each with its way there; the accrual; what was handed to the general
// ledger; and the closing.
import { computed, ref, watch } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { useRoute, useRouter } from 'vue-router'
import { api, unwrap } from '@/api/client'
import AskReason from '@/parts/AskReason.vue'
import NoticeBar from '@/parts/NoticeBar.vue'
import SmallForm from '@/parts/SmallForm.vue'
import VerdictMark from '@/parts/VerdictMark.vue'
import { useJob } from '@/parts/job'
import { useKeys } from '@/parts/keys'
import { show, showDay, showInstant, showMonth } from '@/parts/numbers'
import { placeOf } from '@/parts/places'
import { may, today } from '@/parts/session'
import AccrualPart from './AccrualPart.vue'
import ListRail from './ListRail.vue'
import ProofRow from './ProofRow.vue'

const route = useRoute()
const router = useRouter()
const month = computed(() => String(route.query['month'] ?? ''))
const { data: m, error } = useQuery({
  queryKey: ['month-end', month],
  queryFn: () => unwrap(api.GET('/api/month-end', { params: { query: month.value ? { month: month.value } : {} } })),
})
const { send, busy, at } = useJob({ within: '.ask', says: ['reason'] })
const panel = ref<'' | 'accrue' | 'close' | 'undo'>('')
const undoing = ref({ what: '', number: 0 })
watch(month, () => (panel.value = ''))

function beside(step: number): string {
  const [y = 0, n = 0] = (m.value?.month ?? today.value.slice(0, 7)).split('-').map(Number)
  const at = new Date(Date.UTC(y, n - 1 + step, 1))
  return at.toISOString().slice(0, 7)
}
const go = (step: number) => void router.replace({ query: { month: beside(step) } })

interface Words {
  name: string
  done: string
  left: (n: number) => string
  to: string
  /** It may stand as it is: nothing is wrong with the month because of it. */
  may?: boolean
}
const many = (n: number, one: string, more: string) => (n === 1 ? `1 ${one}` : `${n} ${more}`)
const words = computed<Record<string, Words>>(() => {
  const at = m.value?.last ?? ''
  return {
    invoices: {
      name: 'Invoices verified',
      done: 'every invoice of the month is',
      left: (n) => `${many(n, 'invoice is', 'invoices are')} not`,
      to: placeOf.list('invoices', { show: `unverified;until:${at}` }),
    },
    receipts: {
      name: 'Received and invoiced',
      done: 'nothing hangs between goods and invoices',
      left: (n) => `${many(n, 'line is', 'lines are')} received and not invoiced; the account says so by itself`,
      to: placeOf.list('grni', { show: `at:${at}` }),
      may: true,
    },
    deferrals: {
      name: 'Spread costs posted',
      done: 'none is due',
      left: (n) => `${many(n, 'part is', 'parts are')} due`,
      to: '/setup/books',
    },
    runs: {
      name: 'Payment runs answered',
      done: 'the bank answered all',
      left: (n) => `the bank has not answered ${many(n, 'run', 'runs')}`,
      to: '/payments',
    },
    bank: {
      name: 'Bank reconciled',
      done: 'every line of its statements is placed',
      left: (n) => `${many(n, 'line is', 'lines are')} placed by nobody`,
      to: '/payments/bank',
    },
    accrual: {
      name: 'Accrued',
      done: m.value?.accruals.some((a) => !a.ended)
        ? 'posted, and taken back on the first'
        : 'nothing is to be accrued',
      left: (n) =>
        `${many(n, 'order line', 'order lines')} that goods book nothing on came and ${n === 1 ? 'is' : 'are'} not invoiced`,
      to: '',
    },
    export: {
      name: 'Handed to the general ledger',
      done: 'all that is posted',
      left: (n) => `${many(n, 'entry is', 'entries are')} not`,
      to: '',
    },
  }
})
const left = computed(() => m.value?.steps.filter((s) => s.open > 0 && !words.value[s.key]?.may).length ?? 0)
const mayAccrue = computed(
  () => may('accrue') && m.value?.over && !m.value.closed && !m.value.accruals.some((a) => !a.ended),
)
const mayExport = computed(() => may('exportLedger') && (m.value?.left.entries ?? 0) > 0)
const mayClose = computed(
  () => may('closePeriod') && m.value && m.value.next === m.value.month && m.value.month < today.value.slice(0, 7),
)
const handOver = () =>
  send(() => unwrap(api.POST('/api/ledger-exports', { body: { month: m.value?.month ?? '' } })), {
    done: (x) =>
      `Batch ${x.number}: ${many(x.entries, 'entry', 'entries')}, ${show(x.debit)} ${m.value?.currency}. Take its file along below.`,
  })
const close = () =>
  send(() => unwrap(api.POST('/api/periods', { body: { month: m.value?.month ?? '' } })), {
    done: `${showMonth(m.value?.month ?? '')} is closed: nothing is booked into it any more.`,
    after: () => (panel.value = ''),
  })
const undo = (reason: string) => {
  const { what, number } = undoing.value
  const params = { path: { number } }
  return send<unknown>(
    () =>
      what === 'accrual'
        ? unwrap(api.POST('/api/accruals/{number}/undo', { params, body: { reason } }))
        : unwrap(api.POST('/api/ledger-exports/{number}/undo', { params, body: { reason } })),
    {
      done: what === 'accrual' ? 'The accrual is taken back.' : `Batch ${number} is taken back.`,
      after: () => (panel.value = ''),
    },
  )
}
function takeBack(what: string, number: number) {
  undoing.value = { what, number }
  panel.value = 'undo'
}
useKeys(() => [
  { key: 'ArrowLeft', label: 'month before', run: () => go(-1) },
  { key: 'ArrowRight', label: 'month after', run: () => go(1) },
  ...(mayAccrue.value ? [{ key: 'a', label: 'accrue', run: () => (panel.value = 'accrue') }] : []),
  ...(mayExport.value ? [{ key: 'e', label: 'hand over', run: () => void handOver() }] : []),
  ...(mayClose.value ? [{ key: 'c', label: 'close', run: () => (panel.value = 'close') }] : []),
])
</script>

<template>
  <main class="desk looks">
    <ListRail />
    <section class="sheet" aria-label="Month’s end">
      <NoticeBar />
      <div v-if="error" class="nothing" role="alert">{{ error.message }}</div>
      <template v-else-if="m">
        <header>
          <div class="headline">
            <h1>The end of {{ showMonth(m.month) }}</h1>
            <span class="muted">{{
              m.closed
                ? 'closed'
                : !m.over
                  ? `ends on ${showDay(m.last, today)}`
                  : left
                    ? `${many(left, 'thing is', 'things are')} left`
                    : 'nothing is left; it can be closed'
            }}</span>
            <span class="ms-auto">
              <button type="button" class="linkish me-3" @click="go(-1)">‹ {{ showMonth(beside(-1)) }}</button>
              <button type="button" class="linkish" @click="go(1)">{{ showMonth(beside(1)) }} ›</button>
            </span>
          </div>
        </header>
        <div class="body" tabindex="0">
          <table class="grid steps">
            <thead>
              <tr>
                <th>Done</th>
                <th>What</th>
                <th>How it stands</th>
                <th class="num">{{ m.currency }}</th>
                <th><span class="visually-hidden">There</span></th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="s in m.steps" :key="s.key">
                <td>
                  <VerdictMark
                    :verdict="s.open === 0 ? 'agrees' : words[s.key]?.may ? 'within' : 'outside'"
                    :text="s.open === 0 ? 'done' : words[s.key]?.may ? 'stands' : 'open'"
                  />
                </td>
                <td>
                  <b>{{ words[s.key]?.name }}</b>
                </td>
                <td>{{ s.open === 0 ? words[s.key]?.done : words[s.key]?.left(s.open) }}</td>
                <td class="num">{{ s.amount ? show(s.amount) : '' }}</td>
                <td>
                  <RouterLink v-if="words[s.key]?.to && s.open" :to="words[s.key]!.to">look</RouterLink>
                  <button
                    v-else-if="s.key === 'accrual' && s.open && mayAccrue"
                    type="button"
                    class="linkish d-block"
                    @click="panel = 'accrue'"
                  >
                    accrue
                  </button>
                  <button
                    v-else-if="s.key === 'export' && mayExport"
                    type="button"
                    class="linkish d-block"
                    :disabled="busy"
                    @click="handOver"
                  >
                    hand over
                  </button>
                </td>
              </tr>
              <ProofRow v-if="may('proveBooks')" />
            </tbody>
          </table>
          <AccrualPart v-if="panel === 'accrue'" :end="m" @close="panel = ''" />
          <AskReason
            v-if="panel === 'undo'"
            id="month-undo"
            class="mt-3"
            :title="undoing.what === 'accrual' ? 'Take the accrual back.' : `Take batch ${undoing.number} back.`"
            :books="
              undoing.what === 'accrual'
                ? 'Both of its entries are undone, on their days.'
                : 'Its entries are handed over anew with the next batch; take it out of the general ledger as well.'
            "
            label="Why"
            :action="undoing.what === 'accrual' ? 'Take it back' : 'Take the batch back'"
            :error="at('reason')"
            @done="undo"
            @cancel="panel = ''"
          />
          <SmallForm
            v-if="panel === 'close'"
            class="mt-3"
            :action="`Close ${showMonth(m.month)}`"
            :disabled="busy"
            @done="close"
            @cancel="panel = ''"
          >
            <p class="mb-2">
              <b>Close {{ showMonth(m.month) }}.</b>
              {{ left ? `${many(left, 'thing is', 'things are')} left above. ` : '' }}Nothing is booked into it any
              more; it is opened again only with a reason and a second person.
            </p>
          </SmallForm>
          <template v-for="a in m.accruals" :key="a.number">
            <h2 class="mt-4">
              Accrual {{ a.number
              }}<span v-if="a.ended" class="muted fw-normal">, taken back by {{ a.endedBy }}: {{ a.ended }}</span>
            </h2>
            <p class="muted mb-1">
              Posted on {{ showDay(a.postedOn, today) }} (<RouterLink :to="placeOf.entry(a.entry)"
                >entry {{ a.entry }}</RouterLink
              >), taken back on {{ showDay(a.takenBackOn, today) }} (<RouterLink :to="placeOf.entry(a.reversal)"
                >entry {{ a.reversal }}</RouterLink
              >), by {{ a.by }}, {{ showInstant(a.at, today) }}.
              <button
                v-if="!a.ended && !m.closed && may('undoAccrual')"
                type="button"
                class="linkish"
                @click="takeBack('accrual', a.number)"
              >
                Take it back…
              </button>
            </p>
            <table class="grid">
              <tbody>
                <tr v-for="(l, i) in a.lines" :key="i">
                  <td class="mono">
                    <RouterLink v-if="l.order" :to="placeOf.order(l.order)">{{ l.order }}/{{ l.line }}</RouterLink>
                  </td>
                  <td>{{ l.supplier }}</td>
                  <td>{{ l.text }}</td>
                  <td class="mono">{{ l.budget }}</td>
                  <td class="num">{{ Number(l.quantity) ? `${show(l.quantity)} ${l.unit}` : '' }}</td>
                  <td class="num">{{ show(l.amount) }}</td>
                </tr>
                <tr class="total">
                  <td colspan="5"><b>Together, without tax</b></td>
                  <td class="num">
                    <b>{{ show(a.total) }}</b>
                  </td>
                </tr>
              </tbody>
            </table>
          </template>
          <template v-if="m.exports.length">
            <h2 class="mt-4">Handed to the general ledger</h2>
            <table class="grid">
              <thead>
                <tr>
                  <th>Batch</th>
                  <th class="num">Entries</th>
                  <th class="num">Lines</th>
                  <th class="num">Debits, and credits</th>
                  <th>By</th>
                  <th>File</th>
                  <th><span class="visually-hidden">Undo</span></th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="x in m.exports" :key="x.number">
                  <td class="mono">{{ x.number }}</td>
                  <td class="num">{{ x.entries }}</td>
                  <td class="num">{{ x.lines }}</td>
                  <td class="num">{{ show(x.debit) }}</td>
                  <td>{{ x.by }}, {{ showInstant(x.at, today) }}</td>
                  <td>
                    <a :href="`/api/ledger-exports/${x.number}/file?as=csv`" download>CSV</a>
                    <a class="ms-2" :href="`/api/ledger-exports/${x.number}/file?as=xlsx`" download>XLSX</a>
                  </td>
                  <td>
                    <span v-if="x.ended" class="muted">taken back: {{ x.ended }}</span>
                    <button
                      v-else-if="may('undoLedgerExport')"
                      type="button"
                      class="linkish d-block"
                      @click="takeBack('batch', x.number)"
                    >
                      take back…
                    </button>
                  </td>
                </tr>
              </tbody>
            </table>
          </template>
        </div>
        <footer class="bar">
          <BButton v-if="mayClose && panel === ''" variant="primary" @click="panel = 'close'"
            >Close {{ showMonth(m.month) }}…</BButton
          >
          <BButton v-if="mayAccrue && panel === ''" variant="outline-secondary" @click="panel = 'accrue'"
            >Accrue…</BButton
          >
          <span class="ms-auto small"
            >To be taken along:
            <a :href="`/api/month-end/${m.month}/pack?as=pdf`" download>the month’s pack, PDF</a>
            <a class="ms-2" :href="`/api/month-end/${m.month}/pack?as=xlsx`" download>XLSX</a></span
          >
        </footer>
      </template>
    </section>
  </main>
</template>
