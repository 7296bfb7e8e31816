<script setup lang="ts">
// A supplier's orders with what is received on them and not yet invoiced: one of them is meant by its invoice.
import { computed, watch } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap } from '@/api/client'
import MoreRows from '@/parts/MoreRows.vue'
import { show, showDay } from '@/parts/numbers'
import { today } from '@/parts/session'

const props = defineProps<{ supplier: string }>()
const emit = defineEmits<{ take: [order: number]; none: [] }>()
const { data } = useQuery({
  queryKey: ['lines', 'of', computed(() => props.supplier)],
  queryFn: () => unwrap(api.GET('/api/lines', { params: { query: { supplier: props.supplier } } })),
})
/** By order, those with something to invoice first. */
const orders = computed(() => {
  const lines = data.value?.rows ?? []
  return [...new Set(lines.map((l) => l.order))]
    .map((number) => {
      const its = lines.filter((l) => l.order === number)
      return { number, issuedOn: its[0]!.issuedOn, lines: its, here: its.filter((l) => Number(l.uninvoiced) > 0) }
    })
    .sort((a, b) => Number(b.here.length > 0) - Number(a.here.length > 0) || b.number - a.number)
})
watch(data, (d) => d && orders.value.length === 0 && emit('none'), { immediate: true })
</script>

<template>
  <p v-if="data && orders.length === 0" class="muted">
    This supplier has no order that is open. Enter the number of the order that is meant, or charge it to a budget.
  </p>
  <table v-else-if="data" class="grid mb-2">
    <thead>
      <tr>
        <th>Order</th>
        <th>Issued</th>
        <th>Received and not invoiced</th>
        <th></th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="o in orders" :key="o.number">
        <td class="mono">{{ o.number }}</td>
        <td class="nowrap">{{ showDay(o.issuedOn, today) }}</td>
        <td>
          <template v-for="(l, i) in o.here" :key="l.line"
            ><template v-if="i">, </template>{{ show(l.uninvoiced) }} {{ l.unitName }} {{ l.description }}</template
          ><span v-if="o.here.length === 0" class="muted"
            >nothing yet; {{ o.lines.map((l) => l.description).join(', ') }} to come</span
          >
        </td>
        <td>
          <button type="button" class="linkish" @click="emit('take', o.number)">Take order {{ o.number }}</button>
        </td>
      </tr>
    </tbody>
  </table>
  <button type="button" class="linkish mb-2" @click="emit('none')">Without an order: charge it to a budget</button>
  <MoreRows :more="data?.more" way="Enter the number of the order instead." />
</template>
