<script setup lang="ts">
// What codes on a supplier's invoices stand for, as somebody said when a line could not be found.
import { api, unwrap, type SupplierSheet } from '@/api/client'
import { useJob } from '@/parts/job'
import { placeOf } from '@/parts/places'
import { may } from '@/parts/session'

const props = defineProps<{ supplier: SupplierSheet }>()
const { send, busy } = useJob({ says: 'all' })
const forget = (code: string) =>
  send(
    () =>
      unwrap(
        api.POST('/api/suppliers/{code}/codes/forget', {
          params: { path: { code: props.supplier.code } },
          body: { code },
        }),
      ),
    { done: `${code} stands for nothing any more; what was matched by it stays.` },
  )
</script>

<template>
  <template v-if="supplier.codes?.length">
    <h2>Codes on its invoices</h2>
    <ul class="plain mb-3">
      <li v-for="c in supplier.codes" :key="c.code">
        <span class="mono">{{ c.code }}</span> is
        <RouterLink :to="placeOf.item(c.item)">{{ c.name }}</RouterLink>
        <button
          v-if="may('forgetCode')"
          type="button"
          class="linkish ms-2"
          :aria-label="`Forget ${c.code}`"
          :disabled="busy"
          @click="forget(c.code)"
        >
          Forget
        </button>
      </li>
    </ul>
  </template>
</template>
