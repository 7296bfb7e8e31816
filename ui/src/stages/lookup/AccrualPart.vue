<script setup lang="ts">
// What is accrued at a month's end, before it is: lines can be taken out, and costs added that came without an order.
import { computed } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap, type MonthEnd } from '@/api/client'
import { companyQuery } from '@/api/queries'
import EntryField from '@/parts/EntryField.vue'
import PickField from '@/parts/PickField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import { useJob } from '@/parts/job'
import { useKeptPanel } from '@/parts/kept'
import { sent, show, showDay, sums } from '@/parts/numbers'
import { today } from '@/parts/session'

const props = defineProps<{ end: MonthEnd }>()
const emit = defineEmits<{ close: [] }>()
const { data: company } = useQuery(companyQuery)
const fresh = () => ({ out: [] as string[], added: [] as { budget: string; amount: string; text: string }[], note: '' })
const { draft: form, kept: again, clear } = useKeptPanel(`accrual.${props.end.month}`, fresh, () => true)
const key = (l: { order?: number; line?: number }) => `${l.order}/${l.line}`
const budgets = computed(() => [
  { value: '', text: 'choose' },
  ...(company.value?.budgets ?? []).map((b) => ({ value: b.code, text: `${b.code} ${b.name}` })),
])
const { send, busy, at } = useJob({ within: '.ask', says: ['', 'month', 'out'] })
function tick(l: { order?: number; line?: number }, on: boolean) {
  form.value.out = on ? form.value.out.filter((k) => k !== key(l)) : [...form.value.out, key(l)]
}
const total = computed(() =>
  sums([
    ...props.end.proposed.lines
      .filter((l) => !form.value.out.includes(key(l)))
      .map((l) => ({ amount: l.amount, currency: props.end.currency })),
    ...form.value.added
      .map((a) => ({ amount: sent(a.amount), currency: props.end.currency }))
      .filter((a) => /^\d+(\.\d+)?$/.test(a.amount)),
  ]),
)
const accrue = () =>
  send(
    () =>
      unwrap(
        api.POST('/api/accruals', {
          body: {
            month: props.end.month,
            note: form.value.note,
            out: form.value.out.map((k) => {
              const [order, line] = k.split('/').map(Number)
              return { order: order ?? 0, line: line ?? 0 }
            }),
            added: form.value.added.map((a) => ({ ...a, amount: sent(a.amount) })),
          },
        }),
      ),
    {
      done: (a) =>
        `Accrual ${a.number} is posted, ${show(a.total)} ${props.end.currency}, and taken back on ${showDay(a.takenBackOn, today.value)}.`,
      after: () => {
        clear()
        emit('close')
      },
    },
  )
</script>

<template>
  <SmallForm
    class="mt-3"
    action="Accrue it"
    label="Accrue"
    :again="again"
    :disabled="busy"
    @done="accrue"
    @cancel="emit('close')"
  >
    <p class="mb-2">
      <b>{{ total || 'Nothing' }}</b>, without tax: debits what the invoices will debit, credits accrued liabilities on
      {{ showDay(end.proposed.postedOn, today) }}; all of it is taken back on
      {{ showDay(end.proposed.takenBackOn, today) }}.
    </p>
    <table v-if="end.proposed.lines.length" class="grid mb-2">
      <thead>
        <tr>
          <th>Accrue</th>
          <th>Order</th>
          <th>Supplier</th>
          <th>What</th>
          <th>Budget</th>
          <th class="num">Not invoiced</th>
          <th class="num">{{ end.currency }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="l in end.proposed.lines" :key="key(l)">
          <td>
            <input
              type="checkbox"
              class="form-check-input"
              :checked="!form.out.includes(key(l))"
              :aria-label="`accrue ${key(l)}`"
              @change="tick(l, ($event.target as HTMLInputElement).checked)"
            />
          </td>
          <td class="mono">{{ key(l) }}</td>
          <td>{{ l.supplier }}</td>
          <td>{{ l.text }}</td>
          <td class="mono">{{ l.budget }}</td>
          <td class="num">{{ show(l.quantity) }} {{ l.unit }}</td>
          <td class="num">{{ show(l.amount) }}</td>
        </tr>
      </tbody>
    </table>
    <p v-for="w in end.proposed.left" :key="w" class="advice mb-1">Left out: {{ w }}</p>
    <div v-for="(a, i) in form.added" :key="i" class="entry">
      <div>
        <label :for="`accrued-budget-${i}`">Budget</label>
        <PickField
          :id="`accrued-budget-${i}`"
          v-model="a.budget"
          :options="budgets"
          :state="at(`added[${i}].budget`) ? false : undefined"
        />
        <div class="small text-danger">{{ at(`added[${i}].budget`) }}</div>
      </div>
      <EntryField :id="`accrued-text-${i}`" v-model="a.text" label="What for" :error="at(`added[${i}].text`)" />
      <EntryField
        :id="`accrued-amount-${i}`"
        v-model="a.amount"
        :label="`${end.currency}, without tax`"
        :error="at(`added[${i}].amount`)"
      />
    </div>
    <p class="mb-2">
      <button type="button" class="linkish" @click="form.added.push({ budget: '', amount: '', text: '' })">
        Add a cost that came without an order
      </button>
    </p>
    <EntryField id="accrual-note" v-model="form.note" label="Note" />
    <p class="small text-danger mb-0">{{ at('') || at('month') || at('out') }}</p>
  </SmallForm>
</template>
