<script setup lang="ts">
// What stands beside a list: the story of the order, or the paper of the invoice, that a row is about.
import { computed, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap } from '@/api/client'
import OrderThread from '@/parts/OrderThread.vue'
import { placeOf } from '@/parts/places'
import InvoiceEvidence from '../invoices/InvoiceEvidence.vue'

const props = defineProps<{ kind: string; number: number }>()
const side = ref<'paper' | 'thread' | 'history'>('paper')
const of = (kind: string) => computed(() => props.kind === kind && props.number > 0)
const { data: order, error: noOrder } = useQuery({
  queryKey: ['order', computed(() => props.number)],
  queryFn: () => unwrap(api.GET('/api/orders/{number}', { params: { path: { number: props.number } } })),
  enabled: of('order'),
})
const { data: invoice, error: noInvoice } = useQuery({
  queryKey: ['invoice', computed(() => props.number)],
  queryFn: () => unwrap(api.GET('/api/invoices/{number}', { params: { path: { number: props.number } } })),
  enabled: of('invoice'),
})
</script>

<template>
  <InvoiceEvidence v-if="kind === 'invoice' && invoice" v-model="side" :inv="invoice" what="Invoice" :lit="[]" />
  <aside v-else class="side" aria-label="Beside the row">
    <template v-if="kind === 'order' && order">
      <p>
        <RouterLink :to="placeOf.order(number)">{{ order.supplier.name }} {{ number }}</RouterLink>
      </p>
      <OrderThread :events="order.thread" :title="`Thread of ${number}`" />
    </template>
    <p v-else-if="noOrder || noInvoice" role="alert">{{ (noOrder ?? noInvoice)?.message }}</p>
    <p v-else class="muted">Go to a row with <kbd>↓</kbd>: its paper or its story stands here.</p>
  </aside>
</template>
