<script setup lang="ts">
// Credit notes that stand open: nothing was taken off a payment for them yet.
import type { InvoiceSlip } from '@/api/client'
import { show, showDay } from '@/parts/numbers'
import { placeOf } from '@/parts/places'
import { today } from '@/parts/session'

defineProps<{ credits: InvoiceSlip[] }>()
</script>

<template>
  <p v-if="credits.length" class="finding within mt-2 mb-2" role="status">
    Credit to be taken off:
    <template v-for="(c, i) in credits" :key="c.number"
      ><template v-if="i">; </template>{{ c.supplier }}
      <RouterLink :to="placeOf.invoice(c.number)" class="mono">{{ c.supplierNumber }}</RouterLink> of
      {{ showDay(c.date, today) }}, {{ show(c.open.replace('-', '')) }} {{ c.currency }}</template
    >.<slot />
  </p>
</template>
