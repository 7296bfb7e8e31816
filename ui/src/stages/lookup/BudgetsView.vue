<script setup lang="ts">
// Budgets of a year by group: what each has, what is ordered, received and invoiced of it, what is left; drawn as bars, each
// opening its orders. What nobody planned stands first.
import { computed, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { useRoute, useRouter } from 'vue-router'
import { api, unwrap } from '@/api/client'
import { useKeys } from '@/parts/keys'
import { show, showInstant, sums } from '@/parts/numbers'
import { placeOf } from '@/parts/places'
import { may, today } from '@/parts/session'
import BudgetBar from './BudgetBar.vue'
import BudgetCarry from './BudgetCarry.vue'
import BudgetMonths from './BudgetMonths.vue'
import BudgetPlan from './BudgetPlan.vue'
import LookFrame from './LookFrame.vue'
import { zero } from './budgets'

const route = useRoute()
const router = useRouter()
const year = computed(() => String(route.query['year'] ?? today.value.slice(0, 4)))
const { data, error } = useQuery({
  queryKey: ['budget-years', year],
  queryFn: () => unwrap(api.GET('/api/budget-years', { params: { query: { year: year.value } } })),
})
type Budget = NonNullable<typeof data.value>['budgets'][number]
const go = (step: number) => void router.replace({ query: { year: String(Number(year.value) + step) } })
/** Costs of budgets that nobody planned stand first and stand out; then group by group. */
const groups = computed(() => {
  const all = data.value?.budgets ?? []
  const unplanned = all.filter((b) => b.planned === undefined && Number(b.taken) !== 0)
  const others = all.filter((b) => !unplanned.includes(b))
  const names = [...new Set(others.map((b) => b.group))]
  const named = names.map((name) => ({
    name: name || 'In no group',
    unplanned: false,
    budgets: others.filter((b) => b.group === name),
  }))
  return [...(unplanned.length ? [{ name: 'Unplanned', unplanned: true, budgets: unplanned }] : []), ...named]
})
const total = (budgets: Budget[], of: 'planned' | 'ordered' | 'received' | 'invoiced' | 'taken' | 'left') =>
  sums(budgets.filter((b) => b[of] !== undefined).map((b) => ({ amount: b[of]!, currency: '' }))).trim()
const orders = (code: string) =>
  placeOf.list('lines', { show: `budget:${code};since:${year.value}-01-01;until:${year.value}-12-31` })

const planning = ref<Budget>()
const carrying = ref(false)
const left = computed(() =>
  (data.value?.budgets ?? []).filter((b) => Number(b.left) > 0).map((b) => ({ ...b, left: b.left! })),
)
/** The budget whose months stand open, in the address so that one comes back to it. */
const opened = computed(() => String(route.query['months'] ?? ''))
const open = (code: string) =>
  void router.replace({ query: { ...route.query, months: opened.value === code ? undefined : code } })
const carried = (b: Budget) =>
  [
    b.carriedIn && `${show(b.carriedIn)} carried over from ${Number(year.value) - 1}`,
    b.carriedOn && `${show(b.carriedOn)} carried over to ${Number(year.value) + 1}`,
  ]
    .filter(Boolean)
    .join(', ')
/** How what is invoiced came about, where it is not all by order. */
const came = (b: Budget) =>
  [
    Number(b.byOrder) && `${show(b.byOrder)} by order`,
    Number(b.withoutOrder) && `${show(b.withoutOrder)} without an order`,
    Number(b.credited) && `${show(b.credited)} credited`,
    Number(b.deferred) && `${show(b.deferred)} of it a cost of later months`,
  ]
    .filter(Boolean)
    .join(', ')
useKeys(() => [
  { key: 'ArrowLeft', label: 'year before', run: () => go(-1) },
  { key: 'ArrowRight', label: 'year after', run: () => go(1) },
])
</script>

<template>
  <LookFrame
    label="Budgets"
    :title="`Budgets of ${year}`"
    :says="data ? `${data.currency}, net; of each line the larger of ordered and invoiced is taken` : ''"
    :error="error"
    :ready="data !== undefined"
  >
    <template #head>
      <span class="ms-auto">
        <button v-if="may('carryBudgets') && left.length" type="button" class="linkish me-3" @click="carrying = true">
          Carry over what is left…
        </button>
        <RouterLink class="me-3" :to="placeOf.list('budgets', { show: `at:${year}-12-31` })">as a list</RouterLink>
        <button type="button" class="linkish me-3" @click="go(-1)">‹ {{ Number(year) - 1 }}</button>
        <button type="button" class="linkish" @click="go(1)">{{ Number(year) + 1 }} ›</button>
      </span>
    </template>
    <template v-if="data">
      <BudgetPlan
        v-if="planning"
        :key="planning.code"
        :code="planning.code"
        :year="year"
        :currency="data.currency"
        :planned="planning.planned"
        :group="planning.group"
        @left="planning = undefined"
      />
      <BudgetCarry v-if="carrying" :year="year" :currency="data.currency" :budgets="left" @left="carrying = false" />
      <p v-if="!data.budgets.length" class="nothing">No budget is set up yet.</p>
      <table v-else class="grid budgets">
        <thead>
          <tr>
            <th>Budget</th>
            <th>Ordered, received, invoiced</th>
            <th class="num">Planned</th>
            <th class="num">Ordered</th>
            <th class="num">Received</th>
            <th class="num">Invoiced</th>
            <th class="num">Left</th>
            <th class="num">Used</th>
            <th><span class="visually-hidden">More</span></th>
          </tr>
        </thead>
        <tbody v-for="g in groups" :key="g.name">
          <tr class="group">
            <th scope="rowgroup" colspan="2" :class="{ 'outside-text': g.unplanned }">{{ g.name }}</th>
            <td v-for="c in ['planned', 'ordered', 'received', 'invoiced', 'left'] as const" :key="c" class="num">
              <b>{{ total(g.budgets, c) }}</b>
            </td>
            <td></td>
            <td></td>
          </tr>
          <template v-for="b in g.budgets" :key="b.code">
            <tr>
              <td>
                <RouterLink :to="orders(b.code)" class="mono">{{ b.code }}</RouterLink> {{ b.name }}
                <div v-if="b.byOrder !== b.invoiced || Number(b.deferred)" class="small muted">
                  Invoiced: {{ came(b) }}
                </div>
                <div v-if="carried(b)" class="small muted">{{ carried(b) }}</div>
                <div v-if="b.reason" class="small muted">
                  {{ b.reason }} <span class="nowrap">({{ b.by }}, {{ b.at && showInstant(b.at, today) }})</span>
                </div>
              </td>
              <td><BudgetBar :budget="b" /></td>
              <td class="num">
                <template v-if="b.planned !== undefined">{{ zero(b.planned) }}</template>
                <span v-else class="muted">unplanned</span>
              </td>
              <td class="num">{{ zero(b.ordered) }}</td>
              <td class="num">{{ zero(b.received) }}</td>
              <td class="num">{{ zero(b.invoiced) }}</td>
              <td class="num" :class="{ 'outside-text': Number(b.left) < 0 }">{{ zero(b.left) }}</td>
              <td class="num" :class="{ 'outside-text': Number(b.used) > 100 }">{{ b.used ? `${b.used} %` : '' }}</td>
              <td>
                <button type="button" class="linkish d-block" :aria-expanded="opened === b.code" @click="open(b.code)">
                  months<span class="visually-hidden"> of budget {{ b.code }}</span>
                </button>
                <button v-if="may('planBudget')" type="button" class="linkish d-block" @click="planning = b">
                  {{ b.planned === undefined ? 'plan' : 'change'
                  }}<span class="visually-hidden"> budget {{ b.code }}</span>
                </button>
              </td>
            </tr>
            <tr v-if="opened === b.code">
              <td colspan="9"><BudgetMonths :code="b.code" :year="year" /></td>
            </tr>
          </template>
        </tbody>
        <tfoot>
          <tr class="total">
            <th scope="row" colspan="2">All</th>
            <td v-for="c in ['planned', 'ordered', 'received', 'invoiced', 'left'] as const" :key="c" class="num">
              <b>{{ total(data.budgets, c) }}</b>
            </td>
            <td></td>
            <td></td>
          </tr>
        </tfoot>
      </table>
    </template>
  </LookFrame>
</template>
