<script setup lang="ts">
// The lines of an invoice beside what was ordered, received and invoiced before, and its charges.
import { computed } from 'vue'
import type { InvoiceSheet } from '@/api/client'
import LineGauge from '@/parts/LineGauge.vue'
import { price, show } from '@/parts/numbers'
import DeferredPart from './DeferredPart.vue'
import OwnTax from './OwnTax.vue'
import { outsideIn } from './slips'

const props = defineProps<{ inv: InvoiceSheet }>()
const unsettled = computed(() => ['captured', 'waiting', 'held'].includes(props.inv.state))
/** Of an invoice without an order nothing was ordered or received. */
const ordered = computed(() => props.inv.lines.some((l) => l.ordered) || !props.inv.coded)
/** How the lines are matched and where that comes from; by line where they differ. */
const levels = computed(() => {
  const said = props.inv.lines.flatMap((l) => (l.ordered ? [{ no: l.no, says: l.ordered.levelSays }] : []))
  const all = [...new Set(said.map((s) => s.says))]
  if (all.length < 2) return all[0] ?? ''
  return all
    .map(
      (says) =>
        `line ${said
          .filter((s) => s.says === says)
          .map((s) => s.no)
          .join(', ')} ${says}`,
    )
    .join('; ')
})
const bad = outsideIn(() => props.inv.findings)
</script>

<template>
  <table class="grid mb-2">
    <thead>
      <tr>
        <th class="named">Line</th>
        <template v-if="ordered">
          <th class="num">Ordered</th>
          <th class="num">Received</th>
        </template>
        <th v-else>Charged to</th>
        <th class="num">Invoiced</th>
        <th class="num">Unit price</th>
        <th class="num">Net</th>
        <th v-if="ordered">Gauge</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="l in inv.lines" :key="l.no">
        <td>
          <b>{{ l.ordered?.description ?? l.description }}</b><br /><span class="muted"
            >{{ l.unitName }}<template v-if="l.order"> · order {{ l.order }}</template
            ><template v-if="l.budget && ordered"> · charged to {{ l.budget }}</template
            ><template v-if="!l.ordered && !l.chargeKind && !l.budget"> · no order line</template
            ><template v-if="l.chargeKind"> · charge</template
            ><template v-if="l.notes"> · delivery note {{ l.notes }}</template></span
          >
        </td>
        <template v-if="ordered">
          <td class="num">{{ show(l.ordered?.quantity) }}</td>
          <td class="num">{{ show(l.ordered?.received) }}</td>
        </template>
        <td v-else>{{ l.budget }}</td>
        <td class="num">
          <span :class="{ 'outside-text': bad(l.no, 'over_received', 'over_ordered', 'unit') }">{{
            show(l.quantity)
          }}</span>
          <template v-if="l.ordered && Number(l.ordered.billed) > 0 && unsettled"
            ><br /><span class="muted">{{ show(l.ordered.billed) }} before</span></template
          >
        </td>
        <td class="num">
          <span :class="{ 'outside-text': bad(l.no, 'unit_price') }">{{ price(l.price) }}</span>
          <template v-if="l.ordered && l.ordered.price !== l.price"
            ><br /><span class="muted">{{ price(l.ordered.price) }}</span></template
          >
        </td>
        <td class="num">{{ show(l.net) }}</td>
        <td v-if="ordered">
          <LineGauge v-if="l.ordered" :line="l.ordered" :invoiced="unsettled ? l.quantity : l.ordered.billed" />
        </td>
      </tr>
      <tr v-for="(c, i) in inv.charges" :key="`c${i}`">
        <td>
          <b>{{ c.reason || c.kind }}</b><br /><span class="muted">{{
            c.allowance ? 'discount on the whole' : 'not on the order'
          }}</span>
        </td>
        <td :colspan="ordered ? 4 : 3"></td>
        <td class="num">{{ c.allowance ? '−' : '' }}{{ show(c.amount) }}</td>
        <td v-if="ordered"></td>
      </tr>
    </tbody>
  </table>
  <p v-if="levels && inv.kind === 'invoice'" class="muted mb-3">Matched {{ levels }}.</p>
  <OwnTax class="mb-3" :own="inv.totals.own" :currency="inv.currency" />
  <DeferredPart :inv="inv" />
</template>
