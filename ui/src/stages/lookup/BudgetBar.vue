<script setup lang="ts">
// One budget on one scale: a tick at what is planned, bars for what is ordered, received and invoiced; what is beyond the plan
// turns coral.
import { computed } from 'vue'
import { show } from '@/parts/numbers'

const props = defineProps<{
  budget: { planned?: string; ordered: string; received: string; invoiced: string; taken: string }
}>()
const width = 150
const n = (text: string | undefined) => Math.max(0, Number(text ?? 0) || 0) // for drawing only
const g = computed(() => {
  const b = props.budget
  const planned = n(b.planned)
  const scale = width / (Math.max(planned, n(b.ordered), n(b.taken), n(b.invoiced)) * 1.04 || 1)
  const x = (v: number) => Math.round(v * scale * 10) / 10
  const bar = (text: string) => ({
    in: x(b.planned === undefined ? n(text) : Math.min(n(text), planned)),
    all: x(n(text)),
  })
  return { planned: x(planned), ordered: bar(b.ordered), received: bar(b.received), invoiced: bar(b.invoiced) }
})
const text = computed(() => {
  const b = props.budget
  const plan = b.planned === undefined ? 'nothing planned' : `planned ${show(b.planned)}`
  return `${plan}, ordered ${show(b.ordered)}, received ${show(b.received)}, invoiced ${show(b.invoiced)}`
})
</script>

<template>
  <svg :width="width" height="24" role="img" :aria-label="text">
    <title>{{ text }}</title>
    <rect y="1" :width="width" height="22" fill="#f1ebde" />
    <rect y="3" :width="g.ordered.in" height="5" fill="#b9ab8c" />
    <rect y="9.5" :width="g.received.in" height="5" fill="#1f6b4f" />
    <rect y="16" :width="g.invoiced.in" height="5" fill="#14302e" />
    <template v-for="(b, y) in { 3: g.ordered, 9.5: g.received, 16: g.invoiced }" :key="y">
      <rect v-if="b.all > b.in" :x="b.in" :y="y" :width="b.all - b.in" height="5" fill="#ab2f33" />
    </template>
    <path v-if="budget.planned !== undefined" :d="`M${g.planned} 0v24`" stroke="#14302e" stroke-width="1.6" />
  </svg>
</template>
