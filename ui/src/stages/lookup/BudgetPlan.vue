<script setup lang="ts">
// What a budget has in a year, as one sum or month by month, and the group that it is shown in.
import { computed, ref, watch } from 'vue'
import { api, unwrap } from '@/api/client'
import EntryField from '@/parts/EntryField.vue'
import HistoryFold from '@/parts/HistoryFold.vue'
import SmallForm from '@/parts/SmallForm.vue'
import TickBox from '@/parts/TickBox.vue'
import { useJob } from '@/parts/job'
import { useKept } from '@/parts/kept'
import { sent, show, showMonth, sums } from '@/parts/numbers'
import { useBudgetMonths } from './budgets'

const props = defineProps<{
  code: string
  year: string
  currency: string
  planned: string | undefined
  group: string
}>()
const emit = defineEmits<{ left: [] }>()
const { data: stands } = useBudgetMonths(props)
const form = ref<{ amount: string; group: string; reason: string; months: string[] } | undefined>({
  amount: props.planned ? show(props.planned) : '',
  group: props.group,
  reason: '',
  months: [],
})
const { again, done } = useKept(form, () => `budget.plan.${props.code}.${props.year}`)
const parted = computed(() => (form.value?.months.length ?? 0) > 0)
const fill = () =>
  (form.value!.months = Array.from({ length: 12 }, (_, i) => show(stands.value?.months[i]?.planned ?? '')))
watch(stands, (s) => s?.months[0]?.planned !== undefined && !parted.value && !again.value && fill(), {
  immediate: true,
})
const come = computed(() =>
  sums((form.value?.months ?? []).filter(Boolean).map((m) => ({ amount: sent(m), currency: '' }))).trim(),
)
const { send, busy, at } = useJob({ within: '.ask' })
function keep() {
  const f = form.value!
  const body = {
    budget: props.code,
    year: props.year,
    group: f.group,
    reason: f.reason,
    ...(parted.value ? { amount: '', months: f.months.map((m) => sent(m)) } : { amount: sent(f.amount) }),
  }
  return send(() => unwrap(api.POST('/api/budget-plans', { body })), {
    done: `Budget ${props.code} has ${parted.value ? come.value : show(sent(f.amount))} ${props.currency} in ${props.year}.`,
    after: () => {
      done()
      emit('left')
    },
  })
}
</script>

<template>
  <SmallForm
    v-if="form"
    class="mb-3"
    action="Keep it"
    :label="`Budget ${code}`"
    :again="again"
    :disabled="busy"
    @done="keep"
    @cancel="emit('left')"
  >
    <p class="mb-2">
      <b>Budget {{ code }} in {{ year }}.</b> Who changed it, from what to what and why stays in its history.
    </p>
    <div class="entry">
      <EntryField
        v-if="!parted"
        id="plan-amount"
        v-model="form.amount"
        :label="`${currency}, net of tax`"
        data-first
        :error="at('amount')"
      />
      <EntryField id="plan-group" v-model="form.group" label="Shown in the group" :error="at('group')" />
      <EntryField
        v-if="planned !== undefined"
        id="plan-reason"
        v-model="form.reason"
        label="Why"
        :error="at('reason')"
      />
    </div>
    <TickBox :model-value="parted" @update:model-value="(on: boolean) => (on ? fill() : (form!.months = []))"
      >Month by month</TickBox
    >
    <div v-if="parted" class="entry months">
      <EntryField
        v-for="(_, i) in form.months"
        :id="`plan-month-${i}`"
        :key="i"
        v-model="form.months[i]!"
        :label="showMonth(`${year}-${String(i + 1).padStart(2, '0')}`)"
        :error="at(`months[${i}]`)"
      />
    </div>
    <p v-if="parted" class="mb-2">They come to {{ come || '0' }} {{ currency }}.</p>
    <HistoryFold subject="budget" :number="code" />
  </SmallForm>
</template>
