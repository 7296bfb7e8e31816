<script setup lang="ts">
import { computed } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import type { Entry } from '@/api/client'
import { companyQuery } from '@/api/queries'
import { show, showDay } from './numbers'
import { today } from './session'
import { placeOf } from '@/parts/places'

defineProps<{ entry: Entry }>()
const { data: frame } = useQuery(companyQuery)
const chart = computed(() => frame.value?.accounts ?? [])
/** The company numbers its accounts. */
const numbered = computed(() => chart.value.some((a) => a.number))
/** What the company calls the account of a line: its own, or that of its role. */
function named(l: Entry['lines'][number]) {
  const its = chart.value.filter((a) => a.role === l.role && a.number)
  return its.find((a) => a.detail === l.detail) ?? its.find((a) => !a.detail)
}
function place(e: Entry): string {
  if (e.document === 'delivery') return placeOf.delivery(e.documentNumber)
  if (e.document === 'payment') return e.documentNumber ? placeOf.run(e.documentNumber) : '/payments/bank' // of a statement
  if (e.document === 'accrual') return `/lookup/month-end?month=${e.postedOn.slice(0, 7)}`
  return e.document === 'order' ? placeOf.order(e.documentNumber) : placeOf.invoice(e.documentNumber)
}
</script>

<template>
  <section class="mb-3">
    <p v-if="entry.number" class="mb-1">
      <b>Entry {{ entry.number }}</b> · {{ showDay(entry.postedOn, today) }} ·
      <RouterLink :to="place(entry)">{{ entry.what }}</RouterLink>
      <span class="muted"> · by {{ entry.by }}</span>
    </p>
    <p v-else class="mb-1 muted">Posted on {{ showDay(entry.postedOn, today) }}</p>
    <table class="grid">
      <thead>
        <tr>
          <th v-if="numbered">No.</th>
          <th>Account</th>
          <th>Detail</th>
          <th v-if="entry.currency !== entry.companyCurrency" class="num">{{ entry.currency }}</th>
          <th class="num">Debit {{ entry.companyCurrency }}</th>
          <th class="num">Credit {{ entry.companyCurrency }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(l, i) in entry.lines" :key="i">
          <td v-if="numbered" class="mono">
            <template v-if="named(l)">{{ named(l)?.number }}</template><RouterLink
              v-else
              to="/setup/books"
              class="small"
              >none yet</RouterLink
            >
          </td>
          <td>{{ named(l)?.name || l.account }}</td>
          <td class="mono">{{ l.detail }}</td>
          <td v-if="entry.currency !== entry.companyCurrency" class="num">{{ show(l.foreign) }}</td>
          <td class="num">{{ show(l.debit) }}</td>
          <td class="num">{{ show(l.credit) }}</td>
        </tr>
      </tbody>
    </table>
  </section>
</template>
