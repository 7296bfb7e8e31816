<script setup lang="ts">
// Money that was agreed or paid ahead and is not used up, beside what the ledger says of it.
import { computed } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { aheadQuery } from '@/api/queries'
import type { MoneyAhead } from '@/api/client'
import NoticeBar from '@/parts/NoticeBar.vue'
import VerdictMark from '@/parts/VerdictMark.vue'
import { daysBetween, show, showDay } from '@/parts/numbers'
import { placeOf } from '@/parts/places'
import { today } from '@/parts/session'

const { data, isPending: loading } = useQuery(aheadQuery)
const rows = computed(() => data.value?.rows ?? [])
const kinds = computed(() => data.value?.kinds ?? [])
const days = (since: string) => {
  const n = daysBetween(since, today.value)
  return n === 1 ? '1 day' : `${n} days`
}
/** What is to happen next with it. */
function next(m: MoneyAhead): { verdict: 'outside' | 'waiting' | 'within'; text: string } {
  const n = Number
  if (m.stuck) return { verdict: 'outside', text: 'the order has ended: credit and refund' }
  if (n(m.usable) > 0) return { verdict: 'within', text: 'to be used by the invoice' }
  if (n(m.invoiced) > n(m.paid)) return { verdict: 'waiting', text: 'to be paid' }
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
            </td>
            <td class="num nowrap">
              {{ show(m.agreed) }} {{ m.currency }}<span v-if="m.share" class="d-block muted">{{ m.share }}</span>
            </td>
            <td class="num">{{ show(m.invoiced) }}</td>
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
  </section>
</template>
