<script setup lang="ts">
// Ends one line of an order early: what is not expected any more and what that releases is said before, in the panel that asks why.
import { computed } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap } from '@/api/client'
import AskReason from '@/parts/AskReason.vue'
import { show } from '@/parts/numbers'
import { useJob } from '@/parts/job'
import { placeOf } from '@/parts/places'

const props = defineProps<{ order: number; line: number }>()
const emit = defineEmits<{ done: []; cancel: [] }>()
const { send, trouble } = useJob({ says: 'all' })
const body = (reason: string) => ({
  lines: [{ order: props.order, line: props.line }],
  goods: true,
  invoices: false,
  reason,
})
const { data: plan } = useQuery({
  queryKey: ['lines', 'ending', props.order, props.line],
  queryFn: () => unwrap(api.POST('/api/lines/closing', { body: body('') })),
})
const against = computed(() => plan.value?.problems[0]?.sentence ?? '')
const releases = computed(() => {
  const r = plan.value?.releases[0]
  return r && Number(r.quantity)
    ? `${show(r.quantity)} ${r.unitName} are not expected any more, worth ${show(r.value)} ${r.currency}.`
    : 'Nothing more is expected of it as it is.'
})
const end = (reason: string) =>
  send(() => unwrap(api.POST('/api/lines/close', { body: body(reason) })), {
    after: () => emit('done'),
    done: `Line ${props.line} of order ${props.order} is ended; no more goods are expected on it.`,
    links: [{ to: placeOf.reopening(props.order), text: 'Open it again' }],
  })
</script>

<template>
  <p v-if="against" class="finding outside mb-0" role="alert">
    {{ against }} <button type="button" class="linkish" @click="emit('cancel')">Leave it</button>
  </p>
  <AskReason
    v-else-if="plan"
    id="end-line"
    title="End this line early."
    :books="`${releases} Nothing is booked; it can be opened again.`"
    label="Why nothing more is wanted"
    action="End the line"
    :error="trouble"
    @done="end"
    @cancel="emit('cancel')"
  />
</template>
