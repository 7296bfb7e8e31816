<script setup lang="ts">
// The notes on a supplier that are to be shown in a stage today.
import { computed } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap } from '@/api/client'
import NotesStrip from './NotesStrip.vue'

const props = defineProps<{ code: string | undefined; stage: 'receiving' | 'invoices' | 'payments' }>()
const { data: notes } = useQuery({
  queryKey: ['notes', props.stage, computed(() => props.code)],
  queryFn: () =>
    unwrap(
      api.GET('/api/suppliers/{code}/notes', {
        params: { path: { code: props.code ?? '' }, query: { stage: props.stage } },
      }),
    ),
  enabled: computed(() => !!props.code),
})
</script>

<template>
  <NotesStrip :notes="notes ?? []" />
</template>
