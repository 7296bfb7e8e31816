<script setup lang="ts">
// What a supplier always charges or grants: proposed on its orders, and so expected on its invoices.
import { computed, ref } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { api, unwrap, type StandingCharge, type SupplierSheet } from '@/api/client'
import { companyQuery } from '@/api/queries'
import EntryField from '@/parts/EntryField.vue'
import PickField from '@/parts/PickField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import { tell } from '@/parts/notice'
import { sent, show } from '@/parts/numbers'
import { may as allowed } from '@/parts/session'
import { useJob } from '@/parts/job'
import { useKept } from '@/parts/kept'

const props = defineProps<{ supplier: SupplierSheet }>()
const client = useQueryClient()
const { at, send, busy } = useJob({ within: '.ask' })
const may = computed(() => allowed('saveStandingCharge'))
const form = ref<StandingCharge>()
const { again, done: kept } = useKept(form, () => `standing.${props.supplier.code}`)
const { data: frame } = useQuery(companyQuery)
const kinds = computed(() => [
  ...(frame.value?.charges ?? []).filter((k) => !k.ended).map((k) => ({ value: k.name, text: k.name })),
  { value: 'discount', text: 'discount' },
])
async function keep(c: StandingCharge) {
  const body = { kind: c.kind, percent: sent(c.percent), amount: sent(c.amount) }
  const path = { code: props.supplier.code }
  const done = await send(() => unwrap(api.POST('/api/suppliers/{code}/charges', { params: { path }, body })))
  if (!done) return
  kept()
  tell(c.percent || c.amount ? `${c.kind} is proposed on orders from now on.` : `${c.kind} is proposed no more.`)
  await client.invalidateQueries()
}
const says = (c: StandingCharge) =>
  c.percent ? `${show(c.percent)} % of the goods` : `${show(c.amount)} ${props.supplier.currency}`
</script>

<template>
  <h2>
    Standing charges and discounts
    <button v-if="may" type="button" class="linkish" @click="form = { kind: 'freight', percent: '', amount: '' }">
      Add one
    </button>
  </h2>
  <SmallForm v-if="form" :again="again" action="Keep the charge" @done="keep(form)" @cancel="form = undefined">
    <div class="entry">
      <div>
        <label for="standing-kind">For</label>
        <PickField id="standing-kind" v-model="form.kind" :options="kinds" />
        <div class="small text-danger">{{ at('kind') }}</div>
      </div>
      <EntryField
        id="standing-percent"
        v-model="form.percent"
        label="Per cent of the goods"
        inputmode="decimal"
        :error="at('percent')"
      />
      <EntryField
        id="standing-amount"
        v-model="form.amount"
        :label="`or an amount, ${supplier.currency}`"
        inputmode="decimal"
        :error="at('amount')"
      />
    </div>
  </SmallForm>
  <p v-if="!supplier.standing?.length && !form" class="muted">None. What an order plans is typed on it.</p>
  <ul class="plain mb-3">
    <li v-for="c in supplier.standing ?? []" :key="c.kind">
      {{ c.kind }}, {{ says(c) }}
      <button
        v-if="may"
        type="button"
        class="linkish"
        :aria-label="`End ${c.kind}`"
        :disabled="busy"
        @click="keep({ kind: c.kind, percent: '', amount: '' })"
      >
        End
      </button>
    </li>
  </ul>
</template>
