<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useRoute, useRouter } from 'vue-router'
import { api, unwrap, upload, type Noticed } from '@/api/client'
import { doorQuery, goodsList } from '@/api/queries'
import FilePick from '@/parts/FilePick.vue'
import SlipPile from '@/parts/SlipPile.vue'
import { keptDrafts } from '@/parts/draft'
import { useKeys } from '@/parts/keys'
import { daysBetween, distance, showInstant } from '@/parts/numbers'
import { tell } from '@/parts/notice'
import { askedOfYou, questionsQuery } from '@/parts/questions'
import { may, today } from '@/parts/session'
import TextField from '@/parts/TextField.vue'
import type { DeliveryDraft } from './count'
import { placeOf } from '@/parts/places'

const route = useRoute()
const router = useRouter()
const client = useQueryClient()
const number = computed(() => Number(route.params['number']) || 0)
const wanted = ref('')
const missing = ref('')

const { data: expected, isPending } = useQuery(goodsList)
const { data: door } = useQuery(doorQuery)
const { data: questions } = useQuery(questionsQuery)
/** Words of two letters and more in the field narrow what is expected to a supplier; a number is an order or a notice, and may bring its delivery note along. */
const words = computed(() =>
  /^(\d.*|.)?$/.test(wanted.value.trim()) ? [] : wanted.value.trim().toLowerCase().split(/\s+/),
)
const fits = (supplier: string) => words.value.every((w) => supplier.toLowerCase().includes(w))
/** Deliveries that were begun in this browser and not booked. */
const begun = computed(
  () => (void route.fullPath, keptDrafts<DeliveryDraft>('delivery.').filter((d) => Number(d.rest) !== number.value)),
)
const groups = computed(() => [
  ...askedOfYou(questions.value, today.value),
  ...(begun.value.length > 0
    ? [
        {
          title: 'Begun',
          note: 'not booked yet',
          empty: '',
          slips: begun.value.map((d) => ({
            to: placeOf.receiving(d.rest),
            verdict: 'waiting' as const,
            title: expected.value?.rows.find((o) => o.number === Number(d.rest))?.supplier ?? `Order ${d.rest}`,
            figure: d.rest,
            left: d.what.note ? `note ${d.what.note}` : 'no note yet',
            right: showInstant(d.at, today.value),
          })),
        },
      ]
    : []),
  ...((door.value?.arrivals.length ?? 0) > 0
    ? [
        {
          title: 'At the door',
          note: 'counted, to be booked',
          empty: '',
          slips: (door.value?.arrivals ?? []).map((a) => ({
            to: placeOf.fromArrival(a.order, a.number),
            verdict: 'waiting' as const,
            title: a.supplier,
            figure: String(a.order),
            left: `counted by ${a.by}`,
            right: a.mine ? 'by you' : '',
          })),
        },
      ]
    : []),
  ...((door.value?.notices.length ?? 0) > 0
    ? [
        {
          title: 'Announced',
          note: 'by notices',
          empty: '',
          slips: (door.value?.notices ?? [])
            .filter((n) => fits(n.supplier))
            .map((n) => ({
              to: placeOf.fromNotice(n.order, n.number),
              verdict: 'waiting' as const,
              title: n.supplier,
              figure: n.reference,
              left: n.carrier || `order ${n.order}`,
              right: distance(n.expectedOn, today.value),
            })),
        },
      ]
    : []),
  {
    title: 'Expected',
    note: 'by day',
    empty: words.value.length
      ? `Nothing is expected from “${wanted.value.trim()}”.`
      : 'Nothing is expected. Orders appear here once they are issued.',
    slips: (expected.value?.rows ?? [])
      .filter((o) => fits(o.supplier))
      .map((o) => ({
        to: placeOf.receiving(o.number),
        verdict: daysBetween(today.value, o.wantedOn) < 0 ? ('outside' as const) : ('waiting' as const),
        title: o.supplier,
        figure: String(o.number),
        left: o.about,
        right: `${o.received > 0 ? 'part received, ' : ''}${distance(o.wantedOn, today.value)}`,
      })),
  },
])

/** Opens what was typed: an order, a notice by its number, or the only supplier that fits. */
async function open() {
  const typed = wanted.value.trim()
  missing.value = ''
  const notice = door.value?.notices.find((n) => n.reference.toLowerCase() === typed.toLowerCase())
  if (notice) return go(placeOf.fromNotice(notice.order, notice.number))
  const [, order, note] = /^(\d+)(?:\s+(.+))?$/.exec(typed) ?? []
  if (order) {
    try {
      await unwrap(api.GET('/api/orders/{number}', { params: { path: { number: Number(order) } } }))
      return await go(`/receiving/${order}${note ? `?note=${encodeURIComponent(note)}` : ''}`)
    } catch (e) {
      missing.value = (e as Error).message
      return
    }
  }
  const fitting = typed === '' ? [] : (expected.value?.rows ?? []).filter((o) => fits(o.supplier))
  if (fitting.length === 1) return go(placeOf.receiving(fitting[0]!.number))
  missing.value =
    typed === ''
      ? 'Enter an order number.'
      : fitting.length > 1
        ? `${fitting.length} orders fit; choose one below.`
        : `Nothing is expected from “${typed}”, and no notice is called so.`
}
async function go(place: string) {
  wanted.value = ''
  await router.push(place)
}
async function readAdvice(files: File[]) {
  try {
    const read = await upload<Noticed[]>('/api/notices/read', files)
    await client.invalidateQueries()
    tell(
      `${read.length === 1 ? 'A notice is' : `${read.length} notices are`} read.`,
      read.map((n) => ({ to: placeOf.fromNotice(n.order, n.number), text: `Start from notice ${n.number}` })),
    )
  } catch (e) {
    missing.value = (e as Error).message
  }
}
watch(
  () => route.path === '/receiving',
  (begins) => begins && void nextTick(() => document.getElementById('receive-order')?.focus()),
  { immediate: true },
)
useKeys(() => [{ key: 'n', label: 'order number', run: () => document.getElementById('receive-order')?.focus() }])
</script>

<template>
  <main class="desk">
    <SlipPile
      label="Expected deliveries"
      :groups="groups"
      :loading="isPending"
      :more="(expected?.more ?? 0) + (door?.more ?? 0)"
    >
      <form class="p-3 pb-1" @submit.prevent="open">
        <label for="receive-order">Order, notice or supplier</label>
        <TextField
          id="receive-order"
          v-model="wanted"
          class="mono"
          autocomplete="off"
          data-pile-keys
          :state="missing ? false : undefined"
          aria-describedby="receive-order-error"
        />
        <div id="receive-order-error" class="small text-danger">{{ missing }}</div>
        <FilePick
          v-if="may('enterNotice')"
          id="read-advice"
          label="Despatch advice"
          accept=".xml,application/xml"
          link
          @files="readAdvice"
          >Read a despatch advice…</FilePick
        >
      </form>
    </SlipPile>
    <RouterView v-slot="{ Component }"><component :is="Component" :key="route.fullPath" /></RouterView>
  </main>
</template>
