<script setup lang="ts">
// Which months of the books are open, what hangs in the one that is closed next, and opening one again.
import { computed, ref } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { api, unwrap, type Frame } from '@/api/client'
import EntryField from '@/parts/EntryField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import { useJob } from '@/parts/job'
import { useKept } from '@/parts/kept'
import { tell } from '@/parts/notice'
import { show, showInstant, showMonth } from '@/parts/numbers'
import { placeOf } from '@/parts/places'
import { may, today } from '@/parts/session'

const props = defineProps<{ frame: Frame }>()
const client = useQueryClient()
const { at, send, busy } = useJob({ within: '.ask' })
const asking = ref(false)
const month = computed(() => props.frame.open)
const { data: hanging } = useQuery({
  queryKey: ['hanging', month],
  queryFn: () => unwrap(api.GET('/api/periods/{month}', { params: { path: { month: month.value } } })),
  enabled: asking,
})
const nothing = computed(() => {
  const h = hanging.value
  return !!h && !h.invoices.length && !h.receipts.length && !h.deferrals && !h.unanswered.length
})
const last = computed(() => props.frame.closed[0])
const form = ref<{ month: string; reason: string }>()
const { again, done: kept } = useKept(form, (f) => `period.${f.month}`)
async function close(month: string) {
  if (!(await send(() => unwrap(api.POST('/api/periods', { body: { month } }))))) return
  asking.value = false
  tell(`${showMonth(month)} is closed: nothing is booked into it any more.`)
  await client.invalidateQueries()
}
async function ask(body: { month: string; reason: string }) {
  if (!(await send(() => unwrap(api.POST('/api/periods/ask', { body }))))) return
  kept()
  tell(`Somebody else opens ${showMonth(body.month)} again, or not.`)
  await client.invalidateQueries()
}
async function answer(month: string, open: boolean) {
  const body = { month }
  const done = await send(() =>
    open ? unwrap(api.POST('/api/periods/open', { body })) : unwrap(api.POST('/api/periods/keep', { body })),
  )
  if (!done) return
  tell(open ? `${showMonth(month)} is open again.` : `${showMonth(month)} stays closed.`)
  await client.invalidateQueries()
}
const what: Record<string, string> = {
  asked: 'asked to be opened again',
  opened: 'opened again',
  refused: 'left closed',
  closed: 'closed again',
}
</script>

<template>
  <div>
    <h2>Months of the books</h2>
    <p>
      Open from {{ showMonth(frame.open) }} on<template v-if="frame.closed.length"
        >; closed: {{ frame.closed.map(showMonth).join(', ') }}</template
      >.
      <button
        v-if="may('closePeriod') && frame.open < today.slice(0, 7) && !asking"
        type="button"
        class="linkish"
        @click="asking = true"
      >
        Close {{ showMonth(frame.open) }}
      </button>
      <button
        v-if="may('askPeriod') && last && !frame.asked && !form"
        type="button"
        class="linkish ms-2"
        @click="form = { month: last, reason: '' }"
      >
        Open {{ showMonth(last) }} again…
      </button>
    </p>
    <SmallForm
      v-if="asking"
      :action="`Close ${showMonth(frame.open)}`"
      @done="close(frame.open)"
      @cancel="asking = false"
    >
      <p class="mb-2">
        <b>Close {{ showMonth(frame.open) }}.</b> Deliveries and invoices are not booked into it any more. It is opened
        again only with a reason and a second person.
      </p>
      <p v-if="nothing" class="mb-2 text-success">Nothing hangs in it.</p>
      <div v-else-if="hanging" class="mb-2">
        <p class="mb-1"><b>This hangs in it still:</b></p>
        <ul class="mb-1">
          <li v-if="hanging.invoices.length">
            Not verified:
            <template v-for="(i, n) in hanging.invoices" :key="i.number"
              ><template v-if="n">, </template
              ><RouterLink :to="placeOf.invoice(i.number)" class="mono">{{ i.supplierNumber }}</RouterLink>
              <span class="muted ms-1">{{ i.supplier }} {{ show(i.total) }} {{ i.currency }}</span></template
            >
          </li>
          <li v-if="hanging.receipts.length">
            Received and not invoiced, or the reverse:
            <template v-for="(r, n) in hanging.receipts" :key="`${r.order}/${r.line}`"
              ><template v-if="n">, </template
              ><RouterLink :to="placeOf.order(r.order)" class="mono">{{ r.order }}/{{ r.line }}</RouterLink>
              <span class="muted ms-1">{{ show(r.amount) }} {{ hanging.currency }}</span></template
            >
          </li>
          <li v-if="hanging.deferrals">
            {{ hanging.deferrals === 1 ? '1 part' : `${hanging.deferrals} parts` }} of spread costs not posted; see
            above.
          </li>
          <li v-if="hanging.unanswered.length">
            Runs that the bank has not answered:
            <template v-for="(r, n) in hanging.unanswered" :key="r"
              ><template v-if="n">, </template
              ><RouterLink :to="placeOf.run(r)" class="mono">{{ r }}</RouterLink></template
            >
          </li>
        </ul>
        <p v-if="hanging.more" class="muted mb-1">More hangs in it than is shown.</p>
      </div>
      <div class="small text-danger">{{ at('month') }}</div>
    </SmallForm>
    <SmallForm v-if="form" :again="again" action="Ask for it" @done="ask(form)" @cancel="form = undefined">
      <p class="mb-2">
        <b>Open {{ showMonth(form.month) }} again.</b> It stays closed until a second person opens it; what is booked
        then can be posted into it.
      </p>
      <div class="entry">
        <EntryField id="period-reason" v-model="form.reason" label="Why it is opened again" :error="at('reason')" />
      </div>
      <div class="small text-danger">{{ at('month') }}</div>
    </SmallForm>
    <div v-if="frame.asked" class="finding waiting mb-3">
      <b>{{ frame.asked.by }} asks to open {{ showMonth(frame.asked.month) }} again:</b> {{ frame.asked.reason }}
      <span class="muted">({{ showInstant(frame.asked.at, today) }})</span>
      <div v-if="may('openPeriod')">
        <button
          v-if="!frame.asked.own"
          type="button"
          class="linkish me-3"
          :disabled="busy"
          @click="answer(frame.asked.month, true)"
        >
          Open it
        </button>
        <span v-else class="muted me-3">Somebody else opens it.</span>
        <button type="button" class="linkish" :disabled="busy" @click="answer(frame.asked.month, false)">
          Leave it closed
        </button>
      </div>
    </div>
    <ul v-if="frame.changes.length" class="plain">
      <li v-for="(c, i) in frame.changes" :key="i">
        {{ showMonth(c.month) }} {{ what[c.what] }}, {{ showInstant(c.at, today) }} by {{ c.by
        }}<template v-if="c.reason">: {{ c.reason }}</template>
      </li>
    </ul>
  </div>
</template>
