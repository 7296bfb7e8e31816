<script setup lang="ts">
// Ends the notice or the count at the door that a delivery would start from.
import { api, unwrap } from '@/api/client'
import AskReason from '@/parts/AskReason.vue'
import { useJob } from '@/parts/job'

const props = defineProps<{ notice: number | undefined; arrival: number | undefined }>()
const emit = defineEmits<{ done: []; cancel: [] }>()
const { send, trouble } = useJob({ says: 'all' })
const words = props.notice
  ? {
      title: 'Take this notice back.',
      books: 'Nothing is announced by it any more; the order stays as it is.',
      label: 'Why it does not hold',
      action: 'Take the notice back',
    }
  : {
      title: 'Throw this count away.',
      books: 'Nothing was booked of it; the delivery is counted again.',
      label: 'What was wrong with it',
      action: 'Throw the count away',
    }
const end = (reason: string) =>
  send<unknown>(
    () =>
      props.notice
        ? unwrap(
            api.POST('/api/notices/{number}/withdraw', {
              params: { path: { number: props.notice } },
              body: { reason },
            }),
          )
        : unwrap(
            api.POST('/api/arrivals/{number}/discard', {
              params: { path: { number: props.arrival ?? 0 } },
              body: { reason },
            }),
          ),
    {
      after: () => emit('done'),
      at: '/receiving',
      done: props.notice ? 'The notice is taken back.' : 'The count is thrown away.',
    },
  )
</script>

<template>
  <AskReason id="end-start" v-bind="words" :error="trouble" @done="end" @cancel="emit('cancel')" />
</template>
