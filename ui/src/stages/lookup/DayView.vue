<script setup lang="ts">
// A day at a glance, for whoever leads the work: what came in and how it stands, what is open, whose turn it is, what is at stake.
// Each number opens its list.
import { computed } from 'vue'
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { useRoute, useRouter } from 'vue-router'
import { api, unwrap } from '@/api/client'
import { distance, showDay, showInstant, sums } from '@/parts/numbers'
import { plus } from '@/parts/days'
import { useKeys } from '@/parts/keys'
import { placeOf } from '@/parts/places'
import { today } from '@/parts/session'
import DayBars from './DayBars.vue'
import LookFrame from './LookFrame.vue'

const route = useRoute()
const router = useRouter()
const on = computed(() => String(route.query['on'] ?? '') || today.value)
const { data, error } = useQuery({
  queryKey: ['glance', on],
  queryFn: () => unwrap(api.GET('/api/glance', { params: { query: { on: on.value } } })),
  placeholderData: keepPreviousData,
})
const day = computed(() => data.value?.days.at(-1))
const go = (to: string) => void router.replace({ query: to === today.value ? {} : { on: to } })
const list = (words: string) => placeOf.list('invoices', { show: words })
const came = (words: string) => list(`came:${day.value?.on}${words}`)
const share = (n: number) => (day.value?.came ? `${Math.round((n * 100) / day.value.came)} %` : '')
/** What is open and whose turn it is, row by row, each opening its list. */
const tables = computed(() => {
  const g = data.value
  if (!g) return []
  const row = (
    title: string,
    to: string,
    load: typeof g.held,
    when = load.since && showInstant(load.since, today.value),
  ) => ({
    title,
    to,
    count: load.count,
    worth: sums(load.worth),
    when,
  })
  const lost =
    g.stakeUntil &&
    `the first is lost after ${showDay(g.stakeUntil, today.value)}, ${distance(g.stakeUntil, today.value)}`
  return [
    {
      title: 'Open now',
      more: '',
      empty: '',
      rows: [
        row('Held', list('held'), g.held),
        row('Wait for goods or a paper', list('waiting'), g.waiting),
        row('To release', list('verified'), g.release),
        row('Discounts at stake', list('stake'), { turn: '', count: g.stakeCount, since: '', worth: g.stake }, lost),
      ],
    },
    {
      title: 'Whose turn',
      more: '/lookup/turns',
      empty: 'Nothing that is held or waits is anybody’s turn.',
      rows: g.loads.map((l) =>
        row(
          l.with ? `${l.turn} · ${l.with}` : l.turn,
          list(`unverified;turn:${encodeURIComponent(l.turn)};with:${encodeURIComponent(l.with ?? 'nobody')}`),
          l,
        ),
      ),
    },
  ]
})
useKeys(() => [
  { key: 'ArrowLeft', label: 'day before', run: () => go(plus(on.value, -1)) },
  ...(on.value < today.value ? [{ key: 'ArrowRight', label: 'day after', run: () => go(plus(on.value, 1)) }] : []),
])
</script>

<template>
  <LookFrame
    label="The day"
    :title="`The day: ${showDay(on, today)}`"
    says="Invoices. What came in on the day is told by how it stands now."
    :error="error"
    :ready="data !== undefined && day !== undefined"
  >
    <template #head>
      <span class="ms-auto">
        <button type="button" class="linkish me-3" @click="go(plus(on, -1))">‹ day before</button>
        <button v-if="on < today" type="button" class="linkish" @click="go(plus(on, 1))">day after ›</button>
      </span>
    </template>
    <template v-if="data && day">
      <dl class="glance">
        <div>
          <dt>Came in</dt>
          <dd>
            <RouterLink :to="came('')">{{ day.came }}</RouterLink>
          </dd>
        </div>
        <div>
          <dt>In the books with no act</dt>
          <dd>
            <RouterLink :to="came(';untouched')">{{ day.alone }}</RouterLink> <small>{{ share(day.alone) }}</small>
          </dd>
        </div>
        <div>
          <dt>after an act</dt>
          <dd>
            <RouterLink :to="came(';booked;acted')">{{ day.acted }}</RouterLink> <small>{{ share(day.acted) }}</small>
          </dd>
        </div>
        <div>
          <dt>Wait</dt>
          <dd>
            <RouterLink :to="came(';waiting')">{{ day.waiting }}</RouterLink>
          </dd>
        </div>
        <div>
          <dt>Held</dt>
          <dd>
            <RouterLink :to="came(';held')">{{ day.held }}</RouterLink>
          </dd>
        </div>
        <div>
          <dt>Refused or void</dt>
          <dd>{{ day.ended }}</dd>
        </div>
      </dl>
      <DayBars :days="data.days" @pick="go" />
      <template v-for="t in tables" :key="t.title">
        <h2 class="mt-4 mb-1">
          {{ t.title }}
          <RouterLink v-if="t.more" :to="t.more" class="small fw-normal ms-2">Hand over…</RouterLink>
        </h2>
        <p v-if="!t.rows.length" class="muted">{{ t.empty }}</p>
        <table v-else class="grid open-now" :aria-label="t.title">
          <thead>
            <tr>
              <th>What</th>
              <th class="num">Invoices</th>
              <th class="num">Worth, with tax</th>
              <th>The oldest since</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="r in t.rows" :key="r.title">
              <td>{{ r.title }}</td>
              <td class="num">
                <RouterLink :to="r.to">{{ r.count }}</RouterLink>
              </td>
              <td class="num">{{ r.worth || '–' }}</td>
              <td>{{ r.when }}</td>
            </tr>
          </tbody>
        </table>
      </template>
    </template>
  </LookFrame>
</template>
