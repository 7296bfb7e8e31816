<script setup lang="ts">
import type { Event } from '@/api/client'
import { showDay } from './numbers'
import { today } from './session'
import { placeOf } from '@/parts/places'

defineProps<{ events: Event[]; title: string }>()
function place(e: Event): string | undefined {
  if (!e.number) return undefined
  if (['order', 'sent', 'answer', 'change'].includes(e.kind)) return placeOf.order(e.number)
  if (e.kind === 'paper') return undefined
  if (e.kind === 'notice') return placeOf.noticed(e.number)
  if (e.kind === 'mail') return placeOf.mail(e.number)
  if (['delivery', 'reversal', 'return', 'free'].includes(e.kind)) return placeOf.delivery(e.number)
  return placeOf.invoice(e.number)
}
</script>

<template>
  <section aria-label="Thread">
    <h2 class="mb-2">{{ title }}</h2>
    <ol class="thread">
      <li v-for="(e, i) in events" :key="i" :class="{ open: e.open, branch: e.branch }">
        <RouterLink v-if="place(e)" :to="place(e)!" class="text-reset">{{ e.title }}</RouterLink>
        <template v-else>{{ e.title }}</template>
        <span v-if="e.day && e.kind !== 'expected'" class="muted"> · {{ showDay(e.day, today) }}</span>
        <small v-if="e.detail">{{ e.detail }}</small>
        <small v-if="e.entry"
          ><RouterLink :to="placeOf.entry(e.entry)">ledger entry {{ e.entry }}</RouterLink></small
        >
        <span v-if="e.open" class="visually-hidden">(not there yet)</span>
      </li>
    </ol>
  </section>
</template>
