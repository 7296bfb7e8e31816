<script setup lang="ts">
import { computed, defineAsyncComponent, ref } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useRoute, useRouter } from 'vue-router'
import { api, unwrap, upload, type ImportResult } from '@/api/client'
import NoticeBar from '@/parts/NoticeBar.vue'
import SlipPile from '@/parts/SlipPile.vue'
import VerdictMark from '@/parts/VerdictMark.vue'
import { useKeys } from '@/parts/keys'
import { tell } from '@/parts/notice'
import { current, may, today } from '@/parts/session'
import InvoiceSheet from './InvoiceSheet.vue'
import { slipOf, whose, worth } from './slips'
import TextField from '@/parts/TextField.vue'
import { useJob } from '@/parts/job'

const InvoiceForm = defineAsyncComponent(() => import('./InvoiceForm.vue')) // not needed to look at the pile

const route = useRoute()
const router = useRouter()
const number = computed(() => Number(route.params['number']) || 0)
const keying = computed(() => route.meta['keying'] === true)
const pile = ref<InstanceType<typeof SlipPile>>()
const chooser = ref<HTMLInputElement>()
const over = ref(false)
const progress = ref<{ done: number; all: number }>()
const results = ref<ImportResult[]>([])

const { data, isPending } = useQuery({
  queryKey: ['invoices'],
  queryFn: () => unwrap(api.GET('/api/invoices/pile')),
})
const groups = computed(() => [
  {
    title: 'Your turn',
    note: 'first due first',
    empty: may('importInvoices') ? 'Nothing needs you. Drop e-invoices here as they come in.' : 'Nothing needs you.',
    sum: worth(data.value?.yours ?? []),
    slips: (data.value?.yours ?? []).map((i) => slipOf(i, '/invoices', today.value)),
  },
  {
    title: 'With others',
    folded: whose(data.value?.others ?? [], today.value),
    empty: 'Nobody else is waited for.',
    sum: worth(data.value?.others ?? []),
    slips: (data.value?.others ?? []).map((i) => slipOf(i, '/invoices', today.value)),
  },
  {
    title: 'Moving by itself',
    empty: 'Nothing is under way.',
    sum: worth(data.value?.moving ?? []),
    slips: (data.value?.moving ?? []).map((i) => slipOf(i, '/invoices', today.value)),
  },
])

// As many files as the server books in one transaction: few enough to show how far it is.
const client = useQueryClient()
const { send } = useJob()

async function takeIn(files: File[]) {
  if (files.length === 0) return
  results.value = []
  progress.value = { done: 0, all: files.length }
  await send(async () => {
    const batch = current.value?.filesAtOnce ?? 1
    for (let at = 0; at < files.length; at += batch) {
      results.value.push(...(await upload<ImportResult[]>('/api/invoices/import', files.slice(at, at + batch))))
      progress.value = { done: results.value.length, all: files.length }
    }
    const only = results.value.length === 1 ? results.value[0] : undefined
    const at = only?.invoice ? `/invoices/${only.invoice}` : '/invoices'
    if (only?.invoice || number.value || keying.value) await router.push(at)
    if (only)
      tell(`${only.file}: ${only.sentence}`, only.invoice ? [{ to: at, text: `Look at invoice ${only.invoice}` }] : [])
  })
  progress.value = undefined
  await client.invalidateQueries() // more files may come meanwhile
}
function drop(event: DragEvent) {
  over.value = false
  if (may('importInvoices')) void takeIn([...(event.dataTransfer?.files ?? [])])
}
function chosen(event: Event) {
  const input = event.target as HTMLInputElement
  const files = [...(input.files ?? [])]
  input.value = '' // so that the same file can be chosen again
  void takeIn(files)
}
const outcomes: Record<string, 'agrees' | 'waiting' | 'outside'> = { verified: 'agrees', waiting: 'waiting' }
const wanted = ref('')
const missing = ref('')
async function key() {
  missing.value = ''
  const order = wanted.value.trim()
  if (!/^\d+$/.test(order)) missing.value = 'Enter the number of the order.'
  else await router.push(`/invoices/key?order=${order}`)
}
const again = () => send(() => unwrap(api.POST('/api/match')), { done: 'All open invoices were matched again.' })
useKeys(() => [
  ...(may('keyInvoice')
    ? [
        { key: 'f', label: 'take in files', run: () => chooser.value?.click() },
        { key: 'k', label: 'key an invoice', run: () => void router.push('/invoices/key') },
      ]
    : []),
  ...(may('matchAgain') ? [{ key: 'm', label: 'match all again', run: () => void again(), quiet: true }] : []),
])
</script>

<template>
  <main
    class="desk"
    :class="{ drop: over }"
    @dragover.prevent="over = may('importInvoices')"
    @dragleave.self="over = false"
    @drop.prevent="drop"
  >
    <SlipPile ref="pile" label="Invoices" :groups="groups" :loading="isPending" :more="data?.more">
      <div v-if="may('keyInvoice')" class="d-flex gap-2 p-3 pb-1">
        <BButton size="sm" variant="primary" :disabled="!!progress" @click="chooser?.click()">Take in files</BButton>
        <BButton size="sm" variant="outline-secondary" to="/invoices/key">Key an invoice</BButton>
        <input
          ref="chooser"
          type="file"
          multiple
          accept=".xml,application/xml,text/xml"
          class="d-none"
          aria-label="E-invoice files"
          tabindex="-1"
          @change="chosen"
        />
      </div>
    </SlipPile>
    <InvoiceForm v-if="keying" :key="route.fullPath" :order="Number(route.query['order']) || 0" :corrects="number" />
    <InvoiceSheet v-else-if="number" :key="number" :number="number" @finished="pile?.next()" />
    <template v-else>
      <section class="sheet" aria-label="Invoices">
        <NoticeBar />
        <div v-if="progress" class="nothing" role="status">
          <h1>Taking in {{ progress.all }} files</h1>
          <BProgress
            :value="progress.done"
            :max="progress.all"
            :aria-label="`${progress.done} of ${progress.all} files`"
          />
          <p class="mt-2">{{ progress.done }} done. You can go on with something else.</p>
        </div>
        <div v-else-if="results.length" class="body">
          <h2 class="mb-2">What became of the files</h2>
          <table class="grid">
            <thead>
              <tr>
                <th>File</th>
                <th>Outcome</th>
                <th>Why</th>
                <th></th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="r in results" :key="r.file">
                <td class="mono">{{ r.file }}</td>
                <td>
                  <VerdictMark
                    :verdict="outcomes[r.outcome] ?? 'outside'"
                    :text="r.outcome === 'duplicate' ? 'here already' : r.outcome"
                  />
                </td>
                <td>
                  {{ r.sentence }}
                  <template v-for="p in r.problems.slice(1)" :key="p.sentence"><br />{{ p.sentence }}</template>
                </td>
                <td>
                  <RouterLink v-if="r.invoice" :to="`/invoices/${r.invoice}`" class="nowrap"
                    >Invoice {{ r.invoice }}</RouterLink
                  >
                </td>
              </tr>
            </tbody>
          </table>
        </div>
        <div v-else class="nothing">
          <h1>Invoices</h1>
          <p>
            Drop e-invoices anywhere on this page. Those that agree are verified at once; the others lie on the left and
            say what they need.
          </p>
          <form v-if="may('keyInvoice')" class="d-inline-block text-start" @submit.prevent="key">
            <label for="key-order">Or key one against an order number</label>
            <div class="d-flex gap-2">
              <TextField
                id="key-order"
                v-model="wanted"
                class="mono"
                autocomplete="off"
                inputmode="numeric"
                data-pile-keys
                :state="missing ? false : undefined"
                aria-describedby="key-order-error"
              />
              <BButton type="submit" variant="outline-secondary" class="nowrap">Key it</BButton>
            </div>
            <div id="key-order-error" class="small text-danger">{{ missing }}</div>
          </form>
        </div>
      </section>
      <aside class="side" aria-label="Evidence"></aside>
    </template>
  </main>
</template>
