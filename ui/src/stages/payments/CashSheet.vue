<script setup lang="ts">
// What money leaves when and how certain that is, what discounts are on offer, and what is overdue.
import { computed, defineAsyncComponent, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { cashQuery } from '@/api/queries'
import NoticeBar from '@/parts/NoticeBar.vue'
import { show, showDay, sums } from '@/parts/numbers'
import { placeOf } from '@/parts/places'
import { may, today } from '@/parts/session'
import { certainties } from './cash'

const CashChart = defineAsyncComponent(() => import('./CashChart.vue'))
const { data, error } = useQuery(cashQuery)
const which = ref(0)
const table = computed(() => data.value?.tables[which.value] ?? data.value?.tables[0])
const columns = computed(() => {
  const weeks = data.value?.weeks ?? []
  return [
    'Overdue',
    ...weeks.map((w, i) => (i === weeks.length - 1 ? `from ${showDay(w, today.value)}` : showDay(w, today.value))),
  ]
})
const chosen = ref<{ certainty: string; column: number }>()
const inside = computed(() => {
  const c = chosen.value
  if (!c || !table.value || !data.value) return []
  const { all, currency } = table.value
  return data.value.expected.filter(
    (e) => e.certainty === c.certainty && e.column === c.column && (all || e.currency === currency),
  )
})
const text = (certainty: string) => table.value?.rows.find((r) => r.certainty === certainty)?.text ?? ''
const place = (of: string, number: number) =>
  of === 'run' ? placeOf.run(number) : of === 'order' ? placeOf.order(number) : placeOf.invoice(number)
const choose = (certainty: string, column: number) => (chosen.value = { certainty, column })
const late = computed(() => data.value?.late ?? [])
const interest = computed(() => sums(late.value.map((l) => ({ amount: l.interest, currency: l.currency }))))
</script>

<template>
  <section class="sheet" aria-label="Cash ahead">
    <NoticeBar />
    <div v-if="error" class="nothing" role="alert">{{ error.message }}</div>
    <template v-else-if="data && table">
      <header>
        <div class="headline">
          <h1>Cash ahead</h1>
          <span v-if="may('exportCash')"
            ><a href="/api/cash/table" download>Export CSV</a>
            <a href="/api/cash/table?as=xlsx" download class="ms-3">XLSX</a></span
          >
        </div>
        <p class="muted mb-0 mt-1">
          Each sum in the week in which it would be paid: by the last day of a discount, else when it is due, on a bank
          day. Open credit notes are taken off what is due first.
          <template v-if="data.noRate.length">
            {{ data.noRate.join(', ') }} has no rate and counts as nothing.</template
          >
          <template v-if="data.more"> {{ data.more }} more are not counted.</template>
        </p>
        <div v-if="data.tables.length > 2" class="mt-2" role="group" aria-label="Currency">
          <BButton
            v-for="(t, i) in data.tables"
            :key="i"
            size="sm"
            class="me-2"
            :variant="i === which ? 'primary' : 'outline-secondary'"
            :aria-pressed="i === which"
            @click="which = i"
            >{{ t.all ? `all, in ${t.currency}` : t.currency }}</BButton
          >
        </div>
      </header>
      <div class="body" tabindex="0">
        <CashChart :key="which" :table="table" :columns="columns" @choose="choose" />
        <table class="grid mt-2">
          <thead>
            <tr>
              <th>{{ table.currency }}, week of</th>
              <th v-for="c in columns" :key="c" class="num">{{ c }}</th>
              <th class="num">Together</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="r in table.rows" :key="r.certainty">
              <th scope="row" class="fw-normal nowrap">
                <span
                  class="swatch"
                  aria-hidden="true"
                  :style="{
                    background: certainties[r.certainty]!.fill,
                    border: `1px ${certainties[r.certainty]!.dashed ? 'dashed' : 'solid'} ${certainties[r.certainty]!.edge}`,
                  }"
                ></span
                >{{ r.text }}
              </th>
              <td v-for="(cell, i) in r.cells.slice(0, -1)" :key="i" class="num">
                <button
                  v-if="Number(cell)"
                  type="button"
                  class="linkish cell"
                  :aria-pressed="chosen?.certainty === r.certainty && chosen.column === i"
                  :aria-label="`${r.text}, ${columns[i]}: ${show(cell)}`"
                  @click="choose(r.certainty, i)"
                >
                  {{ show(cell) }}
                </button>
                <span v-else class="muted">–</span>
              </td>
              <td class="num">
                <b>{{ Number(r.cells.at(-1)) ? show(r.cells.at(-1)!) : '–' }}</b>
              </td>
            </tr>
            <tr class="total">
              <th scope="row">Together</th>
              <td v-for="(s, i) in table.sums" :key="i" class="num">
                <b>{{ Number(s) ? show(s) : '–' }}</b>
              </td>
            </tr>
          </tbody>
        </table>
        <template v-if="chosen">
          <h2 class="mt-3 mb-1">{{ columns[chosen.column] }}, {{ text(chosen.certainty) }}</h2>
          <table class="grid" aria-label="What is in it">
            <tbody>
              <tr v-for="(e, i) in inside" :key="i">
                <td>
                  {{ e.supplier }}
                  <RouterLink :to="place(e.of, e.number)" class="d-inline-block py-1">{{
                    e.of === 'invoice' ? e.label : `${e.of} ${e.number}`
                  }}</RouterLink>
                  <span v-if="e.of === 'order'" class="muted ms-1">{{ e.label }}</span>
                </td>
                <td class="nowrap">{{ showDay(e.day, today) }}</td>
                <td class="num nowrap">{{ show(e.amount) }} {{ e.currency }}</td>
                <td>{{ e.turn && `${e.turn}’s turn` }}</td>
              </tr>
            </tbody>
          </table>
        </template>
        <template v-if="data.offers.length">
          <h2 class="mt-3 mb-1">Discounts on offer</h2>
          <table class="grid" aria-label="Discounts on offer">
            <thead>
              <tr>
                <th>Invoice</th>
                <th class="num">A year</th>
                <th class="num">Discount</th>
                <th>Until</th>
                <th>It is</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="o in data.offers" :key="o.invoice">
                <td>
                  {{ o.supplier }}
                  <RouterLink :to="placeOf.invoice(o.invoice)" class="mono d-inline-block py-1">{{
                    o.supplierNumber
                  }}</RouterLink>
                </td>
                <td class="num">
                  <b>{{ show(o.yearly) }} %</b>
                </td>
                <td class="num nowrap">
                  {{ show(o.discount) }} <span class="muted">of {{ show(o.open) }} {{ o.currency }}</span>
                </td>
                <td class="nowrap">{{ showDay(o.until, today) }}</td>
                <td>
                  {{ o.state }}<template v-if="o.turn">, {{ o.turn }}’s turn</template>
                </td>
              </tr>
            </tbody>
          </table>
        </template>
        <template v-if="late.length">
          <h2 class="mt-3 mb-1">Overdue</h2>
          <p class="muted mb-1">
            <template v-if="Number(data.lateRate)"
              >At {{ show(data.lateRate) }} % a year, {{ data.lateSource }}: {{ interest || 'nothing' }} so
              far.</template
            ><template v-else
              >What paying late costs is not said; an administrator enters it under Set up, Company.</template
            >
          </p>
          <table class="grid" aria-label="Overdue">
            <thead>
              <tr>
                <th>Invoice</th>
                <th>Due</th>
                <th class="num">Days</th>
                <th class="num">Open</th>
                <th class="num">Interest so far</th>
                <th>It is</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="(l, i) in late" :key="i">
                <td>
                  {{ l.supplier }}
                  <RouterLink :to="placeOf.invoice(l.invoice)" class="mono d-inline-block py-1">{{
                    l.supplierNumber
                  }}</RouterLink>
                </td>
                <td class="nowrap">{{ showDay(l.due, today) }}</td>
                <td class="num">{{ l.days }}</td>
                <td class="num nowrap">{{ show(l.open) }} {{ l.currency }}</td>
                <td class="num">{{ show(l.interest) }}</td>
                <td>
                  {{ l.state }}<template v-if="l.turn">, {{ l.turn }}’s turn</template>
                </td>
              </tr>
            </tbody>
          </table>
        </template>
      </div>
      <div class="bar">
        <span class="sum"
          ><template v-if="data.bank"
            >at the bank <b>{{ show(data.bank) }} {{ data.currency }}</b> by its last statement</template
          ><template v-else>The surest stands at the foot of each bar</template></span
        >
      </div>
    </template>
  </section>
</template>

<style scoped>
tbody th {
  background: none;
}
tbody th,
tbody td {
  vertical-align: middle;
}
.swatch {
  display: inline-block;
  width: 16px;
  height: 11px;
  margin-right: 8px;
}
.cell {
  font-weight: inherit;
  color: inherit;
  padding: 3px 0;
  min-width: 24px;
}
.cell[aria-pressed='true'] {
  font-weight: 700;
  text-decoration: underline;
}
</style>
