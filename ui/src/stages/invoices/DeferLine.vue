<script setup lang="ts">
// Over which months the cost of a line is spread, and what each of them would hold.
import { computed } from 'vue'
import type { EntryPreview } from '@/api/client'
import TextField from '@/parts/TextField.vue'
import { show, showMonth } from '@/parts/numbers'
import type { DraftInvoiceLine } from './entry'

const props = defineProps<{ index: number; preview: EntryPreview | undefined; error: string | undefined }>()
const line = defineModel<DraftInvoiceLine>({ required: true })
const months = computed(() => (props.preview?.deferred ?? []).filter((m) => m.line === props.index + 1))
const said = computed(() => months.value.map((m) => `${showMonth(m.month)} ${show(m.spread)}`).join(' · '))
</script>

<template>
  <div v-if="line.defer" class="d-flex flex-wrap gap-2 align-items-center">
    <label :for="`defer-from-${index}`" class="muted">A cost from</label>
    <TextField
      :id="`defer-from-${index}`"
      v-model="line.defer.from"
      placeholder="2026-01"
      autocomplete="off"
      class="mono"
      style="width: 92px"
      :state="error ? false : undefined"
    />
    <label :for="`defer-months-${index}`" class="muted">over</label>
    <TextField
      :id="`defer-months-${index}`"
      v-model="line.defer.months"
      inputmode="numeric"
      autocomplete="off"
      style="width: 60px"
      :state="error ? false : undefined"
    />
    <span class="muted">months</span>
    <button type="button" class="linkish" @click="delete line.defer">At once instead</button>
    <div class="small w-100" :class="error ? 'text-danger' : 'muted'">{{ error || said }}</div>
  </div>
</template>
