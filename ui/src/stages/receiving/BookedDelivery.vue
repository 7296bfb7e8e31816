<script setup lang="ts">
import { computed, ref } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import { api, unwrap } from '@/api/client'
import AskReason from '@/parts/AskReason.vue'
import LedgerEntry from '@/parts/LedgerEntry.vue'
import NoticeBar from '@/parts/NoticeBar.vue'
import OrderThread from '@/parts/OrderThread.vue'
import { useKeys } from '@/parts/keys'
import { tell } from '@/parts/notice'
import { show, showDay, showInstant } from '@/parts/numbers'
import { has, today } from '@/parts/session'

const props = defineProps<{ number: number }>()
const router = useRouter()
const client = useQueryClient()
const asking = ref(false)
const trouble = ref('')
const { data: d, error } = useQuery({
  queryKey: ['delivery', props.number],
  queryFn: () => unwrap(api.GET('/api/deliveries/{number}', { params: { path: { number: props.number } } })),
})
const may = computed(() => has('receiver') && d.value?.reversible)

async function reverse(reason: string) {
  try {
    const booked = await unwrap(
      api.POST('/api/deliveries/{number}/reverse', { params: { path: { number: props.number } }, body: { reason } }),
    )
    asking.value = false
    tell(
      `Delivery ${props.number} is reversed by ${booked.number}.`,
      booked.entry ? [{ to: `/lookup/journal/${booked.entry}`, text: `Ledger entry ${booked.entry}` }] : [],
    )
    await client.invalidateQueries()
    await router.push(`/receiving/deliveries/${booked.number}`)
  } catch (e) {
    trouble.value = (e as Error).message
  }
}
useKeys(() => [
  ...(may.value ? [{ key: 'u', label: 'undo this booking', run: () => (asking.value = true) }] : []),
  ...(d.value ? [{ key: 'd', label: 'another delivery on this order', run: () => void router.push(`/receiving/${d.value.order}`) }] : []),
])
</script>

<template>
  <section class="sheet" aria-label="Booked delivery">
    <NoticeBar />
    <div v-if="error" class="nothing" role="alert">{{ error.message }}</div>
    <template v-else-if="d">
      <header>
        <div class="headline">
          <h1>
            {{ d.reverses ? 'Reversal' : 'Delivery' }} <span class="mono fw-medium">{{ d.number }}</span>
          </h1>
          <span class="muted"
            >{{ d.supplier }} · order <RouterLink :to="`/orders/${d.order}`" class="mono">{{ d.order }}</RouterLink></span
          >
        </div>
        <dl class="facts">
          <div>
            <dt>Delivery note</dt>
            <dd class="mono">{{ d.note }}</dd>
          </div>
          <div>
            <dt>Arrived</dt>
            <dd>{{ showDay(d.day, today) }}</dd>
          </div>
          <div>
            <dt>Place</dt>
            <dd>{{ d.place }}</dd>
          </div>
          <div>
            <dt>Booked</dt>
            <dd>{{ showInstant(d.at, today) }} by {{ d.by }}</dd>
          </div>
          <div v-if="d.secondPart">
            <dt>Confirmed as</dt>
            <dd>second part of the note</dd>
          </div>
        </dl>
        <p v-if="d.reversedBy" class="mb-0 mt-2 outside-text">
          Reversed by <RouterLink :to="`/receiving/deliveries/${d.reversedBy}`">{{ d.reversedBy }}</RouterLink>.
        </p>
        <p v-if="d.reverses" class="mb-0 mt-2">
          Takes back delivery <RouterLink :to="`/receiving/deliveries/${d.reverses}`">{{ d.reverses }}</RouterLink>: {{ d.reason }}
        </p>
      </header>
      <div class="body" tabindex="0">
        <table class="grid mb-3">
          <thead>
            <tr>
              <th>Line</th>
              <th class="num">{{ d.reverses ? 'Taken back' : 'Received' }}</th>
              <th class="num">Refused</th>
              <th class="num">Value, {{ d.currency }}</th>
              <th>Line closed</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="l in d.lines" :key="l.no">
              <td>
                <b>{{ l.description }}</b><br /><span class="muted">{{ l.unitName }}</span>
              </td>
              <td class="num">{{ show(l.quantity) }}</td>
              <td class="num">{{ Number(l.refused) ? show(l.refused) : '' }}</td>
              <td class="num">{{ show(l.value) }}</td>
              <td>{{ l.closed ? 'no more to come' : '' }}</td>
            </tr>
          </tbody>
        </table>
        <p v-if="d.condition"><b>Condition of the goods.</b> {{ d.condition }}</p>
        <LedgerEntry v-for="e in d.entries" :key="e.number" :entry="e" />
        <p v-if="d.entries.length === 0" class="muted">This delivery made no ledger entry.</p>
        <AskReason
          v-if="asking"
          id="reverse"
          title="Undo this booking."
          books="A counter-document takes back what is not invoiced yet, and its ledger entry with it; lines that it closed are open again."
          label="What was wrong"
          action="Undo the booking"
          :error="trouble"
          @done="reverse"
          @cancel="asking = false"
        />
      </div>
      <div class="bar">
        <BButton variant="primary" :to="`/receiving`">Next delivery</BButton>
        <BButton v-if="may" variant="outline-secondary" @click="asking = true">Undo this booking…</BButton>
      </div>
    </template>
  </section>
  <aside class="side" aria-label="Thread of the order">
    <OrderThread v-if="d" :events="d.thread" :title="`Thread of ${d.order}`" />
  </aside>
</template>
