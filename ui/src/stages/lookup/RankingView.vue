<script setup lang="ts">
// How suppliers deliver over a period, the best first: each figure drawn small, weighted as the company sets. A figure opens what
// it is made of.
import { computed, ref } from 'vue'
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { useRoute, useRouter } from 'vue-router'
import { api, unwrap } from '@/api/client'
import EntryField from '@/parts/EntryField.vue'
import PeriodFields from '@/parts/PeriodFields.vue'
import SmallForm from '@/parts/SmallForm.vue'
import { useJob } from '@/parts/job'
import { useKept } from '@/parts/kept'
import { useKeys } from '@/parts/keys'
import { price, sent, showDay } from '@/parts/numbers'
import { figureNames } from '@/parts/performance'
import { placeOf } from '@/parts/places'
import { may, today } from '@/parts/session'
import LookFrame from './LookFrame.vue'

const route = useRoute()
const router = useRouter()
const period = computed(() => ({
  ...(route.query['from'] ? { from: String(route.query['from']) } : {}),
  ...(route.query['until'] ? { until: String(route.query['until']) } : {}),
}))
const { data, error } = useQuery({
  queryKey: ['ranking', period],
  queryFn: () => unwrap(api.GET('/api/supplier-ranking', { params: { query: period.value } })),
  placeholderData: keepPreviousData,
})
const change = (part: { from?: string; until?: string }) =>
  void router.replace({ query: { from: data.value?.from, until: data.value?.until, ...part } })
/** Where a supplier's lines are, and those of a figure. */
const linesOf = (s: Supplier, figure = '') =>
  `${placeOf.supplier(s.code)}?${new URLSearchParams({ from: data.value!.from, until: data.value!.until, ...(figure ? { figure } : {}) })}#delivers`
const figures = Object.keys(figureNames)
type Supplier = NonNullable<typeof data.value>['suppliers'][number]
const of = (s: Supplier, figure: string) => s.figures.find((f) => f.figure === figure)!
/** Of returns little is good. */
const good = (s: Supplier, figure: string) =>
  figure === 'returns' ? 100 - Number(of(s, figure).percent) : Number(of(s, figure).percent)

const form = ref<Record<string, string>>()
const { again, done: kept } = useKept(form, () => 'weights')
const { send, busy, at } = useJob({ within: '.ask' })
const weigh = () => (form.value = Object.fromEntries(figures.map((f) => [f, String(data.value?.weights[f] ?? 1)])))
const keep = () =>
  send(
    () =>
      unwrap(
        api.POST('/api/supplier-weights', {
          body: Object.fromEntries(figures.map((f) => [f, Number(sent(form.value![f] ?? '') || '0')])),
        }),
      ),
    { done: 'The figures count as you say.', after: kept },
  )
useKeys(() => (may('saveWeights') ? [{ key: 'w', label: 'how much each figure counts', run: weigh }] : []))
</script>

<template>
  <LookFrame
    title="How suppliers deliver"
    :says="`Order lines wanted in the period${data?.cut ? ', the newest of more' : ''}; the best first.`"
    :error="error"
    :ready="data !== undefined"
  >
    <template #head>
      <button v-if="may('saveWeights')" type="button" class="linkish ms-auto" @click="weigh">
        How much each counts…
      </button>
    </template>
    <template v-if="data">
      <div class="trying">
        <PeriodFields
          id="ranking"
          label="Wanted from"
          :since="data.from"
          :until="data.until"
          @since="(from) => change({ from })"
          @until="(until) => change({ until })"
        />
      </div>
      <SmallForm
        v-if="form"
        class="mb-3"
        action="Keep the weights"
        label="How much each figure counts"
        :again="again"
        :disabled="busy"
        @done="keep"
        @cancel="form = undefined"
      >
        <p class="mb-2">Whole numbers; 0 leaves a figure out. Returns count as what did not go back.</p>
        <div class="entry">
          <EntryField
            v-for="f in figures"
            :id="`weight-${f}`"
            :key="f"
            v-model="form[f]!"
            :label="figureNames[f]![0]"
            :error="at(f)"
            style="width: 90px"
          />
        </div>
      </SmallForm>
      <p v-if="!data.suppliers.length" class="nothing">
        Nothing was wanted from {{ showDay(data.from, today) }} to {{ showDay(data.until, today) }}.
      </p>
      <table v-else class="grid trials ranking">
        <thead>
          <tr>
            <th class="num"></th>
            <th>Supplier</th>
            <th class="num">Score</th>
            <th v-for="f in figures" :key="f" :title="figureNames[f]![1]">
              {{ figureNames[f]![0] }} <span class="muted small">× {{ data.weights[f] ?? 1 }}</span>
            </th>
            <th class="num">Lines</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(s, i) in data.suppliers" :key="s.code">
            <td class="num muted">{{ s.score === undefined ? '' : i + 1 }}</td>
            <td>
              <RouterLink :to="linesOf(s)">{{ s.name }}</RouterLink>
            </td>
            <td class="num">
              <b>{{ s.score === undefined ? '–' : price(s.score) }}</b>
            </td>
            <td v-for="f in figures" :key="f">
              <template v-if="of(s, f).lines">
                <RouterLink
                  :to="linesOf(s, f)"
                  :aria-label="`${figureNames[f]![0]} of ${s.name}, ${price(of(s, f).percent)} %`"
                  >{{ price(of(s, f).percent) }} %</RouterLink
                >
                <svg class="small-bar" viewBox="0 0 100 6" preserveAspectRatio="none" aria-hidden="true">
                  <rect width="100" height="6" class="all" />
                  <rect :width="good(s, f)" height="6" />
                </svg>
              </template>
              <span v-else class="muted">none yet</span>
            </td>
            <td class="num">{{ s.lines }}</td>
          </tr>
        </tbody>
      </table>
    </template>
  </LookFrame>
</template>
