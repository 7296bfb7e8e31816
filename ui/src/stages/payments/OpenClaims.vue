<script setup lang="ts">
// What suppliers were asked to credit and has not come: it is kept back from what they are paid.
import type { OpenClaim } from '@/api/client'
import { daysBetween, show } from '@/parts/numbers'
import { placeOf } from '@/parts/places'
import { today } from '@/parts/session'

defineProps<{ claims: OpenClaim[] }>()
const age = (c: OpenClaim) => {
  const days = daysBetween(c.at.slice(0, 10), today.value)
  return days === 0 ? 'today' : `${days} day${days === 1 ? '' : 's'}`
}
</script>

<template>
  <p v-if="claims.length" class="finding within mt-2 mb-2" role="status">
    Kept back till a credit note comes:
    <template v-for="(c, i) in claims" :key="c.number"
      ><template v-if="i">; </template>{{ c.supplier }}
      <RouterLink :to="placeOf.invoice(c.invoice)" class="mono">{{ c.supplierNumber }}</RouterLink>, {{ show(c.gross) }}
      {{ c.currency }}, {{ age(c) }}</template
    >.
  </p>
</template>
