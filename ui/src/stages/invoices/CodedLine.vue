<script setup lang="ts">
// A line without an order: what it is for, and the budget that it is charged to.
import { useQuery } from '@tanstack/vue-query'
import { companyQuery } from '@/api/queries'
import TextField from '@/parts/TextField.vue'
import type { DraftInvoiceLine } from './entry'

defineProps<{ index: number; problem: (line: number, field: string) => string | undefined }>()
const line = defineModel<DraftInvoiceLine>({ required: true })
const { data: frame } = useQuery(companyQuery)
</script>

<template>
  <div class="coded">
    <TextField
      :id="`described-${index}`"
      v-model="line.description"
      :aria-label="`What line ${index + 1} is for`"
      placeholder="What it is for"
      autocomplete="off"
    />
    <TextField
      :id="`budget-${index}`"
      :model-value="line.budget ?? ''"
      :aria-label="`Budget of line ${index + 1}`"
      placeholder="Budget, or TANKS 60, CLINIC 40"
      autocomplete="off"
      :list="`budgets-${index}`"
      :state="problem(index, 'budget') ? false : undefined"
      :aria-describedby="`budget-${index}-error`"
      @update:model-value="(v: string) => (line.budget = v)"
    />
    <datalist :id="`budgets-${index}`">
      <option v-for="b in frame?.budgets ?? []" :key="b.code" :value="b.code">{{ b.name }}</option>
    </datalist>
    <div :id="`budget-${index}-error`" class="small text-danger">{{ problem(index, 'budget') }}</div>
  </div>
</template>
