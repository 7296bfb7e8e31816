<script setup lang="ts">
// Budgets that order lines are charged to, and the account that each is booked to.
import { ref } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { api, unwrap, type Frame } from '@/api/client'
import EntryField from '@/parts/EntryField.vue'
import KeptPapers from '@/parts/KeptPapers.vue'
import PickField from '@/parts/PickField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import { useJob } from '@/parts/job'
import { useKept } from '@/parts/kept'
import { tell } from '@/parts/notice'
import { show } from '@/parts/numbers'
import { current, may } from '@/parts/session'

defineProps<{ frame: Frame }>()
type Budget = Frame['budgets'][number]
const client = useQueryClient()
const { at, send } = useJob({ within: '.ask' })
const form = ref<Budget>()
const { again, done: kept } = useKept(form, (b) => `budget.${b.code || 'new'}`)
const accounts = [
  { value: 'stock', text: 'stock' },
  { value: 'expense', text: 'cost' },
  { value: 'assets', text: 'fixed assets' },
]
const papersOf = ref<string>()
/** What is ordered and invoiced is worked out when somebody wants to know. */
const asked = ref(false)
const { data: taken } = useQuery({
  queryKey: ['budgets', 'taken'],
  queryFn: () => unwrap(api.GET('/api/budgets')),
  enabled: asked,
})
const of = (code: string) => taken.value?.find((t) => t.code === code)
async function keep(budget: Budget) {
  if (!(await send(() => unwrap(api.POST('/api/budgets', { body: budget }))))) return
  kept()
  tell(`Budget ${budget.code.toUpperCase()} is kept.`)
  await client.invalidateQueries()
}
</script>

<template>
  <div>
    <h2>
      Budgets
      <button
        v-if="may('saveBudget')"
        type="button"
        class="linkish"
        @click="form = { code: '', name: '', account: 'stock' }"
      >
        Add a budget
      </button>
    </h2>
    <SmallForm v-if="form" :again="again" action="Keep the budget" @done="keep(form)" @cancel="form = undefined">
      <div class="entry">
        <EntryField id="budget-code" v-model="form.code" class="mono" label="Code" :error="at('code')" />
        <EntryField id="budget-name" v-model="form.name" label="What it is for" :error="at('name')" />
        <div>
          <label for="budget-account">Booked to</label>
          <PickField id="budget-account" v-model="form.account" :options="accounts" />
          <div class="small text-danger">{{ at('account') }}</div>
        </div>
      </div>
    </SmallForm>
    <p v-if="frame.budgets.length && !taken" class="mb-1">
      <button type="button" class="linkish py-1" @click="asked = true">What is ordered and invoiced of each</button>
    </p>
    <p v-else-if="taken" class="muted mb-1">
      {{ current?.currency }}, net. Taken is, line by line, the larger of what is ordered and what is invoiced.
    </p>
    <p v-if="!frame.budgets.length" class="muted">None yet. Every order line is charged to one.</p>
    <table v-else class="grid mb-3" style="max-width: 760px">
      <thead>
        <tr>
          <th>Code</th>
          <th>For</th>
          <th>Booked to</th>
          <th v-if="taken" class="num">Ordered</th>
          <th v-if="taken" class="num">Invoiced</th>
          <th v-if="taken" class="num">Taken</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <template v-for="b in frame.budgets" :key="b.code">
          <tr>
            <td class="mono">{{ b.code }}</td>
            <td>{{ b.name }}</td>
            <td>{{ accounts.find((a) => a.value === b.account)?.text }}</td>
            <template v-if="taken">
              <td class="num">{{ show(of(b.code)?.ordered) }}</td>
              <td class="num">{{ show(of(b.code)?.invoiced) }}</td>
              <td class="num">{{ show(of(b.code)?.taken) }}</td>
            </template>
            <td>
              <button
                v-if="may('saveBudget')"
                type="button"
                class="linkish d-block"
                :aria-label="`Change budget ${b.code}`"
                @click="form = { ...b }"
              >
                Change
              </button>
              <button
                type="button"
                class="linkish d-block"
                :aria-label="`Papers of budget ${b.code}`"
                :aria-expanded="papersOf === b.code"
                @click="papersOf = papersOf === b.code ? undefined : b.code"
              >
                Papers
              </button>
            </td>
          </tr>
          <tr v-if="papersOf === b.code" class="said">
            <td :colspan="taken ? 7 : 4">
              <KeptPapers
                on="budget"
                :of="b.code"
                none="None. What is kept here can go along with orders from this budget."
              />
            </td>
          </tr>
        </template>
      </tbody>
    </table>
  </div>
</template>
