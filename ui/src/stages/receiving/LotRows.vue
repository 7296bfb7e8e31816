<script setup lang="ts">
// The lots of one counted line: number, quantity and best-before day. One lot without a quantity is all that came.
import type { Lot } from '@/api/client'
import NumberField from '@/parts/NumberField.vue'
import TextField from '@/parts/TextField.vue'
import { blankLot } from './count'

const props = defineProps<{ no: number; name: string; error?: string | undefined; disabled?: boolean }>()
const lots = defineModel<Lot[]>({ required: true })
const add = () => (lots.value = [...lots.value, blankLot()])
const put = (at: number, part: Partial<Lot>) =>
  (lots.value = lots.value.map((l, i) => (i === at ? { ...l, ...part } : l)))
const leaveOut = (at: number) => (lots.value = lots.value.filter((_, i) => i !== at))
</script>

<template>
  <div class="lots">
    <div v-for="(l, i) in lots" :key="i" class="d-flex gap-2 align-items-start">
      <span class="muted pt-1">Lot</span>
      <TextField
        :id="`lot-${props.no}-${i}`"
        :model-value="l.lot"
        class="mono"
        autocomplete="off"
        :aria-label="`${name}, lot number ${i + 1}`"
        :state="error ? false : undefined"
        :aria-describedby="`lots-${props.no}-said`"
        :disabled="disabled"
        style="width: 130px"
        @update:model-value="(lot) => put(i, { lot })"
      />
      <NumberField
        :id="`lot-quantity-${props.no}-${i}`"
        :model-value="l.quantity"
        :label="`${name}, quantity of lot ${i + 1}`"
        :placeholder="lots.length === 1 ? 'all' : ''"
        :disabled="disabled"
        style="width: 96px"
        @update:model-value="(quantity) => put(i, { quantity })"
      />
      <label :for="`lot-day-${props.no}-${i}`" class="muted pt-1">best before</label>
      <TextField
        :id="`lot-day-${props.no}-${i}`"
        :model-value="l.bestBefore"
        type="date"
        :disabled="disabled"
        @update:model-value="(bestBefore) => put(i, { bestBefore })"
      />
      <button type="button" class="linkish pt-1" :aria-label="`Leave out lot ${i + 1} of ${name}`" @click="leaveOut(i)">
        Leave out
      </button>
    </div>
    <button v-if="!disabled" type="button" class="linkish" @click="add">
      {{ lots.length ? 'Another lot' : 'Enter its lots' }}
    </button>
    <div :id="`lots-${props.no}-said`" class="small text-danger">{{ error }}</div>
  </div>
</template>
