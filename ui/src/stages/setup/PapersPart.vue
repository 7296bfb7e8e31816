<script setup lang="ts">
// Where the papers of a supplier say what, as corrections taught; each can be forgotten.
import { api, unwrap, type SupplierSheet } from '@/api/client'
import { useJob } from '@/parts/job'
import { placeOf } from '@/parts/places'
import { may } from '@/parts/session'

const props = defineProps<{ supplier: SupplierSheet }>()
const names: Record<string, string> = { number: 'The invoice number', date: 'The invoice date', total: 'The total' }
const { send, busy } = useJob({ says: 'all' })
const forget = (field: string) =>
  send(
    () =>
      unwrap(
        api.POST('/api/suppliers/{code}/papers/forget', {
          params: { path: { code: props.supplier.code } },
          body: { field },
        }),
      ),
    { done: `${names[field]} is looked for as on any paper again.` },
  )
</script>

<template>
  <template v-if="supplier.papers?.length">
    <h2>Learned of its papers</h2>
    <ul class="plain mb-3">
      <li v-for="p in supplier.papers" :key="p.field">
        {{ names[p.field] }} stands {{ p.below ? 'below' : 'behind' }} “{{ p.words }}”, as corrected on
        <RouterLink :to="placeOf.invoice(p.invoice)">{{ p.supplierNumber }}</RouterLink>
        <button
          v-if="may('forgetPaper')"
          type="button"
          class="linkish ms-2"
          :aria-label="`Forget where ${names[p.field]?.toLowerCase()} stands`"
          :disabled="busy"
          @click="forget(p.field)"
        >
          Forget
        </button>
      </li>
    </ul>
  </template>
</template>
