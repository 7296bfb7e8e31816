<script setup lang="ts">
// A figure over the values of a limit, with today's value and the one that is tried marked; the table above says both.
import { ref } from 'vue'
import { Chart, LinearScale, LineController, LineElement, PointElement, Tooltip } from 'chart.js'
import { useDrawn } from '@/parts/drawn'
import { show } from '@/parts/numbers'
import type { CurvePoint } from './trials'

Chart.register(LineController, LineElement, PointElement, LinearScale, Tooltip)
const props = defineProps<{
  title: string
  points: CurvePoint[]
  unit: string
  /** Money has its cents. */
  money?: boolean
}>()
const canvas = ref<HTMLCanvasElement>()
const sizes = { '': 0, today: 5, tried: 6 }
const set = () => ({
  data: props.points.map((p) => ({ x: p.at, y: p.value })),
  borderColor: '#14302e',
  borderWidth: 1.5,
  stepped: false as const,
  pointRadius: props.points.map((p) => sizes[p.mark]),
  pointHitRadius: 8,
  pointStyle: props.points.map((p) => (p.mark === 'tried' ? 'rectRot' : 'circle')),
  pointBackgroundColor: props.points.map((p) => (p.mark === 'tried' ? '#b8451a' : '#fff')),
  pointBorderColor: props.points.map((p) => (p.mark === 'tried' ? '#b8451a' : '#14302e')),
})
const text = (n: number) => show(props.money ? n.toFixed(2) : String(n))
useDrawn(
  canvas,
  () => ({
    type: 'line',
    data: { datasets: [set()] },
    options: {
      animation: false,
      maintainAspectRatio: false,
      scales: {
        x: {
          type: 'linear',
          min: 0,
          grid: { display: false },
          ticks: { maxTicksLimit: 9, callback: (n) => `${show(String(n))} ${props.unit}` },
        },
        y: { beginAtZero: true, ticks: { maxTicksLimit: 4, callback: (n) => show(String(n)) } },
      },
      plugins: {
        tooltip: {
          displayColors: false,
          callbacks: {
            title: ([c]) => `${show(String(c!.parsed.x))} ${props.unit}`,
            label: (c) => {
              const mark = props.points[c.dataIndex]?.mark
              return text(c.parsed.y!) + (mark ? `, ${mark}` : '')
            },
          },
        },
      },
    },
  }),
  () => props.points,
)
</script>

<template>
  <figure class="curve">
    <figcaption class="small muted">{{ title }}</figcaption>
    <div>
      <canvas
        ref="canvas"
        role="img"
        :aria-label="`${title}; the table above says it for today and for the trial`"
      ></canvas>
    </div>
  </figure>
</template>
