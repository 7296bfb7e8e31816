<script setup lang="ts">
// One scale for one order line: a tick at what was ordered, a hatched band for what the limits allow, one bar for
// what was received and one for what was invoiced; what is in excess turns coral.
import { computed, useId } from 'vue'
import type { OrderLine } from '@/api/client'
import { show } from './numbers'

const props = defineProps<{ line: OrderLine; now?: string; invoiced?: string }>()
const width = 112
const pattern = useId()
const g = computed(() => {
  const n = (text: string | undefined) => Number(text ?? 0) || 0 // for drawing only
  const ordered = n(props.line.quantity)
  const received = n(props.line.received) + n(props.now)
  const invoiced = Math.max(n(props.line.billed), n(props.invoiced))
  const most = n(props.line.most)
  const scale = width / (Math.max(ordered, most, received, invoiced) * 1.06 || 1)
  const x = (q: number) => Math.round(q * scale * 10) / 10
  return {
    ordered: x(ordered),
    least: x(n(props.line.least)),
    most: x(most),
    received: x(received),
    invoiced: x(invoiced),
  }
})
const text = computed(() => {
  const l = props.line
  const parts = [
    `${l.unitName}: ordered ${show(l.quantity)}`,
    `received ${show(l.received)}`,
    `invoiced ${show(props.invoiced ?? l.billed)}`,
  ]
  if (Number(props.now)) parts.splice(2, 0, `now ${show(props.now)}`)
  if (l.least !== l.most) parts.push(`allowed ${show(l.least)} to ${show(l.most)}`)
  return parts.join(', ')
})
</script>

<template>
  <svg :width="width" height="24" role="img" :aria-label="text">
    <title>{{ text }}</title>
    <defs>
      <pattern :id="pattern" width="4" height="4" patternTransform="rotate(45)" patternUnits="userSpaceOnUse">
        <rect width="1.4" height="4" fill="#b9ab8c" />
      </pattern>
    </defs>
    <rect y="3" :width="width" height="18" fill="#f1ebde" />
    <rect :x="g.least" y="3" :width="Math.max(0, g.most - g.least)" height="18" :fill="`url(#${pattern})`" />
    <rect y="5" :width="Math.min(g.received, g.most)" height="6" fill="#1f6b4f" />
    <rect v-if="g.received > g.most" :x="g.most" y="5" :width="g.received - g.most" height="6" fill="#ab2f33" />
    <rect y="13" :width="Math.min(g.invoiced, g.received)" height="6" fill="#14302e" />
    <rect
      v-if="g.invoiced > g.received"
      :x="g.received"
      y="13"
      :width="g.invoiced - g.received"
      height="6"
      fill="#ab2f33"
    />
    <path :d="`M${g.ordered} 0v24`" stroke="#14302e" stroke-width="1.6" />
  </svg>
</template>
