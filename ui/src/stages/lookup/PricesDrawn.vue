<script setup lang="ts">
// The prices of one item over time, a line for each supplier and unit; the rows below say the same.
import { computed, ref } from 'vue'
import { Chart, Legend, LinearScale, LineController, LineElement, PointElement, Tooltip } from 'chart.js'
import type { ListPage, ListRow } from '@/api/client'
import { useDrawn } from '@/parts/drawn'
import { price, showDay } from '@/parts/numbers'
import { today } from '@/parts/session'

Chart.register(LineController, LineElement, PointElement, LinearScale, Tooltip, Legend)
const props = defineProps<{ page: ListPage; rows: ListRow[] }>()
const at = (key: string) => props.page.columns.filter((c) => c.shown).findIndex((c) => c.key === key)
const cell = (row: ListRow, key: string) => row.cells[at(key)]?.t ?? ''
const items = computed(() => [...new Set(props.rows.map((r) => cell(r, 'item')))])
/** It is drawn where it is about one item, and says of each row which price it is. */
const drawn = computed(
  () =>
    items.value.length === 1 &&
    ['item', 'supplier', 'date', 'price', 'unit'].every((key) => at(key) >= 0) &&
    props.rows.length > 1,
)
const colours = ['#14302e', '#b8451a', '#2f6f9f', '#7a5c00', '#6b4a86', '#4d6260']
const dashes = [[], [5, 3], [2, 2], [8, 3, 2, 3]]
const day = (text: string) => Date.parse(text) / 86_400_000
const said = (n: number) => showDay(new Date(n * 86_400_000).toISOString().slice(0, 10), today.value)
const sets = () => {
  const by = new Map<string, { x: number; y: number }[]>()
  for (const r of props.rows) {
    const name = `${cell(r, 'supplier')}, ${cell(r, 'unit')}${at('currency') < 0 ? '' : `, ${cell(r, 'currency')}`}`
    by.set(name, [...(by.get(name) ?? []), { x: day(cell(r, 'date')), y: Number(cell(r, 'price')) }])
  }
  return [...by].slice(0, colours.length).map(([label, data], i) => ({
    label,
    data: data.sort((a, b) => a.x - b.x),
    borderColor: colours[i]!,
    backgroundColor: colours[i]!,
    borderDash: dashes[i % dashes.length]!,
    borderWidth: 1.5,
    pointRadius: 2.5,
    stepped: 'before' as const,
  }))
}
const canvas = ref<HTMLCanvasElement>()
useDrawn(
  canvas,
  () => ({
    type: 'line',
    data: { datasets: sets() },
    options: {
      animation: false,
      maintainAspectRatio: false,
      scales: {
        x: { type: 'linear', grid: { display: false }, ticks: { maxTicksLimit: 8, callback: (n) => said(Number(n)) } },
        y: { ticks: { maxTicksLimit: 5, callback: (n) => price(Number(n).toFixed(2)) } },
      },
      plugins: {
        legend: { position: 'right', labels: { boxWidth: 22, boxHeight: 1 } },
        tooltip: {
          callbacks: {
            title: ([c]) => said(c!.parsed.x!),
            label: (c) => `${c.dataset.label}: ${price(String(c.parsed.y))}`,
          },
        },
      },
    },
  }),
  () => props.rows,
)
</script>

<template>
  <figure v-show="drawn" class="curve">
    <div>
      <canvas
        ref="canvas"
        role="img"
        :aria-label="`Prices of ${items[0]} over time; the rows below say the same`"
      ></canvas>
    </div>
  </figure>
</template>
