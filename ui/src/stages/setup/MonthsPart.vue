<script setup lang="ts">
// Which months of the books are open, and the closing of the next one.
import { ref } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { api, unwrap, type Frame } from '@/api/client'
import SmallForm from '@/parts/SmallForm.vue'
import { useJob } from '@/parts/job'
import { tell } from '@/parts/notice'
import { showDay } from '@/parts/numbers'
import { may, today } from '@/parts/session'

defineProps<{ frame: Frame }>()
const client = useQueryClient()
const { at, send } = useJob({ within: '.ask' })
const asking = ref(false)
const monthName = (month: string) => showDay(`${month}-01`).slice(2) + ` ${month.slice(0, 4)}`
async function close(month: string) {
  if (!(await send(() => unwrap(api.POST('/api/periods', { body: { month } }))))) return
  asking.value = false
  tell(`${monthName(month)} is closed: nothing is booked into it any more.`)
  await client.invalidateQueries()
}
</script>

<template>
  <div>
    <h2>Months of the books</h2>
    <p>
      Open from {{ monthName(frame.open) }} on<template v-if="frame.closed.length"
        >; closed: {{ frame.closed.map(monthName).join(', ') }}</template
      >.
      <button
        v-if="may('closePeriod') && frame.open < today.slice(0, 7) && !asking"
        type="button"
        class="linkish"
        @click="asking = true"
      >
        Close {{ monthName(frame.open) }}
      </button>
    </p>
    <SmallForm
      v-if="asking"
      :action="`Close ${monthName(frame.open)}`"
      @done="close(frame.open)"
      @cancel="asking = false"
    >
      <p class="mb-2">
        <b>Close {{ monthName(frame.open) }}.</b> Deliveries and invoices are not booked into it any more. It is not
        opened again.
      </p>
      <div class="small text-danger">{{ at('month') }}</div>
    </SmallForm>
  </div>
</template>
