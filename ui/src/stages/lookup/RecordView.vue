<script setup lang="ts">
// The record: who did what, when and from where, narrowed by person, document and day.
import { computed, ref, watch } from 'vue'
import { useInfiniteQuery, useQuery } from '@tanstack/vue-query'
import { useRoute, useRouter } from 'vue-router'
import { api, unwrap } from '@/api/client'
import NoticeBar from '@/parts/NoticeBar.vue'
import PickField from '@/parts/PickField.vue'
import TextField from '@/parts/TextField.vue'
import { showInstant } from '@/parts/numbers'
import { may as allowed, today } from '@/parts/session'
import LookUpTabs from './LookUpTabs.vue'

const route = useRoute()
const router = useRouter()
const text = (key: string) => String(route.query[key] ?? '')
const filter = ref({
  person: text('person'),
  subject: text('subject'),
  number: text('number'),
  from: text('from'),
  until: text('until'),
})
const asked = computed(() => Object.fromEntries(Object.entries(filter.value).filter(([, v]) => v !== '')))
/** A document is asked for once both its kind and its number are there. */
const whole = computed(() => (filter.value.subject === '') === (filter.value.number === ''))
watch(asked, (q) => void router.replace({ query: q }))
const may = computed(() => allowed('getRecord'))
const { data: people } = useQuery({ queryKey: ['people'], queryFn: () => unwrap(api.GET('/api/people')) })
const { data, error, isPending, hasNextPage, fetchNextPage } = useInfiniteQuery({
  queryKey: ['record', asked],
  queryFn: ({ pageParam }) =>
    unwrap(
      api.GET('/api/record', { params: { query: { ...asked.value, ...(pageParam ? { before: pageParam } : {}) } } }),
    ),
  initialPageParam: 0,
  getNextPageParam: (last) => (last.more ? last.rows.at(-1)?.seq : undefined),
  enabled: computed(() => may.value && whole.value),
})
const rows = computed(() => data.value?.pages.flatMap((p) => p.rows) ?? [])
const names = computed(() => [
  { value: '', text: 'everybody' },
  ...(people.value ?? []).map((p) => ({ value: p.login, text: `${p.name} (${p.login})` })),
])
const subjects = [
  '',
  'order',
  'delivery',
  'invoice',
  'run',
  'supplier',
  'item',
  'company',
  'person',
  'period',
  'rate',
  'budget',
  'table',
  'data',
]
const subjectChoices = subjects.map((s) => ({ value: s, text: s || 'any document' }))
const places: Record<string, string> = {
  order: '/orders/',
  delivery: '/receiving/deliveries/',
  invoice: '/invoices/',
  run: '/payments/runs/',
  supplier: '/setup/suppliers/',
  item: '/setup/items/',
}
const file = computed(() => `/api/record/export?${new URLSearchParams(asked.value).toString()}`)
</script>

<template>
  <main class="desk alone">
    <section class="sheet" aria-label="The record">
      <NoticeBar />
      <header>
        <div class="headline">
          <h1>The record</h1>
          <LookUpTabs />
        </div>
        <div v-if="may" class="filters">
          <div>
            <label for="record-person">Who</label>
            <PickField id="record-person" v-model="filter.person" :options="names" />
          </div>
          <div>
            <label for="record-subject">Document</label>
            <PickField id="record-subject" v-model="filter.subject" :options="subjectChoices" />
          </div>
          <div>
            <label for="record-number">Its number or code</label>
            <TextField id="record-number" v-model="filter.number" class="mono" autocomplete="off" />
          </div>
          <div>
            <label for="record-from">From</label>
            <TextField id="record-from" v-model="filter.from" type="date" />
          </div>
          <div>
            <label for="record-until">To</label>
            <TextField id="record-until" v-model="filter.until" type="date" />
          </div>
          <BButton variant="outline-secondary" class="align-self-end" :href="file">Save as CSV</BButton>
        </div>
      </header>
      <p v-if="!may" class="nothing">Reading the record takes the role administrator or reader.</p>
      <div v-else-if="error" class="nothing" role="alert">{{ error.message }}</div>
      <p v-else-if="!whole" class="nothing">A document is named by its kind and its number: choose both, or neither.</p>
      <p v-else-if="!isPending && !rows.length" class="nothing">Nothing is recorded that fits.</p>
      <div v-else class="body" tabindex="0">
        <table class="grid" style="table-layout: fixed; overflow-wrap: anywhere">
          <thead>
            <tr>
              <th style="width: 8%">When</th>
              <th style="width: 14%">Who</th>
              <th style="width: 13%">Did what</th>
              <th style="width: 16%">Document</th>
              <th>From what to what, and why</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="r in rows" :key="r.seq">
              <td class="nowrap">{{ showInstant(r.at, today) }}</td>
              <td>
                {{ r.name }} <span v-if="r.login" class="mono muted">{{ r.login }}</span><br /><span
                  class="small muted"
                  >{{ r.address }}</span
                >
              </td>
              <td>{{ r.what }}</td>
              <td>
                {{ r.subject }}
                <RouterLink v-if="places[r.subject]" :to="`${places[r.subject]}${r.number}`" class="mono">{{
                  r.number
                }}</RouterLink>
                <span v-else class="mono">{{ r.number }}</span>
              </td>
              <td class="small">
                <div v-if="r.cause">{{ r.cause }}</div>
                <div v-if="r.before" class="muted">{{ r.before }}</div>
                <div v-if="r.after">{{ r.before ? '→ ' : '' }}{{ r.after }}</div>
              </td>
            </tr>
          </tbody>
        </table>
        <BButton v-if="hasNextPage" variant="outline-secondary" class="mt-2" @click="() => fetchNextPage()"
          >Show older rows</BButton
        >
      </div>
    </section>
  </main>
</template>
