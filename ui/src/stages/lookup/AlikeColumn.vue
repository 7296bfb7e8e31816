<script setup lang="ts">
// One of several invoices that stand side by side: its figures, and its paper.
import { computed } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap, type InvoiceSheet } from '@/api/client'
import PaperFile from '@/parts/PaperFile.vue'
import PaperPage from '@/parts/PaperPage.vue'
import { show, showDay, showInstant } from '@/parts/numbers'
import { placeOf } from '@/parts/places'
import { today } from '@/parts/session'
import { stateWords } from '../invoices/slips'

const props = defineProps<{ number: number; why: string; first: InvoiceSheet | undefined }>()
const { data: inv } = useQuery({
  queryKey: ['invoice', props.number],
  queryFn: () => unwrap(api.GET('/api/invoices/{number}', { params: { path: { number: props.number } } })),
})
const facts = computed(() => {
  const i = inv.value
  const f = props.first
  if (!i) return []
  const row = (name: string, of: (i: InvoiceSheet) => string) => ({
    name,
    text: of(i),
    differs: !!f && of(i) !== of(f),
  })
  return [
    row('Supplier', (x) => x.supplierName),
    row('Number', (x) => x.supplierNumber),
    row('Date', (x) => showDay(x.date, today.value)),
    row('Total', (x) => `${show(x.stated)} ${x.currency}`),
    row('Orders', (x) => x.orders.join(', ') || x.orderStated || 'none'),
    row('Account', (x) => x.iban || 'none'),
  ]
})
</script>

<template>
  <section v-if="inv" :aria-label="`Invoice ${number}`">
    <h2 class="mb-1">
      {{ why }}
      <RouterLink :to="placeOf.invoice(number)" class="mono ms-1">{{ number }}</RouterLink>
    </h2>
    <p class="muted small mb-1">
      {{ stateWords[inv.state] ?? inv.state }} · came {{ showInstant(inv.capturedAt, today) }}, {{ inv.capturedBy }}
    </p>
    <table class="plain mb-2">
      <tbody>
        <tr v-for="f in facts" :key="f.name">
          <th scope="row" class="fw-normal muted pe-3">{{ f.name }}</th>
          <td :class="{ 'outside-text': f.differs }">{{ f.text }}</td>
        </tr>
      </tbody>
    </table>
    <PaperPage v-if="inv.paper && inv.source !== 'keyed'" :invoice="number" :lit="[]" />
    <PaperFile
      v-if="inv.paper"
      :url="`/api/invoices/${number}/paper`"
      :name="inv.supplierNumber"
      :kind="inv.paperKind ?? ''"
    />
    <p v-else class="muted">It was keyed by hand; there is no file of it.</p>
  </section>
</template>
