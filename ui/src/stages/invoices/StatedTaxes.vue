<script setup lang="ts">
// The tax that a supplier states, rate by rate, over the computed one.
import NumberField from '@/parts/NumberField.vue'
import type { DraftInvoice } from './entry'

defineProps<{ problem: (field: string) => string | undefined }>()
const taxes = defineModel<DraftInvoice['taxes']>({ required: true })
</script>

<template>
  <div class="mb-2">
    <span class="muted">Tax as the supplier states it: </span>
    <span v-for="(t, i) in taxes" :key="i" class="d-inline-flex gap-1 align-items-center me-3"
      >{{ t.category }} {{ t.rate }} %
      <NumberField
        :id="`stated-tax-${i}`"
        v-model="t.amount"
        :label="`Stated tax ${t.category} ${t.rate} %`"
        :error="problem(`taxes[${i}].amount`)"
        style="width: 100px"
    /></span>
    <button type="button" class="linkish" @click="taxes = []">Compute it instead</button>
  </div>
</template>
