<script setup lang="ts">
// Suppliers' statements that were kept, with the balances as they were then.
import { useQuery } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import { api, unwrap } from '@/api/client'
import { useKeys } from '@/parts/keys'
import { show, showDay, showInstant } from '@/parts/numbers'
import { may, today } from '@/parts/session'
import LookFrame from './LookFrame.vue'

const router = useRouter()
const { data, error } = useQuery({
  queryKey: ['supplier-statements'],
  queryFn: () => unwrap(api.GET('/api/supplier-statements')),
})
useKeys(() =>
  may('keepStatement')
    ? [{ key: 'n', label: 'a statement', run: () => void router.push('/lookup/statements/new') }]
    : [],
)
</script>

<template>
  <LookFrame
    title="Suppliers’ statements"
    says="What a supplier says that it is owed, beside what is here."
    :error="error"
    :ready="data !== undefined"
  >
    <template #head>
      <RouterLink v-if="may('keepStatement')" class="ms-auto" to="/lookup/statements/new">Enter a statement</RouterLink>
    </template>
    <template v-if="data">
      <p v-if="!data.length" class="nothing">No statement is kept yet.</p>
      <table v-else class="grid trials">
        <thead>
          <tr>
            <th>Supplier</th>
            <th>Of</th>
            <th class="num">They said</th>
            <th class="num">We had open</th>
            <th>Currency</th>
            <th>Kept</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="s in data" :key="s.number">
            <td>
              <RouterLink :to="`/lookup/statements/${s.number}`"
                >{{ s.supplierName }}<span class="visually-hidden"> of {{ s.day }}</span></RouterLink
              >
            </td>
            <td>{{ showDay(s.day, today) }}</td>
            <td class="num">{{ show(s.theirs) }}</td>
            <td class="num">{{ show(s.ours) }}</td>
            <td>{{ s.currency }}</td>
            <td class="muted">{{ s.by }}, {{ showInstant(s.at, today) }}</td>
          </tr>
        </tbody>
      </table>
    </template>
  </LookFrame>
</template>
