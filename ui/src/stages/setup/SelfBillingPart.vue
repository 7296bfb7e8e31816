<script setup lang="ts">
// What is agreed with a supplier on invoices that we write ourselves.
import { computed, ref } from 'vue'
import { api, unwrap, type SupplierSheet } from '@/api/client'
import DayField from '@/parts/DayField.vue'
import EntryField from '@/parts/EntryField.vue'
import PickField from '@/parts/PickField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import { useJob } from '@/parts/job'
import { useKept } from '@/parts/kept'
import { showDay } from '@/parts/numbers'
import { may as allowed, today } from '@/parts/session'

const props = defineProps<{ supplier: SupplierSheet }>()
const { at, send, busy } = useJob({ within: '.ask' })
const may = computed(() => allowed('agreeSelfBilling'))
const agreed = computed(() => props.supplier.selfBilling)
const per = { receipt: 'each receipt', order: 'each order', period: 'each run' }
const every = {
  '': 'when a person says so',
  day: 'every evening, by themselves',
  week: 'on Fridays, by themselves',
  month: 'on the last day of the month, by themselves',
}
const form = ref<{
  from: string
  until: string
  prefix: string
  per: string
  every: string
  statement: string
  items: string
}>()
const { again, done } = useKept(form, () => `selfbilling.${props.supplier.code}`)
function open() {
  const a = agreed.value
  form.value = {
    from: a?.from ?? today.value,
    until: a?.until ?? '',
    prefix: a?.prefix ?? `SB-${props.supplier.code}-`,
    per: a?.per ?? 'receipt',
    every: a?.every ?? '',
    statement: a?.statement ?? 'Self-billed invoice, made out by the buyer. The supplier accounts for the tax.',
    items: (a?.items ?? []).join(', '),
  }
}
async function keep() {
  const f = form.value
  if (!f) return
  const body = { ...f, items: f.items.split(/[,;\s]+/).filter(Boolean) }
  const path = { params: { path: { code: props.supplier.code } } }
  await send(() => unwrap(api.POST('/api/suppliers/{code}/self-billing', { ...path, body })), {
    after: done,
    done: 'It is agreed, for what is ordered from now on.',
  })
}
</script>

<template>
  <h2>
    Who writes its invoices
    <button v-if="may" type="button" class="linkish" @click="open">{{ agreed ? 'Change it' : 'We do…' }}</button>
  </h2>
  <SmallForm v-if="form" :again="again" action="Agree it" :disabled="busy" @done="keep" @cancel="form = undefined">
    <p class="mb-2">
      <b>We write its invoices</b> of what comes on orders that are issued while this is in force. Orders that are out
      stay as they are.
    </p>
    <div class="d-flex flex-wrap gap-3">
      <div>
        <label for="self-from" class="d-block">From</label>
        <DayField id="self-from" v-model="form.from" data-first :state="at('from') ? false : undefined" />
        <div class="small text-danger">{{ at('from') }}</div>
      </div>
      <div>
        <label for="self-until" class="d-block">Until, empty: without an end</label>
        <DayField id="self-until" v-model="form.until" :state="at('until') ? false : undefined" />
        <div class="small text-danger">{{ at('until') }}</div>
      </div>
      <EntryField id="self-prefix" v-model="form.prefix" label="Its numbers begin" :error="at('prefix')" />
      <div>
        <label for="self-per" class="d-block">One invoice for</label>
        <PickField
          id="self-per"
          v-model="form.per"
          :options="Object.entries(per).map(([value, text]) => ({ value, text }))"
        />
      </div>
      <div>
        <label for="self-every" class="d-block">Written</label>
        <PickField
          id="self-every"
          v-model="form.every"
          :options="Object.entries(every).map(([value, text]) => ({ value, text }))"
        />
      </div>
    </div>
    <div class="mt-3">
      <EntryField
        id="self-statement"
        v-model="form.statement"
        label="What stands on every one"
        :error="at('statement')"
      />
    </div>
    <div class="mt-3">
      <EntryField id="self-items" v-model="form.items" label="Items by code, empty: all" :error="at('items')" />
    </div>
  </SmallForm>
  <p v-else-if="!agreed" class="muted">The supplier does.</p>
  <p v-else class="mb-3">
    {{ agreed.now ? 'We do' : 'We do not now' }}, from {{ showDay(agreed.from, today)
    }}<template v-if="agreed.until"> until {{ showDay(agreed.until, today) }}</template
    >, one for {{ per[agreed.per as keyof typeof per] }}, numbered <span class="mono">{{ agreed.prefix }}…</span
    ><template v-if="agreed.items.length">, of {{ agreed.items.join(', ') }}</template
    >, written {{ every[(agreed.every ?? '') as keyof typeof every]
    }}<template v-if="agreed.wrote">, last of what came until {{ showDay(agreed.wrote, today) }}</template
    >. <span class="muted">{{ agreed.statement }}</span>
  </p>
</template>
