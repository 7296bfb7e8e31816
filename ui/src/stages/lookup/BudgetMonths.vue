<script setup lang="ts">
// A budget month by month of a year: what is ordered and invoiced by the month of the order, and what is left until then.
import { showMonth } from '@/parts/numbers'
import { placeOf } from '@/parts/places'
import { useBudgetMonths, zero } from './budgets'

const props = defineProps<{ code: string; year: string }>()
const { data, error } = useBudgetMonths(props)
const lines = (month: string) =>
  placeOf.list('lines', { show: `budget:${props.code};since:${month}-01;until:${lastOf(month)}` })
const lastOf = (month: string) => {
  const [y, m] = month.split('-').map(Number)
  return `${month}-${new Date(Date.UTC(y!, m, 0)).getUTCDate()}`
}
</script>

<template>
  <p v-if="error" class="nothing" role="alert">{{ error.message }}</p>
  <table v-else-if="data" class="grid months" :aria-label="`Budget ${code} by month`">
    <thead>
      <tr>
        <th>Month</th>
        <th class="num">Planned</th>
        <th class="num">Ordered</th>
        <th class="num">Received</th>
        <th class="num">By order</th>
        <th class="num">Without</th>
        <th class="num">Credited</th>
        <th class="num">Taken</th>
        <th class="num">Left until then</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="m in data.months" :key="m.month">
        <td>
          <RouterLink :to="lines(m.month)">{{ showMonth(m.month) }}</RouterLink>
        </td>
        <td class="num">{{ zero(m.planned) }}</td>
        <td class="num">{{ zero(m.ordered) }}</td>
        <td class="num">{{ zero(m.received) }}</td>
        <td class="num">{{ zero(m.byOrder) }}</td>
        <td class="num">{{ zero(m.withoutOrder) }}</td>
        <td class="num">{{ zero(m.credited) }}</td>
        <td class="num">{{ zero(m.taken) }}</td>
        <td class="num" :class="{ 'outside-text': Number(m.left) < 0 }">{{ zero(m.left) }}</td>
      </tr>
    </tbody>
  </table>
</template>
