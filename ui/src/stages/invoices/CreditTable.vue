<script setup lang="ts">
// The lines of a credit note beside the invoice that it credits and what went back.
import type { InvoiceSheet } from '@/api/client'
import { price, show } from '@/parts/numbers'
import { outsideIn } from './slips'

const props = defineProps<{ inv: InvoiceSheet }>()
type Line = InvoiceSheet['lines'][number]
const given: Record<string, string> = { goods: 'for goods', price: 'for a price', '': 'for goods or a price' }
const bad = outsideIn(() => props.inv.findings)
const goods = (l: Line) => l.credit?.for === 'goods' && !l.credit.claim
</script>

<template>
  <table class="grid mb-3">
    <thead>
      <tr>
        <th class="named">Line</th>
        <th class="num">Invoiced</th>
        <th class="num">Sent back</th>
        <th class="num">Creditable</th>
        <th class="num">Credited here</th>
        <th class="num">Unit price</th>
        <th class="num">Net</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="l in inv.lines" :key="l.no">
        <td>
          <b>{{ l.ordered?.description ?? l.description }}</b><br /><span class="muted"
            >{{ l.unitName }}<template v-if="l.credit?.claim"> · gives back claim {{ l.credit.claim }}</template
            ><template v-else-if="l.credit"> · {{ given[l.credit.for] }}</template
            ><template v-if="l.order"> · order {{ l.order }}</template
            ><template v-if="!l.ordered && !l.chargeKind && !l.credit?.claim"> · no order line</template
            ><template v-if="l.chargeKind"> · charge</template></span
          >
        </td>
        <td class="num">
          {{ show(l.credit?.invoiced) }}
          <template v-if="Number(l.credit?.invoiced)"
            ><br /><span class="muted">at {{ price(l.credit?.price ?? '') }}</span></template
          >
        </td>
        <td class="num">{{ Number(l.credit?.returned) ? show(l.credit?.returned) : '' }}</td>
        <td class="num">{{ goods(l) ? show(l.credit?.creditable) : '' }}</td>
        <td class="num">
          <span :class="{ 'outside-text': bad(l.no, 'creditable', 'unit', 'whole_units') }">{{
            show(l.quantity)
          }}</span>
        </td>
        <td class="num">
          <span :class="{ 'outside-text': bad(l.no, 'credit_unclear') }">{{ price(l.price) }}</span>
        </td>
        <td class="num">{{ show(l.net) }}</td>
      </tr>
      <tr v-for="(c, i) in inv.charges" :key="`c${i}`">
        <td>
          <b>{{ c.reason || c.kind }}</b><br /><span class="muted">{{ c.allowance ? 'off the whole' : 'charge' }}</span>
        </td>
        <td colspan="5"></td>
        <td class="num">{{ c.allowance ? '−' : '' }}{{ show(c.amount) }}</td>
      </tr>
    </tbody>
  </table>
</template>
