<script setup lang="ts">
// A day at a glance, for whoever leads the work: what came in and how it stands, what is open, whose turn it is, what is at stake.
// Each number opens its list.
import { computed } from 'vue'
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { useRoute, useRouter } from 'vue-router'
import { api, unwrap } from '@/api/client'
import { distance, showDay, showInstant, sums } from '@/parts/numbers'
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
const before = (days: number) => new Date(Date.parse(on.value) + days * 86_400_000).toISOString().slice(0, 10)
const go = (to: string) => void router.replace({ query: to === today.value ? {} : { on: to } })
const list = (words: string) => placeOf.list('invoices', { show: words })
const came = (words: string) => list(`came:${day.value?.on}${words}`)
const share = (n: number) => (day.value?.came ? `${Math.round((n * 100) / day.value.came)} %` : '')
const now = computed(() =>
  !data.value
    ? []
    : [
        { title: 'Held', load: data.value.held, to: list('held') },
        { title: 'Wait for goods or a paper', load: data.value.waiting, to: list('waiting') },
        { title: 'To release', load: data.value.release, to: list('verified') },
      ],
)
useKeys(() => [
  { key: 'ArrowLeft', label: 'day before', run: () => go(before(-1)) },
  ...(on.value < today.value ? [{ key: 'ArrowRight', label: 'day after', run: () => go(before(1)) }] : []),
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
        <button type="button" class="linkish me-3" @click="go(before(-1))">‹ day before</button>
        <button v-if="on < today" type="button" class="linkish" @click="go(before(1))">day after ›</button>
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
      <h2 class="mt-4 mb-1">Open now</h2>
      <table class="grid open-now mb-4">
        <thead>
          <tr>
            <th>What</th>
            <th class="num">Invoices</th>
            <th class="num">Worth, with tax</th>
            <th>The oldest since</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="n in now" :key="n.title">
            <td>{{ n.title }}</td>
            <td class="num">
              <RouterLink :to="n.to">{{ n.load.count }}</RouterLink>
            </td>
            <td class="num">{{ sums(n.load.worth) || '–' }}</td>
            <td>{{ n.load.since ? showInstant(n.load.since, today) : '' }}</td>
          </tr>
          <tr>
            <td>Discounts at stake</td>
            <td class="num">
              <RouterLink :to="list('stake')">{{ data.stakeCount }}</RouterLink>
            </td>
            <td class="num">{{ sums(data.stake) || '–' }}</td>
            <td>
              <template v-if="data.stakeUntil"
                >the first is lost after {{ showDay(data.stakeUntil, today) }},
                {{ distance(data.stakeUntil, today) }}</template
              >
            </td>
          </tr>
        </tbody>
      </table>
      <h2 class="mb-1">Whose turn</h2>
      <p v-if="!data.loads.length" class="muted">Nothing that is held or waits is anybody’s turn.</p>
      <table v-else class="grid open-now">
        <thead>
          <tr>
            <th>Whose</th>
            <th class="num">Invoices</th>
            <th class="num">Worth, with tax</th>
            <th>The oldest since</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="l in data.loads" :key="l.turn">
            <td>{{ l.turn }}</td>
            <td class="num">
              <RouterLink :to="list(`unverified;turn:${encodeURIComponent(l.turn)}`)">{{ l.count }}</RouterLink>
            </td>
            <td class="num">{{ sums(l.worth) }}</td>
            <td>{{ showInstant(l.since, today) }}</td>
          </tr>
        </tbody>
      </table>
    </template>
  </LookFrame>
</template>
