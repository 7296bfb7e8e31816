<script setup lang="ts">
// What an invoice booked, and how it came in.
import type { InvoiceSheet } from '@/api/client'
import LedgerEntry from '@/parts/LedgerEntry.vue'
import { showInstant } from '@/parts/numbers'
import { placeOf } from '@/parts/places'
import { today } from '@/parts/session'

defineProps<{ inv: InvoiceSheet }>()
</script>

<template>
  <details v-if="inv.entries.length" class="mt-3">
    <summary class="mb-2">
      Ledger: {{ inv.entries.length === 1 ? `entry ${inv.entries[0]!.number}` : `${inv.entries.length} entries` }}
    </summary>
    <LedgerEntry v-for="e in inv.entries" :key="e.number" :entry="e" />
  </details>
  <p class="muted small mt-3 mb-0">
    {{ inv.kind === 'request' ? 'Requested' : inv.source === 'ubl' ? 'Read from an e-invoice' : 'Keyed by hand' }}
    {{ showInstant(inv.capturedAt, today) }} by {{ inv.capturedBy
    }}<template v-if="inv.correctedBy">, entry corrected by {{ inv.correctedBy }}</template
    >. Checked {{ showInstant(inv.checkedAt, today) }}: {{ inv.cause }}.
    <RouterLink :to="placeOf.alike(inv.number)">Others under this number</RouterLink>
  </p>
</template>
