<script setup lang="ts">
// Month by month what of an invoice's cost is spread, and what became of it.
import { computed } from 'vue'
import type { InvoiceSheet } from '@/api/client'
import { show, showMonth } from '@/parts/numbers'

const props = defineProps<{ inv: InvoiceSheet }>()
const credited = computed(() => props.inv.deferred.some((m) => Number(m.credited)))
const waits = computed(() => ['captured', 'waiting', 'held'].includes(props.inv.state))
</script>

<template>
  <details v-if="inv.deferred.length" class="mb-3" open>
    <summary class="mb-2">
      {{ waits ? 'Would be spread' : 'Spread' }} over {{ inv.deferred.length }} months, {{ inv.currency }}
    </summary>
    <table class="grid" style="max-width: 560px">
      <thead>
        <tr>
          <th>Month</th>
          <th>Charged to</th>
          <th class="num">Cost</th>
          <th v-if="credited" class="num">Given back</th>
          <th class="num">Posted</th>
          <th class="num">To come</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(m, i) in inv.deferred" :key="i">
          <td>{{ showMonth(m.month) }}</td>
          <td class="mono">{{ m.detail }}</td>
          <td class="num">{{ show(m.spread) }}</td>
          <td v-if="credited" class="num">{{ Number(m.credited) ? show(m.credited) : '' }}</td>
          <td class="num">{{ Number(m.posted) ? show(m.posted) : '' }}</td>
          <td class="num">{{ Number(m.held) ? show(m.held) : '' }}</td>
        </tr>
      </tbody>
    </table>
  </details>
</template>
