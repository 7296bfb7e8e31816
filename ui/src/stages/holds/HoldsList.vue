<script setup lang="ts">
// What can be settled several at once with one note: differences of a kind, and holds that are taken off.
import { computed, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap } from '@/api/client'
import { holdsQuery } from '@/api/queries'
import NoticeBar from '@/parts/NoticeBar.vue'
import SmallForm from '@/parts/SmallForm.vue'
import TextField from '@/parts/TextField.vue'
import TickBox from '@/parts/TickBox.vue'
import { useJob } from '@/parts/job'
import { useKeys } from '@/parts/keys'
import { distance, show, showDay, showInstant, sums } from '@/parts/numbers'
import { placeOf } from '@/parts/places'
import { may, today } from '@/parts/session'
import { holdTo, lostOn } from './order'

const { data: settling, isPending } = useQuery({
  queryKey: ['holds', 'settling'],
  queryFn: () => unwrap(api.GET('/api/settling')),
})
const { data } = useQuery(holdsQuery)
const holds = computed(() => (data.value?.holds ?? []).filter((h) => !h.hold.whose && may('liftHolds')))
const kinds = computed(() => settling.value?.kinds ?? [])
const currency = computed(() => settling.value?.currency ?? '')

/** Of one kind, or of the holds, those that are ticked. */
const open = ref('')
const ticked = ref<number[]>([])
const note = ref('')
const { send, busy, trouble, forget } = useJob({ says: 'all', within: '.ask' })
function choose(kind: string, all: number[]) {
  forget()
  note.value = ''
  open.value = open.value === kind ? '' : kind
  ticked.value = open.value ? all : []
}
const tick = (n: number) =>
  (ticked.value = ticked.value.includes(n) ? ticked.value.filter((t) => t !== n) : [...ticked.value, n])
const chosen = (kind: string) =>
  kinds.value.find((k) => k.kind === kind)?.invoices.filter((i) => ticked.value.includes(i.slip.number)) ?? []
const worth = (kind: string) => sums(chosen(kind).map((i) => ({ amount: i.worth, currency: currency.value })))
const close = () => choose('', [])

const accept = (kind: string) =>
  send(
    () => {
      const invoices = chosen(kind).map((i) => ({ number: i.slip.number, version: i.version }))
      return unwrap(api.POST('/api/findings/accept', { body: { kind, invoices, note: note.value } }))
    },
    {
      after: close,
      done: (a) =>
        `${a.captured.length === 1 ? 'The differences of 1 invoice are' : `The differences of ${a.captured.length} invoices are`} accepted, ${show(a.worth)} ${currency.value}.`,
    },
  )
const lift = () =>
  send(() => unwrap(api.POST('/api/holds/lift', { body: { holds: ticked.value, note: note.value } })), {
    after: close,
    done: (a) =>
      `${a.lifted.length === 1 ? '1 hold is' : `${a.lifted.length} holds are`} taken off.${a.left.map((l) => ` Hold ${l.hold}: ${l.why}`).join('')}`,
  })
useKeys(() =>
  kinds.value.slice(0, 9).map((k, i) => ({
    key: String(i + 1),
    label: `settle ${k.name}`,
    run: () =>
      choose(
        k.kind,
        k.invoices.map((x) => x.slip.number),
      ),
    quiet: i > 0,
  })),
)
</script>

<template>
  <section class="sheet" aria-label="Holds">
    <NoticeBar />
    <header>
      <h1>Several at once</h1>
      <p class="muted mb-0 mt-1">
        Differences of one kind that are yours to accept, and holds that you may take off, with one note. One by one
        they are settled from the pile.
      </p>
    </header>
    <div class="body" tabindex="0">
      <div v-if="!isPending && kinds.length === 0 && holds.length === 0" class="nothing">
        <h1>Nothing here is yours to settle</h1>
        <p>What is held, why and whose turn it is stands in the pile.</p>
      </div>
      <section v-for="(k, n) in kinds" :key="k.kind" class="mb-3" :aria-label="k.name">
        <h2 class="mb-1">
          {{ k.name.charAt(0).toUpperCase() + k.name.slice(1) }}
          <span class="muted"
            >{{ k.invoices.length === 1 ? '1 invoice' : `${k.invoices.length} invoices` }},
            {{ sums(k.invoices.map((i) => ({ amount: i.worth, currency }))) }}</span
          >
          <button
            type="button"
            class="linkish ms-2"
            :aria-expanded="open === k.kind"
            @click="
              choose(
                k.kind,
                k.invoices.map((i) => i.slip.number),
              )
            "
          >
            Settle… <kbd v-if="n < 9">{{ n + 1 }}</kbd>
          </button>
        </h2>
        <table class="grid">
          <thead>
            <tr>
              <th v-if="open === k.kind"><span class="visually-hidden">Choose</span></th>
              <th class="named">Invoice</th>
              <th>Difference</th>
              <th class="num">Comes to</th>
              <th>First loss</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="i in k.invoices" :key="i.slip.number">
              <td v-if="open === k.kind">
                <TickBox
                  :model-value="ticked.includes(i.slip.number)"
                  :aria-label="`Accept on ${i.slip.supplierNumber} of ${i.slip.supplier}`"
                  @update:model-value="tick(i.slip.number)"
                />
              </td>
              <td>
                <RouterLink :to="placeOf.held(i.slip.number)" class="fw-semibold">{{
                  i.slip.supplier
                }}</RouterLink><br /><span class="mono muted">{{ i.slip.supplierNumber }}</span>
              </td>
              <td>
                <div v-for="s in i.sentences" :key="s">{{ s }}</div>
              </td>
              <td class="num">{{ show(i.worth) }}</td>
              <td class="nowrap">
                {{ showDay(lostOn(i.slip, today), today) }}<br /><span class="muted">{{
                  distance(lostOn(i.slip, today), today)
                }}</span>
              </td>
            </tr>
          </tbody>
        </table>
        <SmallForm
          v-if="open === k.kind"
          :action="`Accept ${ticked.length === 1 ? 'it' : `all ${ticked.length}`}`"
          :disabled="busy || !ticked.length"
          @done="accept(k.kind)"
          @cancel="close"
        >
          <p class="mb-2">
            Accepted as they are, {{ worth(k.kind) || 'nothing chosen' }} together: your authority has to cover that
            sum.
          </p>
          <label for="settle-note">Why they are accepted</label>
          <TextField id="settle-note" v-model="note" autocomplete="off" aria-describedby="settle-trouble" data-first />
          <div id="settle-trouble" class="small text-danger" role="alert">{{ trouble }}</div>
        </SmallForm>
      </section>
      <section v-if="holds.length" aria-label="Holds to take off">
        <h2 class="mb-1">
          Holds
          <span class="muted">{{ holds.length === 1 ? '1 hold' : `${holds.length} holds` }} that you may take off</span>
          <button type="button" class="linkish ms-2" :aria-expanded="open === 'holds'" @click="choose('holds', [])">
            Take off…
          </button>
        </h2>
        <table class="grid">
          <thead>
            <tr>
              <th v-if="open === 'holds'"><span class="visually-hidden">Choose</span></th>
              <th class="named">On</th>
              <th>Why</th>
              <th>By, since</th>
              <th>Stands</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="h in holds" :key="h.hold.number">
              <td v-if="open === 'holds'">
                <TickBox
                  :model-value="ticked.includes(h.hold.number)"
                  :aria-label="`Take hold ${h.hold.number} off`"
                  @update:model-value="tick(h.hold.number)"
                />
              </td>
              <td>
                <RouterLink :to="holdTo(h)" class="fw-semibold">{{ h.supplier }}</RouterLink><br /><span
                  class="mono muted"
                  >{{
                    h.hold.order
                      ? `order ${h.hold.order}${h.hold.line ? `, line ${h.hold.line}` : ''}`
                      : h.supplierNumber
                  }}</span
                >
              </td>
              <td>{{ h.hold.reasonText }}{{ h.hold.note ? `: ${h.hold.note}` : '' }}</td>
              <td>
                {{ h.hold.by }}<br /><span class="muted nowrap">{{ showInstant(h.hold.at, today) }}</span>
              </td>
              <td>{{ h.hold.ends || 'until taken off' }}</td>
            </tr>
          </tbody>
        </table>
        <SmallForm
          v-if="open === 'holds'"
          action="Take them off"
          :disabled="busy || !ticked.length"
          @done="lift"
          @cancel="close"
        >
          <label for="settle-note">Why they are taken off</label>
          <TextField id="settle-note" v-model="note" autocomplete="off" aria-describedby="settle-trouble" data-first />
          <div id="settle-trouble" class="small text-danger" role="alert">{{ trouble }}</div>
        </SmallForm>
      </section>
    </div>
  </section>
</template>
