<script setup lang="ts">
// Costs that are spread over months: what is due, the runs that posted it, and taking the last one back.
import { computed, ref } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { api, unwrap } from '@/api/client'
import EntryField from '@/parts/EntryField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import { useJob } from '@/parts/job'
import { tell } from '@/parts/notice'
import { show, showDay, showInstant, showMonth, sums } from '@/parts/numbers'
import { placeOf } from '@/parts/places'
import { current, may, today } from '@/parts/session'

const client = useQueryClient()
const until = ref(today.value)
const { data } = useQuery({
  queryKey: ['deferrals', until],
  queryFn: () => unwrap(api.GET('/api/deferrals', { params: { query: { until: until.value } } })),
})
const { at, send } = useJob({ within: '.ask' })
const asking = ref(false)
const undoing = ref(0)
const due = computed(() => data.value?.due ?? [])
const currency = computed(() => current.value?.currency ?? '')
const total = computed(() => sums(due.value.map((d) => ({ amount: d.amount, currency: currency.value }))))
const parts = (n: number) => (n === 1 ? '1 part' : `${n} parts`)
const last = computed(() => data.value?.runs.find((r) => !r.undone)?.run)
async function post() {
  const done = await send(() => unwrap(api.POST('/api/deferrals', { body: { until: until.value } })))
  if (!done) return
  asking.value = false
  tell(`${parts(due.value.length)} posted, ${total.value}.`)
  await client.invalidateQueries()
}
async function undo() {
  const params = { path: { number: undoing.value } }
  if (!(await send(() => unwrap(api.POST('/api/deferrals/{number}/undo', { params }))))) return
  undoing.value = 0
  tell('The posting is taken back; its months are due again.')
  await client.invalidateQueries()
}
</script>

<template>
  <div v-if="data && (due.length || data.runs.length)">
    <h2>
      Costs spread over months
      <button v-if="may('postDeferrals') && due.length && !asking" type="button" class="linkish" @click="asking = true">
        Post what is due
      </button>
    </h2>
    <SmallForm v-if="asking" action="Post it" @done="post" @cancel="asking = false">
      <div class="entry">
        <EntryField id="deferrals-until" v-model="until" type="date" label="Until" :error="at('until')" />
      </div>
      <p class="mb-2">
        <b>{{ parts(due.length) }}, {{ total }}.</b> Debits the cost, credits deferred expense, each on the last day of
        its month. It can be taken back.
      </p>
    </SmallForm>
    <p v-if="!due.length" class="muted">Nothing is due until {{ showDay(until, today) }}.</p>
    <table v-else class="grid mb-3" style="max-width: 900px">
      <thead>
        <tr>
          <th>Month</th>
          <th>Invoice</th>
          <th>For</th>
          <th>Charged to</th>
          <th class="num">{{ currency }}</th>
          <th>Posted on</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(d, i) in due" :key="i">
          <td>{{ showMonth(d.month) }}</td>
          <td>
            <RouterLink :to="placeOf.invoice(d.invoice)" class="mono">{{ d.supplierNumber }}</RouterLink>
            <span class="muted ms-1">{{ d.supplier }}</span>
          </td>
          <td>{{ d.description }}</td>
          <td class="mono">{{ d.detail }}</td>
          <td class="num">{{ show(d.amount) }}</td>
          <td>{{ showDay(d.postedOn, today) }}</td>
        </tr>
      </tbody>
    </table>
    <p v-if="data.more" class="muted">{{ data.more }} more are due and not shown.</p>
    <ul v-if="data.runs.length" class="plain mb-3">
      <li v-for="r in data.runs" :key="r.run">
        Until {{ showDay(r.until, today) }}: {{ parts(r.parts) }}, {{ show(r.total) }} {{ currency }}, posted
        {{ showInstant(r.at, today) }} by {{ r.by }}<template v-if="r.undone">; taken back</template>.
        <button
          v-if="may('undoDeferrals') && r.run === last && !undoing"
          type="button"
          class="linkish"
          @click="undoing = r.run"
        >
          Take it back
        </button>
      </li>
    </ul>
    <SmallForm v-if="undoing" action="Take it back" @done="undo" @cancel="undoing = 0">
      <p class="mb-2">
        <b>Take the last posting back.</b> Counter-entries of today; the months hold their parts again and are due.
      </p>
    </SmallForm>
  </div>
</template>
