<script setup lang="ts">
// Budgets of a year by group: what each has, what is ordered, received and invoiced of it, what is left; drawn as bars, each
// opening its orders. What nobody planned stands first.
import { computed, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { useRoute, useRouter } from 'vue-router'
import { api, unwrap } from '@/api/client'
import EntryField from '@/parts/EntryField.vue'
import HistoryFold from '@/parts/HistoryFold.vue'
import SmallForm from '@/parts/SmallForm.vue'
import { useJob } from '@/parts/job'
import { useKept } from '@/parts/kept'
import { useKeys } from '@/parts/keys'
import { sent, show, showInstant, sums } from '@/parts/numbers'
import { placeOf } from '@/parts/places'
import { may, today } from '@/parts/session'
import BudgetBar from './BudgetBar.vue'
import LookFrame from './LookFrame.vue'

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
const zero = (text: string | undefined) => (text === undefined ? '' : Number(text) === 0 ? '–' : show(text))
const orders = (code: string) =>
  placeOf.list('lines', { show: `budget:${code};since:${year.value}-01-01;until:${year.value}-12-31` })

const form = ref<{ code: string; amount: string; group: string; reason: string }>()
const { again, done: kept } = useKept(form, (f) => `budget.plan.${f.code}.${year.value}`)
const planned = computed(() => data.value?.budgets.find((b) => b.code === form.value?.code)?.planned !== undefined)
const { send, busy, at } = useJob({ within: '.ask' })
const plan = (b: Budget) => (form.value = { code: b.code, amount: b.planned ?? '', group: b.group, reason: '' })
const keep = () => {
  const { code, amount, group, reason } = form.value!
  return send(
    () =>
      unwrap(
        api.POST('/api/budget-plans', {
          body: { budget: code, year: year.value, amount: sent(amount), group, reason },
        }),
      ),
    { done: `Budget ${code} has ${show(sent(amount))} ${data.value?.currency} in ${year.value}.`, after: kept },
  )
}
useKeys(() => [
  { key: 'ArrowLeft', label: 'year before', run: () => go(-1) },
  { key: 'ArrowRight', label: 'year after', run: () => go(1) },
])
</script>

<template>
  <LookFrame
    label="Budgets"
    :title="`Budgets of ${year}`"
    :says="
      data
        ? `${data.currency}, net. Taken is, line by line, the larger of ordered and invoiced; an invoice belongs to the year of its order.`
        : ''
    "
    :error="error"
    :ready="data !== undefined"
  >
    <template #head>
      <span class="ms-auto">
        <button type="button" class="linkish me-3" @click="go(-1)">‹ {{ Number(year) - 1 }}</button>
        <button type="button" class="linkish" @click="go(1)">{{ Number(year) + 1 }} ›</button>
      </span>
    </template>
    <template v-if="data">
      <SmallForm
        v-if="form"
        class="mb-3"
        action="Keep it"
        :label="`Budget ${form.code}`"
        :again="again"
        :disabled="busy"
        @done="keep"
        @cancel="form = undefined"
      >
        <p class="mb-2">
          <b>Budget {{ form.code }} in {{ year }}.</b> Who changed it, from what to what and why stays in its history.
        </p>
        <div class="entry">
          <EntryField
            id="plan-amount"
            v-model="form.amount"
            :label="`${data.currency}, net of tax`"
            data-first
            :error="at('amount')"
          />
          <EntryField id="plan-group" v-model="form.group" label="Shown in the group" :error="at('group')" />
          <EntryField v-if="planned" id="plan-reason" v-model="form.reason" label="Why" :error="at('reason')" />
        </div>
        <HistoryFold subject="budget" :number="form.code" />
      </SmallForm>
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
            <th v-if="may('planBudget')"><span class="visually-hidden">Change</span></th>
          </tr>
        </thead>
        <tbody v-for="g in groups" :key="g.name">
          <tr class="group">
            <th scope="rowgroup" colspan="2" :class="{ 'outside-text': g.unplanned }">{{ g.name }}</th>
            <td v-for="c in ['planned', 'ordered', 'received', 'invoiced', 'left'] as const" :key="c" class="num">
              <b>{{ total(g.budgets, c) }}</b>
            </td>
            <td></td>
            <td v-if="may('planBudget')"></td>
          </tr>
          <tr v-for="b in g.budgets" :key="b.code">
            <td>
              <RouterLink :to="orders(b.code)" class="mono">{{ b.code }}</RouterLink> {{ b.name }}
              <div v-if="Number(b.withoutOrder)" class="small muted">
                {{ show(b.withoutOrder) }} of it invoiced without an order
              </div>
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
            <td v-if="may('planBudget')">
              <button type="button" class="linkish d-block" @click="plan(b)">
                {{ b.planned === undefined ? 'plan' : 'change'
                }}<span class="visually-hidden"> budget {{ b.code }}</span>
              </button>
            </td>
          </tr>
        </tbody>
        <tfoot>
          <tr class="total">
            <th scope="row" colspan="2">All</th>
            <td v-for="c in ['planned', 'ordered', 'received', 'invoiced', 'left'] as const" :key="c" class="num">
              <b>{{ total(data.budgets, c) }}</b>
            </td>
            <td></td>
            <td v-if="may('planBudget')"></td>
          </tr>
        </tfoot>
      </table>
    </template>
  </LookFrame>
</template>
