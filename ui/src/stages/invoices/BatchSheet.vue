<script setup lang="ts">
// Many invoices keyed at once: a row each, held against what was added up beforehand, tried, and captured in one run.
import { computed, nextTick, ref, watch } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import { api, unwrap, type BatchKept, type BatchReport } from '@/api/client'
import { useBeginning } from '@/parts/beginning'
import DayField from '@/parts/DayField.vue'
import EntryField from '@/parts/EntryField.vue'
import KeptDraft from '@/parts/KeptDraft.vue'
import HistoryFold from '@/parts/HistoryFold.vue'
import NoticeBar from '@/parts/NoticeBar.vue'
import NumberField from '@/parts/NumberField.vue'
import TextField from '@/parts/TextField.vue'
import VerdictMark from '@/parts/VerdictMark.vue'
import { useDraft } from '@/parts/draft'
import { nextField } from '@/parts/fields'
import { useJob } from '@/parts/job'
import { useKeys } from '@/parts/keys'
import { tell } from '@/parts/notice'
import { show } from '@/parts/numbers'
import { placeOf } from '@/parts/places'
import { may } from '@/parts/session'
import BatchOutcomes from './BatchOutcomes.vue'
import {
  batchBody,
  blankRow,
  comesTo,
  freshBatch,
  goesOn,
  isBlank,
  typedBatch,
  type BatchLine,
  type Doing,
  type DraftBatch,
} from './batch'

const props = defineProps<{ number: number }>()
const router = useRouter()
const client = useQueryClient()
const { draft, clear, kept: before, keptAt, begin } = useDraft<DraftBatch>(`batch.${props.number}`, freshBatch)
const kept = ref(before)
const tried = ref<BatchReport>()
const begun = ref(0) // the version from which on it is captured: its end is told
const { data: batch, error } = useBeginning({
  queryKey: ['batch', props.number],
  queryFn: () => unwrap(api.GET('/api/batches/{number}', { params: { path: { number: props.number } } })),
  enabled: props.number > 0,
  refetchInterval: (q) => (q.state.data?.state === 'running' ? 700 : false),
})
const { send, busy, at: problem, refusal, forget } = useJob({ says: ['', 'rows', 'controls', 'version'] })
watch(
  batch,
  (now, was) => {
    if (!now) return
    if (!was && !kept.value) begin(typedBatch(now))
    if (begun.value && now.version >= begun.value && now.state !== 'running') {
      begun.value = 0
      tell(now.trouble || `${now.done} invoices of batch ${now.number} are captured.`)
    }
    if (was) return
    const doing = goesOn.value
    goesOn.value = undefined
    if (doing === 'try') void attempt()
    if (doing === 'run') void capture()
  },
  { immediate: true },
)
watch(draft, () => forget(), { deep: true })
const mine = computed(() => may('keepBatch') && (!props.number || !!batch.value?.own))
const open = computed(() => !props.number || batch.value?.state === 'open' || batch.value?.state === 'stopped')
const editable = computed(() => mine.value && open.value)
const done = (i: number) => batch.value?.outcomes.find((o) => o.no === i + 1)?.invoice
const report = computed(() => tried.value ?? (batch.value?.outcomes.some((o) => o.verdict) ? batch.value : undefined))
const outcome = (i: number) => report.value?.outcomes.find((o) => o.no === i + 1 && o.verdict)
const sums = computed(() => comesTo(draft.value.rows))

/** There is always a row to go on with; it is dated as the one above. */
watch(
  () => draft.value.rows.at(-1),
  (last) => last && !isBlank(last) && draft.value.rows.push(blankRow(last.date)),
  { deep: true, immediate: true },
)
function dated(i: number, day: string) {
  const next = draft.value.rows[i + 1]
  if (next && isBlank(next)) next.date = day
}
async function find(row: BatchLine) {
  const typed = row.of.trim()
  Object.assign(row, { order: 0, note: '', supplier: '', wrong: '' })
  if (!typed) return
  try {
    const start = await unwrap(api.GET('/api/invoice-start', { params: { query: { typed } } }))
    if (!start.order) row.wrong = 'Enter an order, or a delivery note.'
    else Object.assign(row, { order: start.order, note: start.note ?? '', supplier: start.of ?? '' })
  } catch (e) {
    row.wrong = (e as Error).message
  }
}
/** What is tried and captured is what stands here: it is kept first. A new one goes on under its number. */
async function keepFirst(doing: Doing, then: (now: BatchKept) => Promise<unknown>) {
  tried.value = undefined
  const body = batchBody(draft.value, props.number, batch.value?.version)
  const now = await unwrap(api.POST('/api/batches', { body }))
  if (!props.number) {
    clear()
    goesOn.value = doing
    return router.replace(placeOf.batch(now.number))
  }
  try {
    await then(now)
    clear()
  } finally {
    await client.invalidateQueries()
  }
}
const attempt = () =>
  send(() =>
    keepFirst('try', async ({ number }) => {
      tried.value = await unwrap(api.GET('/api/batches/{number}/trial', { params: { path: { number } } }))
    }),
  )
const capture = () =>
  send(() =>
    keepFirst('run', async ({ number, version }) => {
      const body = { version }
      const run = await unwrap(api.POST('/api/batches/{number}/run', { params: { path: { number } }, body }))
      begun.value = run.version
    }),
  )
const later = () =>
  send(() => keepFirst(undefined, () => Promise.resolve()), { done: 'The batch is kept as it is typed.' })
const path = { params: { path: { number: props.number } } }
const halt = () => send(() => unwrap(api.POST('/api/batches/{number}/stop', path)), { done: 'It is stopped.' })
async function giveUp() {
  if (props.number) {
    const body = { version: batch.value?.version ?? 0 }
    if (!(await send(() => unwrap(api.POST('/api/batches/{number}/drop', { ...path, body }))))) return
  }
  clear()
  await router.push('/invoices')
}
function anew() {
  kept.value = false
  clear()
  begin(batch.value ? typedBatch(batch.value) : freshBatch())
}
const action = computed(() => (batch.value?.state === 'stopped' ? 'Go on capturing' : `Capture ${sums.value.count}`))
useKeys(() =>
  editable.value
    ? [
        { key: 'Ctrl+Enter', label: action.value.toLowerCase(), run: () => void capture() },
        { key: 't', label: 'try it', run: () => void attempt() },
      ]
    : [],
)
void nextTick(() => props.number || document.getElementById('of-0')?.focus())
</script>

<template>
  <section class="sheet" aria-label="Many invoices at once">
    <NoticeBar />
    <header>
      <div class="headline">
        <h1>{{ number ? `Batch ${number}` : 'Many invoices at once' }}</h1>
        <span v-if="batch" class="fw-semibold">{{ batch.said }}</span>
      </div>
      <p v-if="batch" class="muted mb-0">Keyed by {{ batch.by }}. {{ batch.done }} of {{ batch.count }} captured.</p>
      <p v-else class="muted mb-0">
        A row for each invoice: its order or delivery note says what it bills. Nothing is captured before it comes to
        what you added up.
      </p>
      <progress
        v-if="batch?.state === 'running'"
        class="w-100 mt-2"
        :value="batch.done"
        :max="batch.count"
        :aria-label="`${batch.done} of ${batch.count} captured`"
      />
      <p v-if="batch?.trouble" class="outside-text mb-0">{{ batch.trouble }}</p>
    </header>
    <div v-if="error" class="nothing" role="alert">{{ error.message }}</div>
    <div v-else class="body" tabindex="0" @keydown.enter="nextField">
      <KeptDraft v-if="kept" :at="keptAt" :what="`${comesTo(draft.rows).count} invoices`" @anew="anew" />
      <fieldset :disabled="!editable" class="entry">
        <legend class="fs-6 fw-normal mb-0">Added up beforehand</legend>
        <EntryField
          id="control-count"
          v-model="draft.controls.count"
          label="Invoices"
          inputmode="numeric"
          :hint="`keyed: ${sums.count}`"
          :error="problem('count')"
        />
        <EntryField
          id="control-total"
          v-model="draft.controls.total"
          label="Total with tax"
          inputmode="decimal"
          :hint="`keyed: ${show(sums.total)}`"
          :error="problem('total')"
        />
        <EntryField
          id="control-quantity"
          v-model="draft.controls.quantity"
          label="Quantity of all lines"
          inputmode="decimal"
          :hint="batch ? `as kept: ${show(batch.quantity)}` : 'where it was added up'"
          :error="problem('quantity')"
        />
      </fieldset>
      <p v-if="refusal && !refusal.problem.field?.match(/^(count|total|quantity)$/)" class="text-danger" role="alert">
        {{ refusal.message }}
      </p>
      <table class="grid">
        <thead>
          <tr>
            <th class="num">Row</th>
            <th class="named">Order or delivery note</th>
            <th>Invoice number</th>
            <th>Date</th>
            <th class="num">Total with tax</th>
            <th class="num">Quantity</th>
            <th>What it comes to</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(r, i) in draft.rows" :key="i">
            <td class="num">{{ i + 1 }}</td>
            <td>
              <TextField
                :id="`of-${i}`"
                v-model="r.of"
                class="mono words"
                autocomplete="off"
                :aria-label="`Order or delivery note of row ${i + 1}`"
                :disabled="!editable || !!done(i)"
                :state="r.wrong ? false : undefined"
                :aria-describedby="`of-${i}-said`"
                @change="find(r)"
              />
              <div :id="`of-${i}-said`" class="small" :class="r.wrong ? 'text-danger' : 'muted'">
                {{ r.wrong || r.supplier }}
              </div>
            </td>
            <td>
              <TextField
                :id="`number-${i}`"
                v-model="r.number"
                class="mono words"
                autocomplete="off"
                :aria-label="`Invoice number of row ${i + 1}`"
                :disabled="!editable || !!done(i)"
              />
            </td>
            <td>
              <DayField
                :id="`date-${i}`"
                v-model="r.date"
                :aria-label="`Date of row ${i + 1}`"
                :disabled="!editable || !!done(i)"
                @settled="(d) => dated(i, d)"
              />
            </td>
            <td class="num">
              <NumberField
                :id="`total-${i}`"
                v-model="r.total"
                :label="`Total of row ${i + 1}`"
                :disabled="!editable || !!done(i)"
              />
            </td>
            <td class="num">
              <NumberField
                :id="`quantity-${i}`"
                v-model="r.quantity"
                :label="`Quantity of row ${i + 1}`"
                placeholder="all here"
                :disabled="!editable || !!done(i)"
              />
            </td>
            <td>
              <template v-if="outcome(i)">
                <VerdictMark :verdict="outcome(i)!.verdict as 'agrees'" class="me-2" />
                <RouterLink v-if="done(i)" :to="placeOf.invoice(done(i))">{{ outcome(i)!.said }}</RouterLink>
                <template v-else>{{ outcome(i)!.said }}</template>
              </template>
            </td>
          </tr>
        </tbody>
      </table>
      <BatchOutcomes v-if="report" :report="report" />
      <HistoryFold v-if="number" subject="batch" :number="String(number)" />
    </div>
    <div class="bar">
      <template v-if="editable">
        <BButton variant="primary" :disabled="busy || !sums.count" @click="capture">{{ action }}</BButton>
        <BButton variant="outline-secondary" :disabled="busy || !sums.count" @click="attempt">Try it</BButton>
        <BButton variant="outline-secondary" :disabled="busy || !sums.count" @click="later">Keep it for later</BButton>
        <BButton v-if="!batch?.done" variant="outline-secondary" :disabled="busy" @click="giveUp">Give it up</BButton>
      </template>
      <BButton
        v-else-if="batch?.state === 'running' && may('stopBatch')"
        variant="outline-secondary"
        :disabled="busy"
        @click="halt"
        >Stop</BButton
      >
      <span v-else-if="batch && open" class="muted">Only {{ batch.by }} goes on with it.</span>
      <span class="sum">{{ sums.count }} invoices · {{ show(sums.total) }}</span>
    </div>
  </section>
</template>

<style scoped>
table.grid .words {
  text-align: left;
  width: 100%;
  min-width: 110px;
}
</style>
