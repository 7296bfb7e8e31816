<script setup lang="ts">
// What an entry comes to, and how far that is from the total that the supplier states.
import type { Totals } from '@/api/client'
import { show } from '@/parts/numbers'

defineProps<{ totals: Totals; stated: string }>()
</script>

<template>
  <span class="sum">
    Lines {{ show(totals.lines)
    }}<template v-if="Number(totals.charges)"> · charges {{ show(totals.charges) }}</template
    ><template v-if="Number(totals.allowances)"> · discount {{ show(totals.allowances) }}</template> · tax
    {{ show(totals.tax) }} = <b>{{ show(totals.total) }}</b>
    <template v-if="stated"
      ><b :class="Number(totals.rounding) === 0 ? 'text-success' : 'outside-text'">{{
        Number(totals.rounding) === 0 ? ', as stated' : `, ${show(totals.rounding)} off`
      }}</b></template
    >
  </span>
</template>
