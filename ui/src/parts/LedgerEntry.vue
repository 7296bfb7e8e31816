<script setup lang="ts">
import type { Entry } from '@/api/client'
import { show, showDay } from './numbers'
import { today } from './session'
import { placeOf } from '@/parts/places'

defineProps<{ entry: Entry }>()
function place(e: Entry): string {
  if (e.document === 'delivery') return placeOf.delivery(e.documentNumber)
  if (e.document === 'payment') return placeOf.run(e.documentNumber)
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
          <th>Account</th>
          <th>Detail</th>
          <th v-if="entry.currency !== entry.companyCurrency" class="num">{{ entry.currency }}</th>
          <th class="num">Debit {{ entry.companyCurrency }}</th>
          <th class="num">Credit {{ entry.companyCurrency }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(l, i) in entry.lines" :key="i">
          <td>{{ l.account }}</td>
          <td class="mono">{{ l.detail }}</td>
          <td v-if="entry.currency !== entry.companyCurrency" class="num">{{ show(l.foreign) }}</td>
          <td class="num">{{ show(l.debit) }}</td>
          <td class="num">{{ show(l.credit) }}</td>
        </tr>
      </tbody>
    </table>
  </section>
</template>
