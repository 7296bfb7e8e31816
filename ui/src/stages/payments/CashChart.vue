<script setup lang="ts">
// What leaves in each week as stacked bars; the table beside it says the same.
import { ref } from 'vue'
import { BarController, BarElement, CategoryScale, Chart, LinearScale, Tooltip } from 'chart.js'
import type { components } from '@/api/schema'
import { useDrawn } from '@/parts/drawn'
import { show } from '@/parts/numbers'
import { certainties } from './cash'

Chart.register(BarController, BarElement, CategoryScale, LinearScale, Tooltip)
const props = defineProps<{ table: components['schemas']['CashTable']; columns: string[] }>()
const emit = defineEmits<{ choose: [certainty: string, column: number] }>()
const canvas = ref<HTMLCanvasElement>()
const sets = () =>
  props.table.rows.map((r) => ({
    label: r.text,
    data: r.cells.slice(0, -1).map(Number),
    backgroundColor: certainties[r.certainty]!.fill,
    borderColor: certainties[r.certainty]!.edge,
    borderWidth: 1,
    maxBarThickness: 56,
  }))
useDrawn(
  canvas,
  () => ({
    type: 'bar',
    data: { labels: props.columns, datasets: sets() },
    options: {
      animation: false,
      maintainAspectRatio: false,
      scales: {
        x: { stacked: true, grid: { display: false } },
        y: { stacked: true, ticks: { maxTicksLimit: 5, callback: (n) => show(Number(n).toFixed(0)) } },
      },
      plugins: {
        tooltip: {
          callbacks: {
            label: (c) => `${c.dataset.label}: ${show(props.table.rows[c.datasetIndex]!.cells[c.dataIndex])}`,
          },
        },
      },
      onClick: (_event, hit) => {
        const at = hit[0]
        if (at) emit('choose', props.table.rows[at.datasetIndex]!.certainty, at.index)
      },
    },
  }),
  () => props.table,
)
</script>

<template>
  <div style="height: 190px">
    <canvas ref="canvas" role="img" aria-label="Money that leaves by week; the table below says the same"></canvas>
  </div>
</template>
