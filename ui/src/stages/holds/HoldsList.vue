<script setup lang="ts">
// Everything that is held: why, since when, and whose turn it is.
import { computed } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { holdsQuery } from '@/api/queries'
import NoticeBar from '@/parts/NoticeBar.vue'
import VerdictMark from '@/parts/VerdictMark.vue'
import { show, showDay, showInstant, sums } from '@/parts/numbers'
import { today } from '@/parts/session'
import { placeOf } from '@/parts/places'

const { data, isPending } = useQuery(holdsQuery)
interface Row {
  to: string
  supplier: string
  number: string
  amount: string
  currency: string
  why: string
  since: string
  turn: string
  due: string
}
const rows = computed<Row[]>(() => [
  ...[...(data.value?.yours ?? []), ...(data.value?.others ?? [])].map((i) => ({
    to: placeOf.held(i.number),
    supplier: i.supplier,
    number: i.supplierNumber,
    amount: i.total,
    currency: i.currency,
    why: i.summary,
    since: i.since,
    turn: i.turn,
    due: i.due,
  })),
  ...(data.value?.holds ?? []).map((h) => ({
    to: placeOf.held(h.hold.invoice),
    supplier: h.supplier,
    number: h.supplierNumber,
    amount: h.total,
    currency: h.currency,
    why: h.hold.reasonText + (h.hold.note ? `: ${h.hold.note}` : ''),
    since: h.hold.at,
    turn: h.hold.by,
    due: h.due,
  })),
])
</script>

<template>
  <section class="sheet" aria-label="Holds">
    <NoticeBar />
    <header><h1>What is held, why, since when, and whose turn it is</h1></header>
    <div class="body">
      <div v-if="!isPending && rows.length === 0" class="nothing">
        <h1>Nothing is held</h1>
        <p>Invoices with a difference that a person must settle, and payment holds, appear here.</p>
      </div>
      <table v-else class="grid">
        <thead>
          <tr>
            <th>Invoice</th>
            <th class="num">Total</th>
            <th>Why</th>
            <th>Since</th>
            <th>Whose turn</th>
            <th>Due</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in rows" :key="r.to + r.why">
            <td>
              <RouterLink :to="r.to" class="fw-semibold nowrap">{{ r.supplier }}</RouterLink><br /><span
                class="mono muted"
                >{{ r.number }}</span
              >
            </td>
            <td class="num">{{ show(r.amount) }} {{ r.currency }}</td>
            <td class="why"><VerdictMark verdict="outside" :text="r.why" /></td>
            <td class="nowrap">{{ showInstant(r.since, today) }}</td>
            <td>{{ r.turn }}</td>
            <td class="nowrap" :class="{ 'outside-text': r.due < today }">{{ showDay(r.due, today) }}</td>
          </tr>
        </tbody>
        <tfoot>
          <tr>
            <td>{{ rows.length === 1 ? '1 hold' : `${rows.length} holds` }}</td>
            <td class="num">{{ sums(rows) }}</td>
            <td colspan="4"></td>
          </tr>
        </tfoot>
      </table>
    </div>
  </section>
</template>
