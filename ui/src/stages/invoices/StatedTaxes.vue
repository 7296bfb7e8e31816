<script setup lang="ts">
// The tax that a supplier states, rate by rate, over the computed one (rules §5).
import { nextTick } from 'vue'
import type { Tax } from '@/api/client'
import NumberField from '@/parts/NumberField.vue'
import { enter } from '@/parts/fields'
import { show } from '@/parts/numbers'
import type { DraftInvoice } from './entry'

const props = defineProps<{
  /** What Lagoon makes of the lines and charges, which the fields start from. */
  computed: Tax[]
  problem: (field: string) => string | undefined
}>()
const taxes = defineModel<DraftInvoice['taxes']>({ required: true })

function state() {
  taxes.value = props.computed.map((t) => ({ category: t.category, rate: t.rate, amount: show(t.amount) }))
  void nextTick(() => enter(document.getElementById('stated-tax-0') ?? undefined))
}
</script>

<template>
  <button v-if="!taxes.length && computed.length" type="button" class="linkish" @click="state">
    Key the tax as the supplier states it
  </button>
  <div v-if="taxes.length" class="d-flex flex-wrap gap-3 align-items-center">
    <span class="muted">Tax as the supplier states it</span>
    <span v-for="(t, i) in taxes" :key="i" class="d-inline-flex gap-1 align-items-center"
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
