<script setup lang="ts">
// What an invoice states as a whole, when it is posted, when its tax is due, and what it is about.
import NumberField from '@/parts/NumberField.vue'
import PickField from '@/parts/PickField.vue'
import TextField from '@/parts/TextField.vue'
import { useQuery } from '@tanstack/vue-query'
import { companyQuery } from '@/api/queries'
import { proposedAbout } from '@/parts/about'
import type { DraftInvoice } from './entry'
import type { Paper } from './papers'

defineProps<{
  problem: (field: string) => string | undefined
  /** How the total stands where it was read from the paper. */
  mark: ReturnType<Paper['mark']>
  taxed: boolean
  ordered: boolean
  holds: boolean
}>()
const draft = defineModel<DraftInvoice>({ required: true })
const { data: frame } = useQuery(companyQuery)
</script>

<template>
  <div class="mb-2 d-flex gap-3">
    <div>
      <label for="invoice-total">Stated total with tax</label>
      <NumberField
        id="invoice-total"
        v-model="draft.statedTotal"
        label="Stated total with tax"
        :class="mark"
        :error="problem('statedTotal')"
        style="width: 140px"
      />
    </div>
    <div>
      <label
        for="invoice-posting"
        class="d-block"
        title="Blank: the date of the invoice, or the first open day after it"
        >Posting day</label
      >
      <TextField
        id="invoice-posting"
        v-model="draft.postingDay"
        type="date"
        :state="problem('postingDay') ? false : undefined"
      />
    </div>
    <div v-if="taxed || draft.taxPoint">
      <label
        for="invoice-tax-point"
        class="d-block"
        title="The day that says which tax rate holds. Blank: the date of the invoice"
        >Tax point</label
      >
      <TextField
        id="invoice-tax-point"
        v-model="draft.taxPoint"
        type="date"
        :state="problem('taxPoint') ? false : undefined"
      />
      <div class="small text-danger" role="alert">{{ problem('taxPoint') }}</div>
    </div>
    <div v-if="ordered" class="pt-4 nowrap">
      <BFormCheckbox
        id="invoice-final"
        v-model="draft.final"
        title="What is not invoiced by then is closed when it is verified: no more goods and no more invoices"
        >Last invoice</BFormCheckbox
      >
    </div>
    <div class="flex-grow-1">
      <label for="invoice-about">What it is about</label>
      <TextField
        id="invoice-about"
        v-model="draft.about"
        autocomplete="off"
        :state="problem('about') ? false : undefined"
        :placeholder="proposedAbout(draft.lines.map((l) => l.description))"
      />
      <div class="small text-danger" role="alert">{{ problem('about') }}</div>
    </div>
  </div>
  <div v-if="draft.kind !== 'credit_note'" class="mb-2 d-flex gap-3 align-items-end">
    <div data-aside>
      <label for="invoice-due" class="d-block" title="Blank: by the terms of the supplier">Due, if it says so</label>
      <TextField
        id="invoice-due"
        v-model="draft.due"
        type="date"
        :state="problem('due') ? false : undefined"
        data-aside
      />
      <div class="small text-danger" role="alert">{{ problem('due') }}</div>
    </div>
    <div data-aside>
      <label for="invoice-reference" title="What the supplier wants to read with the payment">Payment reference</label>
      <TextField
        id="invoice-reference"
        v-model="draft.reference"
        class="mono"
        autocomplete="off"
        :state="problem('reference') ? false : undefined"
        data-aside
        style="width: 230px"
      />
      <div class="small text-danger" role="alert">{{ problem('reference') }}</div>
    </div>
    <div v-if="holds">
      <label for="invoice-hold">Payment hold</label>
      <PickField
        id="invoice-hold"
        v-model="draft.hold"
        data-aside
        :options="[
          { value: '', text: 'none' },
          ...(frame?.holdReasons ?? []).map((r) => ({ value: r.code, text: r.name })),
        ]"
      />
    </div>
    <div v-if="draft.hold" class="flex-grow-1">
      <label for="invoice-hold-note">Note to the hold</label>
      <TextField id="invoice-hold-note" v-model="draft.holdNote" autocomplete="off" />
    </div>
    <p v-if="draft.hold" class="small muted mb-1">It verifies, and is not released before the hold is taken off.</p>
  </div>
</template>
