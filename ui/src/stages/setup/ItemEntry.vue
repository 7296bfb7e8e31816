<script setup lang="ts">
// An item is entered or changed.
import { computed } from 'vue'
import { api, unwrap, type ItemSheet } from '@/api/client'
import { useBeginning } from '@/parts/beginning'
import NoticeBar from '@/parts/NoticeBar.vue'
import ItemForm from './ItemForm.vue'
import SetUpTabs from './SetUpTabs.vue'

const props = defineProps<{ code: string }>()
const { data, error } = useBeginning({
  queryKey: ['item', computed(() => props.code)],
  queryFn: () => unwrap(api.GET('/api/items/{code}', { params: { path: { code: props.code } } })),
  enabled: computed(() => props.code !== ''),
})
const blank: ItemSheet = {
  code: '',
  version: 0,
  name: '',
  unit: '',
  whole: false,
  level: '',
  base: '1',
  lots: false,
  account: '',
  budget: '',
  incomplete: false,
  sellers: [],
  units: [],
  limits: [],
}
const entered = computed(() => (props.code ? data.value : blank))
</script>

<template>
  <section class="sheet" aria-label="Item">
    <NoticeBar />
    <div v-if="error" class="nothing" role="alert">{{ error.message }}</div>
    <template v-else-if="entered">
      <header>
        <div class="headline">
          <h1>{{ code ? `Change ${entered.name}` : 'Enter an item' }}</h1>
          <SetUpTabs />
        </div>
      </header>
      <ItemForm :key="entered.code" :item="entered" />
    </template>
  </section>
</template>
