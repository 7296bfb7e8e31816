<script setup lang="ts">
// Suppliers, items and orders as tables: out as CSV or XLSX, in after a trial that says row by row what would happen.
import { computed, ref } from 'vue'
import { upload, type TableAnswer } from '@/api/client'
import FilePick from '@/parts/FilePick.vue'
import NoticeBar from '@/parts/NoticeBar.vue'
import PickField from '@/parts/PickField.vue'
import { may } from '@/parts/session'
import { importing } from '@/api/live'
import SetUpTabs from './SetUpTabs.vue'
import { useJob } from '@/parts/job'

const kind = ref('suppliers')
const file = ref<File>()
const answer = ref<TableAnswer>()
/** Rows that are done, and rows there are. */
const far = computed(() => importing.value.split(' of ').map(Number))
const kinds = ['suppliers', 'items', 'orders'].map((k) => ({ value: k, text: k }))
const outcomes: Record<string, string> = {
  new: 'new',
  changed: 'changed',
  same: 'as it is',
  wrong: 'cannot be taken in',
}

const { busy, send, trouble } = useJob({ says: 'all' })
async function run(trial: boolean) {
  const table = file.value
  if (!table) return
  importing.value = ''
  const work = () => upload<TableAnswer>(`/api/tables/${kind.value}?trial=${trial}`, [table])
  if (trial) answer.value = (await send(work)) ?? answer.value
  else
    await send(work, {
      after: () => (answer.value = file.value = undefined),
      done: (a) => `${a.rows.length} rows are imported.`,
    })
}
function choose(files: File[]) {
  file.value = files[0]
  void run(true)
}
</script>

<template>
  <main class="desk alone">
    <section class="sheet" aria-label="Tables">
      <NoticeBar />
      <header>
        <div class="headline">
          <h1>Tables in and out</h1>
          <SetUpTabs />
        </div>
        <div class="filters">
          <div>
            <label for="table-kind">What</label>
            <PickField id="table-kind" v-model="kind" :options="kinds" @update:model-value="answer = undefined" />
          </div>
          <template v-if="may('exportTable')">
            <BButton variant="outline-secondary" class="align-self-end" :href="`/api/tables/${kind}?as=csv`"
              >Save as CSV</BButton
            >
            <BButton variant="outline-secondary" class="align-self-end" :href="`/api/tables/${kind}?as=xlsx`"
              >Save as XLSX</BButton
            >
          </template>
          <p v-else class="align-self-end mb-1 muted">
            Tables hold bank accounts and prices: taking them out is not among your roles.
          </p>
          <template v-if="may('importTable')">
            <span class="align-self-end"
              ><FilePick id="table-file" label="A table" accept=".csv,.tsv,.txt,.xlsx" @files="choose"
                >Try a table…</FilePick
              ></span
            >
          </template>
        </div>
      </header>
      <div class="body">
        <p v-if="!answer" class="muted">
          A table has the names of its columns in the first row; save one to see them. A trial shows what each row would
          do, and changes nothing. In a table of orders each order has a name of its own: by it, the same table again
          makes no order twice.
        </p>
        <table v-else class="grid">
          <thead>
            <tr>
              <th class="num">Row</th>
              <th class="named">Name</th>
              <th>What happens</th>
              <th></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="r in answer.rows" :key="r.row">
              <td class="num">{{ r.row }}</td>
              <td>{{ r.name }}</td>
              <td :class="{ 'outside-text': r.outcome === 'wrong' }">{{ outcomes[r.outcome] }}</td>
              <td>{{ r.says }}</td>
            </tr>
          </tbody>
        </table>
        <p v-if="busy" role="status">
          <label for="table-progress">{{
            importing ? `${importing} rows are looked at.` : 'The table is being read.'
          }}</label>
          <progress id="table-progress" v-bind="importing ? { value: far[0], max: far[1] } : {}"></progress>
        </p>
        <div class="text-danger" role="alert">{{ trouble }}</div>
      </div>
      <div class="bar">
        <BButton variant="primary" :disabled="!answer || answer.wrong > 0 || busy" @click="run(false)"
          >Import all of it</BButton
        >
        <span v-if="!may('importTable')" class="muted">Importing takes the role administrator.</span>
        <span v-if="answer" class="sum">{{ answer.rows.length }} rows, {{ answer.wrong }} cannot be taken in</span>
      </div>
    </section>
  </main>
</template>
