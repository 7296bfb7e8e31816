<script setup lang="ts">
// Tax codes: a category with its rates, each from a day on, that orders, items, suppliers and invoices carry.
import { ref } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { api, unwrap, type Frame } from '@/api/client'
import EntryField from '@/parts/EntryField.vue'
import PickField from '@/parts/PickField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import TickBox from '@/parts/TickBox.vue'
import { useJob } from '@/parts/job'
import { useKept } from '@/parts/kept'
import { tell } from '@/parts/notice'
import { sent, show, showDay } from '@/parts/numbers'
import { may, today } from '@/parts/session'
import { taxCategories } from './taxes'

defineProps<{ frame: Frame }>()
type Code = Frame['taxes'][number] & { known: boolean } // code and category of a known one stay
const named = (category: string) => taxCategories.find((c) => c.value === category)?.text ?? category
const client = useQueryClient()
const { at, send } = useJob({ within: '.ask' })
const form = ref<Code>()
const { again, done: kept } = useKept(form, (c) => `tax.${c.known ? c.code : 'new'}`)
const change = (c: Frame['taxes'][number]) => {
  form.value = { ...c, rates: c.rates.map((r) => ({ from: r.from, rate: show(r.rate) })), known: true }
}
async function keep({ code, name, category, rates, ended }: Code) {
  const body = {
    code,
    name,
    category,
    ended,
    rates: rates.filter((r) => r.rate.trim() !== '').map((r) => ({ from: r.from, rate: sent(r.rate) })),
  }
  if (!(await send(() => unwrap(api.POST('/api/tax-codes', { body }))))) return
  kept()
  tell(`Tax code ${code.toUpperCase()} is kept.`)
  await client.invalidateQueries()
}
</script>

<template>
  <div>
    <h2>
      Tax codes
      <button
        v-if="may('saveTaxCode')"
        type="button"
        class="linkish"
        @click="
          form = { code: '', name: '', category: 'S', rates: [{ from: today, rate: '' }], ended: false, known: false }
        "
      >
        Add a tax code
      </button>
    </h2>
    <SmallForm v-if="form" :again="again" action="Keep the tax code" @done="keep(form)" @cancel="form = undefined">
      <div class="entry">
        <EntryField
          id="tax-code"
          v-model="form.code"
          label="Code"
          class="mono"
          hint="typed where a line says its tax"
          :readonly="form.known"
          :error="at('code')"
        />
        <EntryField id="tax-name" v-model="form.name" label="What it is for" :error="at('name')" />
        <div style="width: 260px">
          <label for="tax-category">Category</label>
          <PickField id="tax-category" v-model="form.category" :options="taxCategories" :disabled="form.known" />
          <div class="small text-danger">{{ at('category') }}</div>
        </div>
      </div>
      <div v-for="(r, i) in form.rates" :key="i" class="entry">
        <EntryField :id="`tax-from-${i}`" v-model="r.from" type="date" label="From" />
        <EntryField :id="`tax-rate-${i}`" v-model="r.rate" label="Rate, %" inputmode="decimal" />
        <button
          v-if="form.rates.length > 1"
          type="button"
          class="linkish align-self-end"
          :aria-label="`Take out the rate from ${r.from}`"
          @click="form.rates.splice(i, 1)"
        >
          Take out
        </button>
      </div>
      <div v-if="at('rates')" class="small text-danger" role="alert">{{ at('rates') }}</div>
      <button type="button" class="linkish d-block mb-2" @click="form.rates.push({ from: today, rate: '' })">
        Add a rate from a later day
      </button>
      <p v-if="['AE', 'K'].includes(form.category)" class="muted small">
        Documents state no rate under this category; this one is the rate at which we owe the tax and claim it.
      </p>
      <TickBox v-if="form.known" v-model="form.ended">Offered no more</TickBox>
    </SmallForm>
    <p v-if="!frame.taxes.length" class="muted">
      None yet. Without codes a line states its rate itself; under reverse charge a code says what we owe.
    </p>
    <table v-else class="grid mb-3" style="max-width: 760px">
      <thead>
        <tr>
          <th>Code</th>
          <th>For</th>
          <th>Category</th>
          <th>Rates</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="t in frame.taxes" :key="t.code">
          <td class="mono">{{ t.code }}</td>
          <td>{{ t.name }}<span v-if="t.ended" class="muted"> (offered no more)</span></td>
          <td>{{ named(t.category) }}</td>
          <td>
            <div v-for="r in t.rates" :key="r.from">{{ show(r.rate) }} % from {{ showDay(r.from, today) }}</div>
          </td>
          <td>
            <button
              v-if="may('saveTaxCode')"
              type="button"
              class="linkish d-block"
              :aria-label="`Change tax code ${t.code}`"
              @click="change(t)"
            >
              Change
            </button>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>
