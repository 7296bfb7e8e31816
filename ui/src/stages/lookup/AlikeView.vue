<script setup lang="ts">
// Invoices that may be one and the same, side by side with their papers: under one number, or under one like it.
import { computed } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap } from '@/api/client'
import { placeOf } from '@/parts/places'
import AlikeColumn from './AlikeColumn.vue'
import LookFrame from './LookFrame.vue'

const props = defineProps<{ number: number }>()
const { data, error } = useQuery({
  queryKey: computed(() => ['alike', props.number]),
  queryFn: () => unwrap(api.GET('/api/invoices/{number}/alike', { params: { path: { number: props.number } } })),
})
const { data: first } = useQuery({
  queryKey: computed(() => ['invoice', props.number]),
  queryFn: () => unwrap(api.GET('/api/invoices/{number}', { params: { path: { number: props.number } } })),
})
const columns = computed(() => [
  { number: props.number, why: 'This one' },
  ...(data.value?.same ?? []).map((number) => ({ number, why: 'The same number' })),
  ...(data.value?.like ?? []).map((number) => ({ number, why: 'A number like it' })),
])
</script>

<template>
  <LookFrame
    label="Side by side"
    :title="`Side by side: ${data?.number ?? ''}`"
    says="All invoices under this number or one like it, whatever supplier and state. What differs from the first is marked."
    :error="error"
    :ready="data !== undefined"
  >
    <template #head>
      <RouterLink class="ms-auto" :to="placeOf.list('same')">Same number twice</RouterLink>
    </template>
    <p v-if="columns.length === 1">No other invoice bears this number or one like it.</p>
    <p v-if="data?.more" class="advice">There are more than stand here.</p>
    <div class="beside">
      <AlikeColumn v-for="c in columns" :key="c.number" :number="c.number" :why="c.why" :first="first" />
    </div>
  </LookFrame>
</template>

<style scoped>
.beside {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(300px, 1fr));
  gap: 20px;
  align-items: start;
}
</style>
