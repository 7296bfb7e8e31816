<script setup lang="ts">
// What the supplier answered to an order: its own number of it, and the day it promises.
import { ref } from 'vue'
import { api, unwrap, type OrderSheet } from '@/api/client'
import EntryField from '@/parts/EntryField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import { useJob } from '@/parts/job'
import { useKept } from '@/parts/kept'
import { showDay } from '@/parts/numbers'
import { today } from '@/parts/session'

const props = defineProps<{ order: OrderSheet }>()
const emit = defineEmits<{ done: []; cancel: [] }>()
const answer = ref<{ reference: string; promisedOn: string }>()
const { again, done: kept } = useKept(answer, () => `answer.${props.order.number}`)
answer.value = { reference: '', promisedOn: props.order.wantedOn }
const { at, send } = useJob({ within: '.ask' })
function note(said: { reference: string; promisedOn: string }) {
  void send(
    () =>
      unwrap(
        api.POST('/api/orders/{number}/answer', {
          params: { path: { number: Number(props.order.number) } },
          body: { version: props.order.version, ...said },
        }),
      ),
    {
      after: () => {
        kept()
        emit('done')
      },
      done: `The acknowledgement is noted, promised for ${showDay(said.promisedOn, today.value)}.`,
    },
  )
}
</script>

<template>
  <SmallForm v-if="answer" action="Note it" :again="again" @done="note(answer)" @cancel="emit('cancel')">
    <p class="mb-2"><b>The supplier has acknowledged the order.</b> It leaves the list of orders to remind.</p>
    <div class="entry">
      <EntryField
        id="answer-reference"
        v-model="answer.reference"
        class="mono"
        label="Their number of the order"
        :error="at('reference')"
      />
      <EntryField
        id="answer-day"
        v-model="answer.promisedOn"
        type="date"
        label="Promised for"
        :error="at('promisedOn')"
      />
    </div>
  </SmallForm>
</template>
