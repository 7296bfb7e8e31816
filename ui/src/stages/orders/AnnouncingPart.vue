<script setup lang="ts">
// Whether the goods of an order are to be announced beforehand, and by when.
import { ref } from 'vue'
import { api, unwrap, type OrderSheet } from '@/api/client'
import EntryField from '@/parts/EntryField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import { useJob } from '@/parts/job'
import { showDay } from '@/parts/numbers'
import { today } from '@/parts/session'

const props = defineProps<{ order: OrderSheet }>()
const days = ref<string>()
const { send, busy, at } = useJob({ within: '.ask' })
const keep = () =>
  send(
    () =>
      unwrap(
        api.POST('/api/orders/{number}/require-notice', {
          params: { path: { number: props.order.number } },
          body: { days: days.value! },
        }),
      ),
    { done: 'It is changed.', after: () => (days.value = undefined) },
  )
const may = () => props.order.may.includes('requireNotice')
</script>

<template>
  <div v-if="order.announcing && (may() || order.announcing.by)" class="mb-2">
    <template v-if="order.announcing.by">
      <b v-if="!order.announcing.here && order.announcing.by <= today" class="outside-text"
        >No despatch notice is here; it was to be here by {{ showDay(order.announcing.by, today) }}</b
      >
      <template v-else
        >A despatch notice is required by {{ showDay(order.announcing.by, today)
        }}{{ order.announcing.here ? ', and is here' : '' }}</template
      ><span class="muted">{{ order.announcing.own ? ', as this order says' : ', as of its supplier' }}.</span>
    </template>
    <span v-else class="muted">No despatch notice is required.</span>
    <button v-if="may() && days === undefined" type="button" class="linkish ms-1" @click="days = order.announcing.own">
      Change…
    </button>
    <SmallForm
      v-if="days !== undefined"
      action="Keep it"
      label="Despatch notice"
      :disabled="busy"
      @done="keep"
      @cancel="days = undefined"
    >
      <div class="entry">
        <EntryField
          id="notice-days"
          v-model="days"
          label="Days before the day wanted"
          hint="never, or a number; empty: as of its supplier"
          :error="at('days')"
        />
      </div>
    </SmallForm>
  </div>
</template>
