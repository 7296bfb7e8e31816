<script setup lang="ts">
// A supplier is entered or changed.
import { computed } from 'vue'
import { api, unwrap } from '@/api/client'
import { useBeginning } from '@/parts/beginning'
import NoticeBar from '@/parts/NoticeBar.vue'
import { current } from '@/parts/session'
import SetUpTabs from './SetUpTabs.vue'
import SupplierForm from './SupplierForm.vue'
import { blankSupplier } from './supplier'

const props = defineProps<{ code: string }>()
const { data, error } = useBeginning({
  queryKey: ['supplier', computed(() => props.code)],
  queryFn: () => unwrap(api.GET('/api/suppliers/{code}', { params: { path: { code: props.code } } })),
  enabled: computed(() => props.code !== ''),
})
const entered = computed(() => (props.code ? data.value : blankSupplier(current.value?.currency ?? '')))
</script>

<template>
  <section class="sheet" aria-label="Supplier">
    <NoticeBar />
    <div v-if="error" class="nothing" role="alert">{{ error.message }}</div>
    <template v-else-if="entered">
      <header>
        <div class="headline">
          <h1>{{ code ? `Change ${entered.name}` : 'Enter a supplier' }}</h1>
          <SetUpTabs />
        </div>
      </header>
      <SupplierForm :key="entered.code" :supplier="entered" />
    </template>
  </section>
</template>
