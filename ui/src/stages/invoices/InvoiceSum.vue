<script setup lang="ts">
// What an invoice comes to, beside what it states.
import type { InvoiceSheet } from '@/api/client'
import { show } from '@/parts/numbers'

defineProps<{ inv: InvoiceSheet }>()
</script>

<template>
  <span class="sum">
    Lines {{ show(inv.totals.lines)
    }}<template v-if="Number(inv.totals.charges)"> · charges {{ show(inv.totals.charges) }}</template
    ><template v-if="Number(inv.totals.allowances)"> · discount {{ show(inv.totals.allowances) }}</template> · tax
    {{ show(inv.totals.tax) }} =
    <b :class="Number(inv.totals.rounding) === 0 ? 'text-success' : 'outside-text'"
      >{{ show(inv.totals.total) }},
      {{ Number(inv.totals.rounding) === 0 ? 'as stated' : `stated ${show(inv.stated)}` }}</b
    >
  </span>
</template>
