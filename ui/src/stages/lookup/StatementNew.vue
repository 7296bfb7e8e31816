<script setup lang="ts">
// Enters a supplier's statement: out of a file, or keyed line by line; held against what is here as it is typed, and kept.
import { computed, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { useRoute, useRouter } from 'vue-router'
import { api, unwrap, upload } from '@/api/client'
import type { components } from '@/api/schema'
import { suppliersQuery } from '@/api/queries'
import DayField from '@/parts/DayField.vue'
import EntryChoice from '@/parts/EntryChoice.vue'
import FilePick from '@/parts/FilePick.vue'
import NoticeBar from '@/parts/NoticeBar.vue'
import NumberField from '@/parts/NumberField.vue'
import TextField from '@/parts/TextField.vue'
import { useDraft } from '@/parts/draft'
import { nextField } from '@/parts/fields'
import { keepPaper } from '@/parts/papers'
import { useJob } from '@/parts/job'
import { useKeys } from '@/parts/keys'
import { read, sent, show } from '@/parts/numbers'
import { usePreview } from '@/parts/preview'
import { today } from '@/parts/session'
import ListRail from './ListRail.vue'
import StatementPairs from './StatementPairs.vue'
import type { SupplierStatement } from './statements'

type Schemas = components['schemas']
const route = useRoute()
const router = useRouter()
const blank = () => ({ number: '', day: '', amount: '' })
const { draft, clear, kept } = useDraft('statement', () => ({
  supplier: String(route.query['supplier'] ?? ''),
  day: today.value,
  lines: [blank(), blank(), blank()],
}))
const { data: all } = useQuery(suppliersQuery)
const suppliers = computed(() => (all.value ?? []).map((s) => ({ value: s.code, text: s.name, also: s.code })))
const typed = computed(() => draft.value.lines.filter((l) => l.number + l.day + l.amount !== ''))
const entry = () => ({
  supplier: draft.value.supplier,
  day: draft.value.day,
  lines: typed.value.map((l) => ({ number: l.number, day: l.day, amount: sent(l.amount) })),
})
const ready = computed(
  () =>
    draft.value.supplier !== '' &&
    typed.value.length > 0 &&
    typed.value.every((l) => l.amount !== '' && read(l.amount) !== undefined),
)
/** As it is typed it is held against what is here; a refusal says nothing until it is kept. */
const { preview } = usePreview<SupplierStatement & { problems: [] }>([draft], () =>
  ready.value
    ? unwrap(api.POST('/api/supplier-statements/compare', { body: entry() })).then((s) => ({ ...s, problems: [] }))
    : undefined,
)
const rest = ref<string[]>([])
const came = ref<File[]>([]) // what the lines were read from, to be kept with the statement
const doubtful = ref(0)
const { send, busy, at } = useJob({ within: '.sheet' })
async function take(files: File[]) {
  const read = await send(() => upload<Schemas['StatementRead']>('/api/supplier-statements/read', files))
  if (!read) return
  draft.value.lines = [...typed.value, ...read.lines.map((l) => ({ ...l, amount: show(l.amount) })), blank()]
  came.value.push(...files)
  rest.value = read.rest
  doubtful.value = read.doubtful
}
const lost = ref('') // why its file is not kept with it; its page takes the file
const keep = () =>
  send(
    async () => {
      const kept = await unwrap(api.POST('/api/supplier-statements', { body: entry() }))
      lost.value = await keepFiles(kept.number)
      return kept
    },
    {
      done: () => `The statement is kept.${lost.value && ` Its file is not: ${lost.value}`}`,
      at: (a) => `/lookup/statements/${a.number}`,
      after: clear,
    },
  )
async function keepFiles(statement: number): Promise<string> {
  try {
    for (const file of came.value) {
      await keepPaper({ on: 'statement', of: String(statement) }, file)
    }
    return ''
  } catch (e) {
    return (e as Error).message
  }
}
const more = (i: number) => {
  if (i === draft.value.lines.length - 1) draft.value.lines.push(blank())
}
useKeys(() => [
  { key: 'Ctrl+Enter', label: 'keep the statement', run: () => void keep() },
  { key: 'Escape', label: 'leave it', run: () => void router.push('/lookup/statements') },
])
</script>

<template>
  <main class="desk looks">
    <ListRail />
    <section class="sheet" aria-label="A supplier’s statement">
      <NoticeBar />
      <header>
        <div class="headline">
          <h1>A supplier’s statement</h1>
          <span class="muted small">a credit or a payment of ours is below zero</span>
        </div>
      </header>
      <div class="body" tabindex="0" @keydown.enter="nextField">
        <p v-if="kept" class="small advice mb-2">What you typed here before was kept.</p>
        <div class="entry">
          <EntryChoice
            id="statement-supplier"
            v-model="draft.supplier"
            label="Supplier"
            :choices="suppliers"
            :error="at('supplier')"
          />
          <div>
            <label for="statement-day">As it stood on</label>
            <DayField id="statement-day" v-model="draft.day" :max="today" :state="at('day') ? false : undefined" />
            <div class="small text-danger">{{ at('day') }}</div>
          </div>
          <div class="align-self-center">
            <FilePick
              id="statement-file"
              label="The statement: CSV, XLSX or PDF"
              accept=".csv,.tsv,.txt,.xlsx,.pdf,.png,.jpg,.jpeg"
              variant="outline-secondary"
              size="sm"
              :disabled="busy"
              @files="take"
              >Read its file…</FilePick
            >
          </div>
        </div>
        <div class="small text-danger">{{ at('lines') }}</div>
        <p v-for="(file, i) in came" :key="i" class="small mb-1">
          <span class="mono">{{ file.name }}</span> is kept with it.
          <button type="button" class="linkish" @click="came.splice(i, 1)">Leave it out</button>
        </p>
        <p v-if="doubtful" class="small outside-text mb-1">
          {{ doubtful }} {{ doubtful === 1 ? 'day' : 'days' }} could be read the other way round; look at the months.
        </p>
        <div v-if="rest.length" class="small outside-text mb-2" role="status">
          Not read as a line:
          <div v-for="r in rest.slice(0, 20)" :key="r" class="mono">{{ r }}</div>
          <div v-if="rest.length > 20">and {{ rest.length - 20 }} more.</div>
        </div>
        <table class="grid mb-3 keyed">
          <thead>
            <tr>
              <th>Their number</th>
              <th>Day</th>
              <th class="num">Amount</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(l, i) in draft.lines" :key="i">
              <td>
                <TextField
                  :id="`line-number-${i}`"
                  v-model="l.number"
                  class="mono"
                  :aria-label="`Number of line ${i + 1}`"
                  @focus="more(i)"
                />
              </td>
              <td>
                <DayField
                  :id="`line-day-${i}`"
                  v-model="l.day"
                  :aria-label="`Day of line ${i + 1}`"
                  :state="at(`lines[${i}].day`) ? false : undefined"
                />
              </td>
              <td class="num">
                <NumberField
                  :id="`line-amount-${i}`"
                  v-model="l.amount"
                  :label="`Amount of line ${i + 1}`"
                  :error="at(`lines[${i}].amount`)"
                />
              </td>
            </tr>
          </tbody>
        </table>
        <template v-if="preview">
          <h2>Beside what is here</h2>
          <StatementPairs :statement="preview" />
        </template>
      </div>
      <footer class="bar">
        <BButton variant="primary" :disabled="busy" @click="keep">Keep the statement</BButton>
        <BButton variant="outline-secondary" :disabled="busy" @click="clear()">Empty it</BButton>
        <span v-if="preview" class="muted small"
          >{{ preview.supplierName }} says {{ show(preview.theirs) }}, we have {{ show(preview.ours) }}
          {{ preview.currency }} open</span
        >
      </footer>
    </section>
  </main>
</template>
