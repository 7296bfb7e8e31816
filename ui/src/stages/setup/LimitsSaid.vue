<script setup lang="ts">
// The limits that are set at one level, in words.
import type { Limit } from '@/api/client'
import { show } from '@/parts/numbers'
import { sorts } from '@/parts/limits'

defineProps<{ limits: Limit[]; currency: string; empty: string; title?: string }>()
function says(l: Limit, currency: string) {
  const sort = sorts.find((s) => s.kind === l.kind)
  const parts = [
    l.percent !== undefined ? `${show(l.percent)} %${sort?.of ? ` of the ${sort.of}` : ''}` : '',
    l.absolute !== undefined ? `${show(l.absolute)}${sort?.quantity ? ' units' : ` ${currency}`}` : '',
  ]
  return `${sort?.name ?? l.kind}, ${l.side}: ${parts.filter(Boolean).join(' and ')}`
}
</script>

<template>
  <h2 class="mb-1">{{ title ?? 'Limits' }}</h2>
  <p v-if="!limits.length" class="muted">{{ empty }}</p>
  <ul class="plain mb-3">
    <li v-for="l in limits" :key="l.kind + l.side">{{ says(l, currency) }}</li>
  </ul>
</template>
