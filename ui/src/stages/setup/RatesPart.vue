<script setup lang="ts">
// Exchange rates, the newest of each currency first: that one is in force.
import { computed, ref } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { api, unwrap, type Frame } from '@/api/client'
import EntryField from '@/parts/EntryField.vue'
import MoreRows from '@/parts/MoreRows.vue'
import SmallForm from '@/parts/SmallForm.vue'
import { useJob } from '@/parts/job'
import { useKept } from '@/parts/kept'
import { tell } from '@/parts/notice'
import { sent, show, showDay } from '@/parts/numbers'
import { current, may, today } from '@/parts/session'

const props = defineProps<{ frame: Frame }>()
type Rate = Frame['rates'][number]
const client = useQueryClient()
const { at, send } = useJob({ within: '.ask' })
const form = ref<Rate>()
const { again, done: kept } = useKept(form, () => 'rate')
const rates = computed(() => [...props.frame.rates].sort((a, b) => (a.currency + b.day < b.currency + a.day ? -1 : 1)))
async function keep(rate: Rate) {
  const body = { ...rate, rate: sent(rate.rate) || '0' }
  if (!(await send(() => unwrap(api.POST('/api/rates', { body }))))) return
  kept()
  tell(`The rate of ${rate.currency.toUpperCase()} holds from ${showDay(rate.day, today.value)}.`)
  await client.invalidateQueries()
}
</script>

<template>
  <div>
    <h2>
      Exchange rates
      <button
        v-if="may('setRate')"
        type="button"
        class="linkish"
        @click="form = { currency: '', day: today, rate: '' }"
      >
        Add a rate
      </button>
    </h2>
    <SmallForm v-if="form" :again="again" action="Keep the rate" @done="keep(form)" @cancel="form = undefined">
      <div class="entry">
        <EntryField id="rate-currency" v-model="form.currency" label="Currency" maxlength="3" :error="at('currency')" />
        <EntryField
          id="rate-rate"
          v-model="form.rate"
          :label="`One of it in ${current?.currency}`"
          inputmode="decimal"
          :error="at('rate')"
        />
        <EntryField id="rate-day" v-model="form.day" type="date" label="Holds from" :error="at('day')" />
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
  </div>
</template>
