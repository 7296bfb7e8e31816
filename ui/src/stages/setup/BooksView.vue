<script setup lang="ts">
// Budgets that orders are charged to, exchange rates, and months that are closed.
import { computed, ref } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { api, unwrap } from '@/api/client'
import { companyQuery } from '@/api/queries'
import MoreRows from '@/parts/MoreRows.vue'
import EntryField from '@/parts/EntryField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import NoticeBar from '@/parts/NoticeBar.vue'
import PickField from '@/parts/PickField.vue'
import TickBox from '@/parts/TickBox.vue'
import { tell } from '@/parts/notice'
import { sent, show, showDay } from '@/parts/numbers'
import { current, may, today } from '@/parts/session'
import { useJob } from '@/parts/job'
import SetUpTabs from './SetUpTabs.vue'

const client = useQueryClient()
const { data: frame, error } = useQuery(companyQuery)
const { at, send } = useJob({ within: '.ask' })
const asking = ref<'budget' | 'rate' | 'month' | 'charge'>()
const charge = ref({ name: '', standard: '', ended: false })
const known = ref(false) // the name of a kind of charge stays
const budget = ref({ code: '', name: '', account: 'stock' })
const rate = ref({ currency: '', day: '', rate: '' })
const accounts = [
  { value: 'stock', text: 'stock' },
  { value: 'expense', text: 'cost' },
]
const monthName = (month: string) => showDay(`${month}-01`).slice(2) + ` ${month.slice(0, 4)}`
/** The newest rate of each currency is the one in force. */
const rates = computed(() =>
  [...(frame.value?.rates ?? [])].sort((a, b) => (a.currency + b.day < b.currency + a.day ? -1 : 1)),
)
function askCharge(kind?: { name: string; standard: string; ended: boolean }) {
  charge.value = kind ? { ...kind } : { name: '', standard: '', ended: false }
  known.value = !!kind
  asking.value = 'charge'
}
const keepCharge = () =>
  done(
    () => unwrap(api.POST('/api/charge-kinds', { body: charge.value })),
    `The kind of charge “${charge.value.name.toLowerCase()}” is kept.`,
  )
function ask(what: 'budget' | 'rate' | 'month', known?: { code: string; name: string; account: string }) {
  budget.value = known ? { ...known } : { code: '', name: '', account: 'stock' }
  rate.value = { currency: '', day: today.value, rate: '' }
  asking.value = what
}
async function done(work: () => Promise<unknown>, says: string) {
  if ((await send(work)) === undefined) return
  asking.value = undefined
  tell(says)
  await client.invalidateQueries()
}
const keepBudget = () =>
  done(
    () => unwrap(api.POST('/api/budgets', { body: budget.value })),
    `Budget ${budget.value.code.toUpperCase()} is kept.`,
  )
const keepRate = () =>
  done(
    () => unwrap(api.POST('/api/rates', { body: { ...rate.value, rate: sent(rate.value.rate) || '0' } })),
    `The rate of ${rate.value.currency.toUpperCase()} holds from ${showDay(rate.value.day, today.value)}.`,
  )
const closeMonth = (month: string) =>
  done(
    () => unwrap(api.POST('/api/periods', { body: { month } })),
    `${monthName(month)} is closed: nothing is booked into it any more.`,
  )
</script>

<template>
  <main class="desk alone">
    <section class="sheet" aria-label="Budgets and books">
      <NoticeBar />
      <header>
        <div class="headline">
          <h1>Budgets and books</h1>
          <SetUpTabs />
        </div>
      </header>
      <div v-if="error" class="nothing" role="alert">{{ error.message }}</div>
      <div v-else-if="frame" class="body" tabindex="0">
        <h2>
          Budgets
          <button v-if="may('saveBudget')" type="button" class="linkish" @click="ask('budget')">Add a budget</button>
        </h2>
        <SmallForm v-if="asking === 'budget'" action="Keep the budget" @done="keepBudget" @cancel="asking = undefined">
          <div class="entry">
            <EntryField id="budget-code" v-model="budget.code" class="mono" label="Code" :error="at('code')" />
            <EntryField id="budget-name" v-model="budget.name" label="What it is for" :error="at('name')" />
            <div>
              <label for="budget-account">Booked to</label>
              <PickField id="budget-account" v-model="budget.account" :options="accounts" />
              <div class="small text-danger">{{ at('account') }}</div>
            </div>
          </div>
        </SmallForm>
        <p v-if="!frame.budgets.length" class="muted">None yet. Every order line is charged to one.</p>
        <table v-else class="grid mb-3" style="max-width: 640px">
          <thead>
            <tr>
              <th>Code</th>
              <th>For</th>
              <th>Booked to</th>
              <th></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="b in frame.budgets" :key="b.code">
              <td class="mono">{{ b.code }}</td>
              <td>{{ b.name }}</td>
              <td>{{ b.account === 'expense' ? 'cost' : b.account }}</td>
              <td>
                <button
                  v-if="may('saveBudget')"
                  type="button"
                  class="linkish d-block"
                  :aria-label="`Change budget ${b.code}`"
                  @click="ask('budget', b)"
                >
                  Change
                </button>
              </td>
            </tr>
          </tbody>
        </table>
        <h2>
          Kinds of charge
          <button v-if="may('saveChargeKind')" type="button" class="linkish" @click="askCharge()">Add a kind</button>
        </h2>
        <SmallForm v-if="asking === 'charge'" action="Keep the kind" @done="keepCharge" @cancel="asking = undefined">
          <div class="entry">
            <EntryField
              id="charge-name"
              v-model="charge.name"
              label="What it is for"
              hint="orders and invoices carry it under this name"
              :readonly="known"
              :error="at('name')"
            />
            <EntryField
              id="charge-standard"
              v-model="charge.standard"
              label="Code in e-invoices"
              hint="of UNCL 7161, where it has one"
              maxlength="3"
              :error="at('standard')"
            />
          </div>
          <TickBox v-if="known" v-model="charge.ended">Offered no more</TickBox>
        </SmallForm>
        <table class="grid mb-3" style="max-width: 640px">
          <thead>
            <tr>
              <th>For</th>
              <th>Code in e-invoices</th>
              <th></th>
              <th></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="k in frame.charges" :key="k.name">
              <td>{{ k.name }}</td>
              <td class="mono">{{ k.standard }}</td>
              <td class="muted">{{ k.ended ? 'offered no more' : '' }}</td>
              <td>
                <button
                  v-if="may('saveChargeKind')"
                  type="button"
                  class="linkish d-block"
                  :aria-label="`Change ${k.name}`"
                  @click="askCharge(k)"
                >
                  Change
                </button>
              </td>
            </tr>
          </tbody>
        </table>
        <h2>
          Exchange rates
          <button v-if="may('setRate')" type="button" class="linkish" @click="ask('rate')">Add a rate</button>
        </h2>
        <SmallForm v-if="asking === 'rate'" action="Keep the rate" @done="keepRate" @cancel="asking = undefined">
          <div class="entry">
            <EntryField
              id="rate-currency"
              v-model="rate.currency"
              label="Currency"
              maxlength="3"
              :error="at('currency')"
            />
            <EntryField
              id="rate-rate"
              v-model="rate.rate"
              :label="`One of it in ${current?.currency}`"
              inputmode="decimal"
              :error="at('rate')"
            />
            <EntryField id="rate-day" v-model="rate.day" type="date" label="Holds from" :error="at('day')" />
          </div>
        </SmallForm>
        <p v-if="!rates.length" class="muted">None yet. Orders and invoices in another currency need one.</p>
        <ul class="plain mb-3">
          <li v-for="r in rates" :key="r.currency + r.day">
            1 {{ r.currency }} = {{ show(r.rate) }} {{ current?.currency }}
            <span class="muted">from {{ showDay(r.day, today) }}</span>
          </li>
        </ul>
        <MoreRows :more="frame.more" way="Earlier ones still hold for their days." />
        <h2>Months of the books</h2>
        <p>
          Open from {{ monthName(frame.open) }} on<template v-if="frame.closed.length"
            >; closed: {{ frame.closed.map(monthName).join(', ') }}</template
          >.
          <button
            v-if="may('closePeriod') && frame.open < today.slice(0, 7) && asking !== 'month'"
            type="button"
            class="linkish"
            @click="ask('month')"
          >
            Close {{ monthName(frame.open) }}
          </button>
        </p>
        <SmallForm
          v-if="asking === 'month'"
          :action="`Close ${monthName(frame.open)}`"
          @done="closeMonth(frame.open)"
          @cancel="asking = undefined"
        >
          <p class="mb-2">
            <b>Close {{ monthName(frame.open) }}.</b> Deliveries and invoices are not booked into it any more. It is not
            opened again.
          </p>
          <div class="small text-danger">{{ at('month') }}</div>
        </SmallForm>
      </div>
    </section>
  </main>
</template>
