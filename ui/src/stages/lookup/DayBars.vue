<script setup lang="ts">
// Two weeks of invoices, a bar a day: in the books with no act, after one, waiting, held, ended. A bar opens its day.
import { computed } from 'vue'
import { showDay } from '@/parts/numbers'
import { today } from '@/parts/session'

interface Day {
  on: string
  came: number
  alone: number
  acted: number
  waiting: number
  held: number
  ended: number
}
const props = defineProps<{ days: Day[] }>()
const emit = defineEmits<{ pick: [day: string] }>()
const height = 90
const kinds = [
  { key: 'alone', text: 'no act', fill: '#1f6b4f' },
  { key: 'acted', text: 'after an act', fill: '#b9ab8c' },
  { key: 'waiting', text: 'wait', fill: '#3c4a76' },
  { key: 'held', text: 'held', fill: '#ab2f33' },
  { key: 'ended', text: 'refused or void', fill: '#14302e' },
] as const
const most = computed(() => Math.max(1, ...props.days.map((d) => d.came)))
const bars = computed(() =>
  props.days.map((d) => {
    let y = height
    return {
      day: d,
      text: `${showDay(d.on, today.value)}: ${d.came} came in, ${kinds.map((k) => `${d[k.key]} ${k.text}`).join(', ')}`,
      parts: kinds.map((k) => {
        const h = (d[k.key] / most.value) * height
        y -= h
        return { key: k.key, fill: k.fill, y, h }
      }),
    }
  }),
)
const short = (on: string) => String(Number(on.slice(8)))
</script>

<template>
  <figure class="days">
    <ol>
      <li v-for="b in bars" :key="b.day.on">
        <button type="button" :title="b.text" :aria-label="b.text" @click="emit('pick', b.day.on)">
          <svg width="34" :height="height" aria-hidden="true">
            <rect x="0" :y="height - 1" width="34" height="1" fill="#d9ceb8" />
            <rect v-for="p in b.parts" :key="p.key" x="4" :y="p.y" width="26" :height="p.h" :fill="p.fill" />
          </svg>
          <span aria-hidden="true">{{ short(b.day.on) }}</span>
        </button>
      </li>
    </ol>
    <figcaption class="small muted">
      <span v-for="k in kinds" :key="k.key" class="me-3"
        ><svg width="10" height="10" aria-hidden="true"><rect width="10" height="10" :fill="k.fill" /></svg>
        {{ k.text }}</span
      >
    </figcaption>
  </figure>
</template>
