<script setup lang="ts">
// A supplier's statement beside what is here, by how the lines stand; the differences add up to that of the balances.
import { computed } from 'vue'
import VerdictMark from '@/parts/VerdictMark.vue'
import { show, showDay, sums } from '@/parts/numbers'
import { placeOf } from '@/parts/places'
import { today } from '@/parts/session'
import { byStanding, type StatementPair, type SupplierStatement } from './statements'

const props = defineProps<{ statement: SupplierStatement }>()
const groups = computed(() => byStanding(props.statement.pairs))
const total = (pairs: StatementPair[]) =>
  sums(pairs.map((p) => ({ amount: p.difference, currency: '' }))).trim() || '0.00'
const day = (d: string | undefined) => showDay(d, today.value)
</script>

<template>
  <table class="grid statement">
    <thead>
      <tr>
        <th>Theirs</th>
        <th>Day</th>
        <th class="num">Amount</th>
        <th>Here</th>
        <th>Day</th>
        <th class="num">Open</th>
        <th>State</th>
        <th class="num">Difference</th>
      </tr>
    </thead>
    <tbody v-for="g in groups" :key="g.key">
      <tr class="group">
        <th scope="rowgroup" colspan="7">
          <VerdictMark :verdict="g.verdict" :text="g.title" />
          <span class="muted ms-2">{{ g.pairs.length }} · {{ g.says }}</span>
        </th>
        <td class="num">
          <b>{{ total(g.pairs) }}</b>
        </td>
      </tr>
      <tr v-for="(p, i) in g.pairs" :key="i">
        <td class="mono">{{ p.number || (p.run ? 'our payment' : '–') }}</td>
        <td>{{ day(p.day) }}</td>
        <td class="num">{{ show(p.amount) }}</td>
        <td>
          <RouterLink v-if="p.invoice" :to="placeOf.invoice(p.invoice)" class="mono">{{ p.ourNumber }}</RouterLink>
          <RouterLink v-else-if="p.run" :to="placeOf.run(p.run)">run {{ p.run }}</RouterLink>
          <template v-else>–</template>
        </td>
        <td>{{ day(p.ourDay ?? p.paid) }}</td>
        <td class="num">
          {{ p.open === undefined ? '' : show(p.open) }}
          <div v-if="p.total !== undefined && p.total !== p.open" class="small muted">of {{ show(p.total) }}</div>
        </td>
        <td>
          {{ p.state }}<template v-if="p.invoice && p.paid">, {{ day(p.paid) }}</template>
          <div v-if="p.then && p.then !== p.standing" class="small muted">stood otherwise when it was kept</div>
        </td>
        <td class="num">{{ Number(p.difference) ? show(p.difference) : '–' }}</td>
      </tr>
    </tbody>
    <tfoot>
      <tr class="total">
        <th scope="row" colspan="2">They say</th>
        <td class="num">
          <b>{{ show(statement.theirs) }}</b>
        </td>
        <th scope="row" colspan="2">We have open</th>
        <td class="num">
          <b>{{ show(statement.ours) }}</b>
        </td>
        <td>{{ statement.currency }}</td>
        <td class="num">
          <b>{{ show(statement.difference) }}</b>
        </td>
      </tr>
    </tfoot>
  </table>
</template>
