<script setup lang="ts">
// What is here of a supplier or an item and waits for an invoice, by order and delivery note, to be picked from; and the
// orders of the supplier of which nothing came yet.
import { computed, ref, watch } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap, type OpenReceipt } from '@/api/client'
import MoreRows from '@/parts/MoreRows.vue'
import { show, showDay, sums } from '@/parts/numbers'
import { today } from '@/parts/session'

const props = defineProps<{ supplier: string; item: string }>()
const emit = defineEmits<{ take: [order: number]; none: []; receipts: [rows: OpenReceipt[]] }>()
const { data: lines } = useQuery({
  queryKey: ['lines', 'of', computed(() => props.supplier)],
  queryFn: () => unwrap(api.GET('/api/lines', { params: { query: { supplier: props.supplier } } })),
  enabled: computed(() => !!props.supplier),
})
const { data: here } = useQuery({
  queryKey: ['lines', 'received', computed(() => [props.supplier, props.item])],
  queryFn: () => unwrap(api.GET('/api/open-receipts', { params: { query: { ...props } } })),
})
const rows = computed(() => here.value?.rows ?? [])
/** Open orders, of which nothing that waits for an invoice is here. */
const toCome = computed(() => {
  const open = (lines.value?.rows ?? []).filter((l) => !rows.value.some((r) => r.order === l.order))
  return [...new Set(open.map((l) => l.order))]
    .map((number) => ({ number, lines: open.filter((l) => l.order === number) }))
    .sort((a, b) => b.number - a.number)
})
const known = computed(() => !!here.value && (!props.supplier || !!lines.value))
watch(known, (k) => k && props.supplier && !rows.value.length && !toCome.value.length && emit('none'), {
  immediate: true,
})

const keyOf = (r: OpenReceipt) => `${r.order}/${r.line}/${r.delivery}`
const marked = ref<string[]>([])
const picked = computed(() => rows.value.filter((r) => marked.value.includes(keyOf(r))))
/** An invoice is of one supplier. */
const ofAnother = (r: OpenReceipt) => !!picked.value[0] && picked.value[0].supplier !== r.supplier
/** The rows of one order, or of one note of it. */
const group = (r: OpenReceipt, byNote: boolean) =>
  rows.value.filter((o) => o.order === r.order && (!byNote || o.delivery === r.delivery))
function mark(of: OpenReceipt[], on: boolean) {
  const keys = of.map(keyOf)
  marked.value = [...marked.value.filter((k) => !keys.includes(k)), ...(on ? keys : [])]
}
const first = (i: number, byNote: boolean) => {
  const [r, before] = [rows.value[i]!, rows.value[i - 1]]
  return r.order !== before?.order || (byNote && r.delivery !== before.delivery)
}
</script>

<template>
  <template v-if="rows.length">
    <table class="grid mb-2">
      <thead>
        <tr>
          <th>Order</th>
          <th>Delivery note</th>
          <th>Came</th>
          <th class="named">Received and not invoiced</th>
          <th class="num">Quantity</th>
          <th class="num">Net</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(r, i) in rows" :key="keyOf(r)">
          <td class="mono nowrap">
            <button v-if="first(i, false)" type="button" class="linkish" @click="emit('take', r.order)">
              Take {{ r.order }}
            </button>
            <div v-if="first(i, false) && !supplier" class="small muted">{{ r.supplierName }}</div>
          </td>
          <td class="nowrap">
            <BFormCheckbox
              v-if="first(i, true)"
              :model-value="group(r, true).every((o) => marked.includes(keyOf(o)))"
              :disabled="ofAnother(r)"
              class="mono mb-0"
              @update:model-value="(on) => mark(group(r, true), !!on)"
              >{{ r.note }}</BFormCheckbox
            >
          </td>
          <td class="nowrap">{{ first(i, true) ? showDay(r.day, today) : '' }}</td>
          <td>
            <BFormCheckbox
              :model-value="marked.includes(keyOf(r))"
              :disabled="ofAnother(r)"
              class="mb-0"
              @update:model-value="(on) => mark([r], !!on)"
              >{{ r.description }}</BFormCheckbox
            >
          </td>
          <td class="num">{{ show(r.quantity) }} {{ r.unitName }}</td>
          <td class="num">{{ show(r.net) }}</td>
        </tr>
      </tbody>
    </table>
    <div class="d-flex gap-3 align-items-center mb-3">
      <BButton size="sm" variant="outline-secondary" :disabled="!picked.length" @click="emit('receipts', picked)"
        >Take what is marked</BButton
      >
      <span class="muted">{{
        picked.length ? sums(picked.map((r) => ({ amount: r.net, currency: r.currency }))) + ' without tax' : ''
      }}</span>
    </div>
    <p v-if="here?.more" class="small muted">There are more orders. Type the supplier, or the number of the order.</p>
  </template>
  <p v-else-if="here && item" class="muted">
    Nothing of this item is received and not invoiced. Enter the number of the order that is meant.
  </p>
  <table v-if="toCome.length" class="grid mb-2">
    <thead>
      <tr>
        <th>Order</th>
        <th>Issued</th>
        <th class="named">Nothing of it is here</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="o in toCome" :key="o.number">
        <td class="mono nowrap">
          <button type="button" class="linkish" @click="emit('take', o.number)">Take {{ o.number }}</button>
        </td>
        <td class="nowrap">{{ showDay(o.lines[0]!.issuedOn, today) }}</td>
        <td>{{ o.lines.map((l) => l.description).join(', ') }}</td>
      </tr>
    </tbody>
  </table>
  <p v-if="known && supplier && !rows.length && !toCome.length" class="muted">
    This supplier has no order that is open. Enter the number of the order that is meant, or charge it to a budget.
  </p>
  <button v-if="supplier" type="button" class="linkish mb-2" @click="emit('none')">
    Without an order: charge it to a budget
  </button>
  <MoreRows :more="lines?.more" way="Enter the number of the order instead." />
</template>
