<script setup lang="ts">
// The papers that may go to the supplier with what it is told: those kept with the order, its items and its budgets.
import type { Enclosure } from '@/api/client'
import TickBox from '@/parts/TickBox.vue'
import { size } from '@/parts/numbers'

defineProps<{ papers: Enclosure[]; problem: string | undefined }>()
const chosen = defineModel<number[]>({ required: true })
const whose = (p: Enclosure) => (p.on === 'order' ? 'of the order' : `of the ${p.on} ${p.of}`)
const choose = (number: number, on: boolean) =>
  (chosen.value = on ? [...chosen.value, number] : chosen.value.filter((n) => n !== number))
</script>

<template>
  <fieldset v-if="papers.length" class="mt-2">
    <legend class="fs-6 mb-0 fw-normal">These papers go along</legend>
    <TickBox
      v-for="p in papers"
      :id="`along-${p.number}`"
      :key="p.number"
      :model-value="chosen.includes(p.number)"
      @update:model-value="choose(p.number, $event)"
      >{{ p.name }} <span class="muted">{{ whose(p) }}, {{ size(p.size) }}</span></TickBox
    >
  </fieldset>
  <div class="small text-danger" role="alert">{{ problem }}</div>
</template>
