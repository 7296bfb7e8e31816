<script setup lang="ts">
// Who may invoice in a supplier's place: named by one person, confirmed by another.
import { computed, ref } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { api, unwrap, type SupplierSheet } from '@/api/client'
import { suppliersQuery } from '@/api/queries'
import EntryChoice from '@/parts/EntryChoice.vue'
import SmallForm from '@/parts/SmallForm.vue'
import { tell } from '@/parts/notice'
import { placeOf } from '@/parts/places'
import { may as allowed } from '@/parts/session'
import { useJob } from '@/parts/job'
import { useKept } from '@/parts/kept'

const props = defineProps<{ supplier: SupplierSheet }>()
const client = useQueryClient()
const { at, send, busy } = useJob({ within: '.ask' })
const may = computed(() => allowed('nameInvoicer'))
const form = ref<{ invoicer: string }>()
const { again, done: kept } = useKept(form, () => `invoicer.${props.supplier.code}`)
const { data: suppliers } = useQuery(suppliersQuery)
const choices = computed(() =>
  (suppliers.value ?? [])
    .filter((s) => s.code !== props.supplier.code)
    .map((s) => ({ value: s.code, text: s.name, also: s.code })),
)
const path = computed(() => ({ params: { path: { code: props.supplier.code } } }))
async function keep(invoicer: string, ended: boolean) {
  const body = { invoicer, ended }
  if (!(await send(() => unwrap(api.POST('/api/suppliers/{code}/invoicers', { ...path.value, body }))))) return
  kept()
  tell(ended ? `${invoicer} may invoice here no more.` : `${invoicer} is named; somebody else confirms it.`)
  await client.invalidateQueries()
}
const confirm = (invoicer: string) =>
  send(() => unwrap(api.POST('/api/suppliers/{code}/invoicers/confirm', { ...path.value, body: { invoicer } })), {
    done: `${invoicer} may invoice in the place of ${props.supplier.name}.`,
  })
</script>

<template>
  <h2>
    Who else invoices its orders
    <button v-if="may" type="button" class="linkish" @click="form = { invoicer: '' }">Name one</button>
  </h2>
  <SmallForm v-if="form" :again="again" action="Name it" @done="keep(form.invoicer, false)" @cancel="form = undefined">
    <EntryChoice
      id="invoicer"
      v-model="form.invoicer"
      label="Supplier that invoices in its place"
      :choices="choices"
      :error="at('invoicer')"
    />
  </SmallForm>
  <p v-if="!supplier.invoicers?.length && !form" class="muted">
    Nobody: another supplier’s invoice finds no order here.
  </p>
  <ul class="plain mb-3">
    <li v-for="i in supplier.invoicers ?? []" :key="i.code">
      <RouterLink :to="placeOf.supplier(i.code)">{{ i.name }}</RouterLink>, named by {{ i.by
      }}<span v-if="!i.confirmed" class="outside-text">; not confirmed yet</span>
      <button
        v-if="!i.confirmed && !i.own && allowed('confirmInvoicer')"
        type="button"
        class="linkish ms-2"
        :aria-label="`Confirm ${i.name}`"
        :disabled="busy"
        @click="confirm(i.code)"
      >
        Confirm
      </button>
      <button
        v-if="may"
        type="button"
        class="linkish ms-2"
        :aria-label="`End ${i.name}`"
        :disabled="busy"
        @click="keep(i.code, true)"
      >
        End
      </button>
    </li>
  </ul>
</template>
