<script setup lang="ts">
import { computed, onUnmounted, provide, ref } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useDropZone } from '@vueuse/core'
import { useRoute, useRouter } from 'vue-router'
import { api, unwrap, upload, type ImportResult, type InvoiceSlip } from '@/api/client'
import { presentOn } from '@/api/live'
import FilePick from '@/parts/FilePick.vue'
import SlipPile from '@/parts/SlipPile.vue'
import { finished } from '@/parts/slip'
import { progress, results } from './taken'
import { useKeys } from '@/parts/keys'
import { tell } from '@/parts/notice'
import { current, may, today } from '@/parts/session'
import { showInstant } from '@/parts/numbers'
import { slipOf, whose, worth } from './slips'
import { matchAll } from './turns'
import { useJob } from '@/parts/job'
import { questionGroups, questionsQuery } from '@/parts/questions'
import { placeOf } from '@/parts/places'

const route = useRoute()
const router = useRouter()
const pile = ref<{ next: () => void }>()
provide(finished, () => pile.value?.next())
onUnmounted(() => (results.value = [])) // they are this person's
const { data, isPending } = useQuery({
  queryKey: ['invoices'],
  queryFn: () => unwrap(api.GET('/api/invoices/pile')),
})
const { data: questions } = useQuery(questionsQuery)
/** With others, but what they ask of this person. */
const others = computed(() =>
  (data.value?.others ?? []).filter((i) => !questions.value?.yours.some((q) => q.invoice === i.number)),
)
const { data: mails } = useQuery({ queryKey: ['mails'], queryFn: () => unwrap(api.GET('/api/mails')) })
const came = computed(() => mails.value?.rows ?? [])
const { data: batches } = useQuery({ queryKey: ['batches'], queryFn: () => unwrap(api.GET('/api/batches')) })
const slip = (i: InvoiceSlip) => slipOf(i, '/invoices', today.value, presentOn(i.number))
const groups = computed(() => [
  {
    title: 'Your turn',
    note: 'first due first',
    empty: may('importInvoices') ? 'Nothing needs you. Drop e-invoices here as they come in.' : 'Nothing needs you.',
    sum: worth(data.value?.yours ?? []),
    slips: (data.value?.yours ?? []).map(slip),
  },
  ...questionGroups(questions.value, 'invoice', today.value),
  ...(data.value?.toWrite
    ? [
        {
          title: 'To be written',
          empty: '',
          slips: [
            {
              to: '/invoices/self-billing',
              verdict: 'waiting' as const,
              title: 'Invoices that we write',
              figure: '',
              left: data.value.toWrite === 1 ? 'of 1 order' : `of ${data.value.toWrite} orders`,
              right: '',
            },
          ],
        },
      ]
    : []),
  ...(batches.value?.rows.length
    ? [
        {
          title: 'Keyed many at once',
          empty: '',
          slips: batches.value.rows.map((b) => ({
            to: placeOf.batch(b.number),
            verdict: b.state === 'stopped' ? ('outside' as const) : ('waiting' as const),
            title: `Batch ${b.number}`,
            figure: '',
            left: b.count === 1 ? '1 invoice' : `${b.count} invoices`,
            right: `${b.said}, ${b.by}`,
          })),
        },
      ]
    : []),
  ...[
    { title: 'Papers to key', note: 'newest first', mails: came.value.filter((m) => !m.sender) },
    { title: 'Not an invoice?', note: 'mails, newest first', mails: came.value.filter((m) => m.sender) },
  ]
    .filter((g) => g.mails.length > 0)
    .map(({ mails, ...g }) => ({
      ...g,
      empty: '',
      slips: mails.map((m) => ({
        to: placeOf.mail(m.number),
        verdict: 'waiting' as const,
        title: m.senderName || m.sender,
        figure: '',
        left: m.subject || 'no subject',
        right: showInstant(m.takenAt, today.value),
      })),
    })),
  {
    title: 'With others',
    folded: whose(others.value, today.value),
    empty: 'Nobody else is waited for.',
    sum: worth(others.value),
    slips: others.value.map(slip),
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
    const keyed = only?.outcome === 'paper' && only.mail ? placeOf.keyingFromMail(only.mail, 1, '') : ''
    const at = only?.invoice ? placeOf.invoice(only.invoice) : keyed || '/invoices'
    if (only?.invoice || keyed || route.path.startsWith('/invoices')) await router.push(at) // who went on with something else stays there
    if (only)
      tell(`${only.file}: ${only.sentence}`, only.invoice ? [{ to: at, text: `Look at invoice ${only.invoice}` }] : [])
  })
  progress.value = undefined
  await client.invalidateQueries() // more files may come meanwhile
}
const desk = ref<HTMLElement>()
const chooser = ref<{ ask: () => void }>()
const { isOverDropZone: over } = useDropZone(desk, {
  onDrop: (files) => {
    if (may('importInvoices')) void takeIn(files ?? [])
  },
})
useKeys(() => [
  ...(may('keyInvoice')
    ? [
        { key: 'f', label: 'take in files', run: () => chooser.value?.ask() },
        { key: 'k', label: 'key an invoice', run: () => void router.push('/invoices/key') },
        { key: 'b', label: 'key many', run: () => void router.push(placeOf.batch()), quiet: true },
      ]
    : []),
  ...(may('matchAgain') ? [{ key: 'm', label: 'match all again', run: () => void matchAll(send), quiet: true }] : []),
])
</script>

<template>
  <main ref="desk" class="desk" :class="{ drop: over && may('importInvoices') }">
    <SlipPile
      ref="pile"
      label="Invoices"
      :groups="groups"
      :loading="isPending"
      :more="(data?.more ?? 0) + (mails?.more ?? 0) + (questions?.more ?? 0)"
    >
      <div v-if="may('keyInvoice')" class="d-flex gap-2 p-3 pb-1">
        <FilePick
          ref="chooser"
          label="E-invoice files"
          accept=".xml,.zip,.pdf,.eml,.png,.jpg,.jpeg,.tif,.tiff,application/xml,text/xml"
          multiple
          size="sm"
          variant="primary"
          :disabled="!!progress"
          @files="takeIn"
          >Take in files</FilePick
        >
        <BButton size="sm" variant="outline-secondary" to="/invoices/key">Key an invoice</BButton>
      </div>
      <RouterLink v-if="may('keepBatch')" class="small px-3 py-1 d-inline-block" :to="placeOf.batch()"
        >Key many at once</RouterLink
      >
    </SlipPile>
    <RouterView v-slot="{ Component }"><component :is="Component" :key="route.fullPath" /></RouterView>
  </main>
</template>
