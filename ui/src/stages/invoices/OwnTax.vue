<script setup lang="ts">
// The tax that we owe and claim ourselves under reverse charge; no part of what the supplier is owed.
import type { InvoiceSheet } from '@/api/client'
import { show } from '@/parts/numbers'

defineProps<{ own: InvoiceSheet['totals']['own']; currency: string }>()
</script>

<template>
  <div v-if="own.length">
    <div v-for="o in own" :key="o.name" class="small muted">
      Reverse charge {{ o.name }}: {{ show(o.rate) }} % of {{ show(o.basis) }} is {{ show(o.tax) }} {{ currency }}, owed
      and claimed by us; the supplier charges none.
    </div>
  </div>
</template>
