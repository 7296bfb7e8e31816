<script setup lang="ts">
// How a supplier delivered within a chosen time, with the lines behind each figure.
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { useRoute } from 'vue-router'
import { api, unwrap, type Performance } from '@/api/client'
import MoreRows from '@/parts/MoreRows.vue'
import PickField from '@/parts/PickField.vue'
import TextField from '@/parts/TextField.vue'
import { plus } from '@/parts/days'
import { price, show, showDay } from '@/parts/numbers'
import { figureNames } from '@/parts/performance'
import { current, today } from '@/parts/session'
import { placeOf } from '@/parts/places'

const props = defineProps<{ code: string }>()
type Line = Performance['lines'][number]
const ago = (days: number) => plus(today.value, -days)
const spans = [
  { value: '365', text: 'last twelve months' },
  { value: '90', text: 'last 90 days' },
  { value: '30', text: 'last 30 days' },
  { value: 'year', text: 'this year' },
  { value: '', text: 'from – to' },
]
const route = useRoute()
const asked = (name: string) => String(route.query[name] ?? '')
/** The ranking leads here with its period. */
const span = ref(asked('from') ? '' : '365')
const from = ref(asked('from') || ago(365))
const until = ref(asked('until') || today.value)
function choose(chosen: string) {
  if (chosen === '') return
  from.value = chosen === 'year' ? `${today.value.slice(0, 4)}-01-01` : ago(Number(chosen))
  until.value = today.value
}
const query = computed(() => ({ from: from.value, until: until.value }))
const { data: p } = useQuery({
  queryKey: ['performance', computed(() => props.code), query],
  queryFn: () =>
    unwrap(
      api.GET('/api/suppliers/{code}/performance', { params: { path: { code: props.code }, query: query.value } }),
    ),
  enabled: computed(() => from.value !== '' && until.value !== ''),
  placeholderData: keepPreviousData,
})
/** Whoever comes from the ranking comes for this. */
const head = useTemplateRef<HTMLElement>('head')
watch(p, () => route.hash === '#delivers' && void nextTick(() => head.value?.scrollIntoView()), { once: true })
const chosen = ref(asked('figure'))
/** What was charged more, and less: one does not make up for the other. */
const difference = (l: Line) =>
  [Number(l.dearer) ? `+${show(l.dearer)}` : '', Number(l.cheaper) ? `−${show(l.cheaper)}` : '']
    .filter(Boolean)
    .join(' / ') || show(l.dearer)
/** The lines that count in the chosen figure, what went wrong first. */
const behind = computed(() => {
  const good = p.value?.lines.filter((l) => l.good.includes(chosen.value)) ?? []
  const not = p.value?.lines.filter((l) => l.not.includes(chosen.value)) ?? []
  return chosen.value === 'returns' ? [...good, ...not] : [...not, ...good]
})
const came = (l: Line) =>
  `${show(l.received)} of ${show(l.ordered)} ${l.unitName}${Number(l.returned) ? `, ${show(l.returned)} went back` : ''}`
</script>

<template>
  <h2 ref="head">How it delivers</h2>
  <div class="filters mb-2 mt-0">
    <div>
      <label for="performance-span">Wanted in</label>
      <PickField id="performance-span" v-model="span" :options="spans" @update:model-value="choose" />
    </div>
    <template v-if="span === ''">
      <div>
        <label for="performance-from">From</label>
        <TextField id="performance-from" v-model="from" type="date" />
      </div>
      <div>
        <label for="performance-until">To</label>
        <TextField id="performance-until" v-model="until" type="date" :max="today" />
      </div>
    </template>
  </div>
  <p v-if="p && !p.lines.length" class="muted">Nothing was wanted from this supplier in that time.</p>
  <table v-else-if="p" class="grid mb-2">
    <thead>
      <tr>
        <th>Figure</th>
        <th class="num">%</th>
        <th class="num">Lines</th>
        <th></th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="f in p.figures" :key="f.figure" :class="{ on: chosen === f.figure }">
        <td>
          <b>{{ figureNames[f.figure]?.[0] }}</b> <span class="muted">{{ figureNames[f.figure]?.[1] }}</span>
        </td>
        <td class="num">{{ f.lines ? price(f.percent) : 'none yet' }}</td>
        <td class="num">
          <template v-if="f.lines && f.good !== undefined">{{ f.good }} of </template>{{ f.lines || '' }}
        </td>
        <td>
          <button
            v-if="f.lines"
            type="button"
            class="linkish d-block"
            :aria-expanded="chosen === f.figure"
            :aria-label="`${chosen === f.figure ? 'Put away' : 'Lines'}: ${figureNames[f.figure]?.[0]}`"
            @click="chosen = chosen === f.figure ? '' : f.figure"
          >
            {{ chosen === f.figure ? 'Put away' : 'Lines' }}
          </button>
        </td>
      </tr>
      <tr v-if="p.score !== undefined" class="total">
        <td><b>Score</b> <span class="muted">the mean of them, weighted as the company sets</span></td>
        <td class="num">
          <b>{{ price(p.score) }}</b>
        </td>
        <td class="num">{{ p.lines.length }}</td>
        <td><RouterLink to="/lookup/ranking">all suppliers</RouterLink></td>
      </tr>
    </tbody>
  </table>
  <MoreRows :more="p?.more" way="The figures are of the newest lines; choose a shorter time to see all of it." />
  <table v-if="chosen && behind.length" class="grid mb-3">
    <thead>
      <tr>
        <th>Counts</th>
        <th>Order</th>
        <th>Goods</th>
        <th>Wanted</th>
        <th>Last came</th>
        <th>Came</th>
        <th>With delivery</th>
        <th v-if="chosen === 'price'" class="num">Difference, {{ current?.currency }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="l in behind" :key="`${l.order}/${l.line}`">
        <td>{{ l.good.includes(chosen) ? 'yes' : 'no' }}</td>
        <td>
          <RouterLink class="mono" :to="placeOf.order(l.order)">{{ l.order }}</RouterLink>
        </td>
        <td>{{ l.description }}</td>
        <td class="nowrap">{{ showDay(l.wantedOn, today) }}</td>
        <td class="nowrap">{{ l.lastDay ? showDay(l.lastDay, today) : 'not yet' }}</td>
        <td>{{ came(l) }}</td>
        <td>
          <RouterLink v-for="d in l.deliveries" :key="d" class="mono me-2" :to="placeOf.delivery(d)">{{
            d
          }}</RouterLink>
        </td>
        <td v-if="chosen === 'price'" class="num">{{ difference(l) }}</td>
      </tr>
    </tbody>
  </table>
</template>
