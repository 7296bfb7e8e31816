<script setup lang="ts">
// Money that was agreed or paid ahead and is not used up, beside what the ledger says of it.
import { computed, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { aheadQuery } from '@/api/queries'
import type { MoneyAhead } from '@/api/client'
import NoticeBar from '@/parts/NoticeBar.vue'
import TickBox from '@/parts/TickBox.vue'
import VerdictMark from '@/parts/VerdictMark.vue'
import { useArrive } from '@/parts/arrive'
import { useJob } from '@/parts/job'
import { useKeys } from '@/parts/keys'
import { warn } from '@/parts/notice'
import { daysBetween, show, showDay } from '@/parts/numbers'
import { placeOf } from '@/parts/places'
import { may, today } from '@/parts/session'
import { releaseAndRun, runMade } from './alone'

const { data, isPending: loading } = useQuery(aheadQuery)
const rows = computed(() => data.value?.rows ?? [])
const kinds = computed(() => data.value?.kinds ?? [])
const days = (since: string) => {
  const n = daysBetween(since, today.value)
  return n === 1 ? '1 day' : `${n} days`
}
const { busy, send } = useJob()
const arrive = useArrive()
const chosen = ref<number[]>([])
const left = ref<Record<number, string>>({})
const payable = computed(() => rows.value.flatMap((m) => m.invoices).filter((i) => i.payable))
const toggle = (n: number) =>
  (chosen.value = chosen.value.includes(n) ? chosen.value.filter((c) => c !== n) : [...chosen.value, n])
const all = () =>
  (chosen.value = chosen.value.length === payable.value.length ? [] : payable.value.map((i) => i.number))
/** Makes a run of just the chosen, due or not, and releases first what is not released. */
async function pay() {
  const its = payable.value.filter((i) => chosen.value.includes(i.number))
  if (!its.length) {
    warn('Choose what is to be paid.')
    return
  }
  const made = await send(() =>
    releaseAndRun(its.map((i) => ({ number: i.number, due: today.value, released: !!i.released }))),
  )
  left.value = Object.fromEntries(made?.left.map((l) => [l.invoice, l.why]) ?? [])
  chosen.value = []
  if (made?.run) await arrive(placeOf.run(made.run.number), runMade(made.run))
}
useKeys(() =>
  may('makeRun') && payable.value.length
    ? [
        { key: 'a', label: 'choose all that can be paid', run: all },
        { key: 'm', label: 'make a run of the chosen', run: () => void pay() },
      ]
    : [],
)
/** What is to happen next with it. */
function next(m: MoneyAhead): { verdict: 'outside' | 'waiting' | 'within'; text: string } {
  const n = Number
  if (m.stuck) return { verdict: 'outside', text: 'the order has ended: credit and refund' }
  if (n(m.usable) > 0) return { verdict: 'within', text: 'to be used by the invoice' }
  if (Math.max(n(m.invoiced), ...m.invoices.filter((i) => i.request).map((i) => n(i.total))) > n(m.paid))
    return { verdict: 'waiting', text: 'to be paid' }
  if (m.invoices.length) return { verdict: 'waiting', text: 'invoice not verified yet' }
  return { verdict: 'waiting', text: 'waits for its invoice' }
}
</script>

<template>
  <section class="sheet" aria-label="Money ahead">
    <NoticeBar />
    <header>
      <h1>Money ahead</h1>
      <p class="muted mb-0 mt-1">
        What is agreed, invoiced and paid before the goods, with tax, and what of it no invoice has used yet. In the
        books it stands without the tax that is claimed.
      </p>
    </header>
    <div class="body" tabindex="0">
      <div v-if="!loading && rows.length === 0" class="nothing">
        <h1>No money is ahead</h1>
        <p>Agree it on an order with <kbd>M</kbd>; it stands here until invoices have used it up.</p>
      </div>
      <table v-else class="grid">
        <thead>
          <tr>
            <th v-if="may('makeRun') && payable.length"><span class="visually-hidden">Choose</span></th>
            <th>Order</th>
            <th class="num">Agreed</th>
            <th class="num">Invoiced</th>
            <th class="num">Paid</th>
            <th class="num">Used</th>
            <th class="num">Can be used</th>
            <th>Goods expected</th>
            <th class="num">In the books</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(m, i) in rows" :key="i">
            <td v-if="may('makeRun') && payable.length">
              <template v-for="n in m.invoices" :key="n.number">
                <TickBox
                  v-if="n.payable"
                  :model-value="chosen.includes(n.number)"
                  :aria-label="`Pay ${n.supplierNumber} of ${m.supplier}`"
                  @update:model-value="toggle(n.number)"
                />
              </template>
            </td>
            <td>
              <b>{{ m.supplier }}</b>
              <RouterLink :to="placeOf.order(m.order)" class="mono ms-1">{{ m.order }}</RouterLink>
              <template v-for="n in m.invoices" :key="n.number"
                ><RouterLink :to="placeOf.invoice(n.number)" class="mono ms-2">{{
                  n.supplierNumber
                }}</RouterLink></template
              >
              <span class="d-block muted"
                >{{ m.kind }}<template v-if="m.event">, {{ m.event }}</template
                ><template v-if="m.expectedOn">, {{ showDay(m.expectedOn, today) }}</template></span
              >
              <VerdictMark :verdict="next(m).verdict" :text="next(m).text" />
              <template v-for="n in m.invoices" :key="n.number">
                <div v-if="left[n.number]" class="small text-danger" role="alert">{{ left[n.number] }}</div>
              </template>
            </td>
            <td class="num nowrap">
              {{ show(m.agreed) }} {{ m.currency }}<span v-if="m.share" class="d-block muted">{{ m.share }}</span>
            </td>
            <td class="num">
              {{ show(m.invoiced)
              }}<span v-if="m.invoices.some((n) => n.request)" class="d-block muted">our request</span>
            </td>
            <td class="num">{{ show(m.paid) }}</td>
            <td class="num">{{ show(m.used) }}</td>
            <td class="num">
              <b>{{ show(m.usable) }}</b>
            </td>
            <td class="nowrap">
              {{ m.stuck ? 'none' : showDay(m.wantedOn, today)
              }}<span v-if="m.since" class="d-block muted">{{ days(m.since) }} ahead</span>
            </td>
            <td class="num nowrap">{{ show(m.left) }} {{ data?.currency }}</td>
          </tr>
        </tbody>
      </table>
      <template v-if="kinds.length">
        <h2 class="mt-3 mb-1">By kind, beside the ledger</h2>
        <table class="grid" style="max-width: 520px">
          <thead>
            <tr>
              <th>Kind</th>
              <th class="num">Left in this list, {{ data?.currency }}</th>
              <th class="num">In the ledger</th>
              <th><span class="visually-hidden">Agrees</span></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="k in kinds" :key="k.kind">
              <td>{{ k.kind }}</td>
              <td class="num">{{ show(k.left) }}</td>
              <td class="num">{{ show(k.booked) }}</td>
              <td>
                <VerdictMark
                  :verdict="k.left === k.booked ? 'agrees' : 'outside'"
                  :text="k.left === k.booked ? 'agrees' : 'differs'"
                />
              </td>
            </tr>
          </tbody>
        </table>
      </template>
    </div>
    <div v-if="may('makeRun') && payable.length" class="bar">
      <BButton variant="primary" :disabled="busy || !chosen.length" @click="pay">Make a run of the chosen</BButton>
    </div>
  </section>
</template>
