<script setup lang="ts">
// One limit tried on what was matched before: what it would have done, drawn over its values, who gains and what people said then.
// It books nothing until it is adopted.
import { computed, nextTick, ref, watch } from 'vue'
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { useRoute, useRouter } from 'vue-router'
import { api, unwrap } from '@/api/client'
import EntryField from '@/parts/EntryField.vue'
import NumberField from '@/parts/NumberField.vue'
import PeriodFields from '@/parts/PeriodFields.vue'
import SmallForm from '@/parts/SmallForm.vue'
import TickBox from '@/parts/TickBox.vue'
import { useJob } from '@/parts/job'
import { useKept } from '@/parts/kept'
import { useKeys } from '@/parts/keys'
import { read, sent, show } from '@/parts/numbers'
import { placeOf } from '@/parts/places'
import { may } from '@/parts/session'
import LookFrame from './LookFrame.vue'
import TrialCurve from './TrialCurve.vue'
import TrialFigures from './TrialFigures.vue'
import TrialInvoices from './TrialInvoices.vue'
import { limitName, percentOf, placeAt, placeName, unitOf, valueOf, type CurvePoint, type Trial } from './trials'

const route = useRoute()
const router = useRouter()
const of = (name: string) => String(route.query[name] ?? '')
const place = computed(() => ({ supplier: of('supplier'), item: of('item'), charge: of('charge') }))
const bare = computed(() => ({ kind: of('kind'), side: of('side') }))
/** The values that are tried stand in the address; without one it is tried as it is set. */
const asked = computed(() => ({ percent: route.query['percent'], absolute: route.query['absolute'] }))
const fresh = computed(() => asked.value.percent === undefined && asked.value.absolute === undefined)
/** The period too; without one it is the last year. */
const period = computed(() => ({
  ...(of('since') ? { since: of('since') } : {}),
  ...(of('until') ? { until: of('until') } : {}),
}))
const also = ref<string[]>([])
const first = useQuery({
  queryKey: ['trial-start', bare, place],
  queryFn: () => trying({ ...bare.value }, []),
  enabled: computed(() => fresh.value),
})
function trying(limit: { kind: string; side: string; percent?: string; absolute?: string }, nearer: string[]) {
  const body = {
    at: place.value,
    limit,
    also: nearer.map((key) => JSON.parse(key) as typeof place.value),
    ...period.value,
  }
  return unwrap(api.POST('/api/limit-trials/try', { body }))
}
const tried = computed(() => ({
  ...bare.value,
  ...(of('percent') ? { percent: of('percent') } : {}),
  ...(of('absolute') ? { absolute: of('absolute') } : {}),
}))
const { data, error, isFetching } = useQuery({
  queryKey: ['trial', tried, place, also, period],
  queryFn: () => trying(tried.value, also.value),
  enabled: computed(() => !fresh.value),
  placeholderData: keepPreviousData,
})
/** As it is set today is where a trial begins: half as much again is the first thing to look at. */
watch(
  () => first.data.value,
  (t) => {
    if (!t || !fresh.value) return
    const more = (v: string | undefined) =>
      v === undefined ? undefined : String(Number(v) === 0 ? 1 : Number(v) * 1.5)
    const percent = more(t.now.percent) ?? (percentOf(t.now) && t.now.absolute === undefined ? '1' : undefined)
    const absolute = percent === undefined ? (more(t.now.absolute) ?? '1') : t.now.absolute
    void go(percent ?? '', absolute ?? '')
  },
)
const form = ref({ percent: '', absolute: '' })
watch(tried, (t) => (form.value = { percent: show(t.percent), absolute: show(t.absolute) }), { immediate: true })
const go = (percent: string, absolute: string) =>
  router.replace({
    query: {
      ...route.query,
      percent: percent || undefined,
      absolute: absolute || undefined,
      ...(percent || absolute ? {} : { percent: '' }),
    },
  })
const again = () => {
  const [percent, absolute] = [form.value.percent, form.value.absolute].map((v) => (v.trim() ? sent(v) : ''))
  if (read(form.value.percent || '0') === undefined || read(form.value.absolute || '0') === undefined) return
  void go(percent!, absolute!)
}
const when = (part: { since?: string; until?: string }) => void router.replace({ query: { ...route.query, ...part } })
/** Half a point more or less, or a twentieth of an amount. */
function step(event: KeyboardEvent, field: 'percent' | 'absolute', by: number) {
  const now = Number(read(form.value[field] || '0') ?? 0)
  const one = field === 'percent' ? 0.5 : Math.max(0.01, Math.round(now * 5) / 100)
  form.value[field] = show(String(Math.max(0, Math.round((now + by * one) * 100) / 100)))
  event.preventDefault()
  again()
}
const name = computed(() => (data.value ? limitName(data.value.limit) : 'Limit'))
const where = computed(() => (data.value ? placeName(data.value.at) : ''))
const to = computed(() => (data.value ? valueOf(data.value.limit, data.value.currency) : ''))
const moves = computed(() => {
  const t = data.value
  return (
    t !== undefined &&
    (t.now.percent !== t.limit.percent || t.now.absolute !== t.limit.absolute || also.value.length > 0)
  )
})
const axis = computed(() => (data.value?.limit.percent === undefined ? 'absolute' : 'percent'))
const markOf = (value: number): CurvePoint['mark'] => {
  if (value === Number(data.value?.limit[axis.value])) return 'tried'
  const now = data.value?.now[axis.value]
  return now !== undefined && value === Number(now) ? 'today' : ''
}
const curve = (value: (f: Trial['tried']) => number): CurvePoint[] =>
  (data.value?.curve ?? []).map((p) => ({ at: Number(p.at), value: value(p.figure), mark: markOf(Number(p.at)) }))
const unit = computed(() =>
  axis.value === 'percent' ? '%' : data.value ? unitOf(data.value.limit, data.value.currency) : '',
)
const heldCurve = computed(() => curve((f) => f.held))
const passedCurve = computed(() => curve((f) => Number(f.passed)))

const keeping = ref<{ adopt: boolean; reason: string }>()
const { again: typedBefore, done: kept } = useKept(keeping, () => `trial.${route.fullPath}`)
const { send, busy, at } = useJob({ within: '.ask' })
const keep = () => {
  const t = data.value!
  const body = {
    trial: {
      ...period.value,
      at: placeAt(t.at),
      limit: t.limit,
      also: also.value.map((k) => JSON.parse(k) as typeof place.value),
    },
    was: t.now,
    reason: keeping.value!.reason,
  }
  return keeping.value!.adopt
    ? send(() => unwrap(api.POST('/api/limit-trials/adopt', { body })), {
        done: `${name.value} is ${to.value} for ${where.value} from now on; until somebody else confirms it under Set up, it clears nothing of your own.`,
        after: kept,
      })
    : send(() => unwrap(api.POST('/api/limit-trials', { body })), {
        done: 'The trial is kept; nothing is changed.',
        after: kept,
      })
}
const ask = (adopt: boolean) => (keeping.value = { adopt, reason: '' })
async function focusTry() {
  await nextTick()
  document.querySelector<HTMLElement>('#try-percent, #try-absolute')?.focus()
}
useKeys(() => [
  { key: 'Escape', label: 'all limits', run: () => void router.push('/lookup/limits') },
  { key: 't', label: 'try another value', run: () => void focusTry() },
  ...(may('keepTrial') ? [{ key: 'k', label: 'keep it as tried', run: () => ask(false) }] : []),
  ...(may('adoptLimit') && moves.value ? [{ key: 'a', label: 'adopt it', run: () => ask(true) }] : []),
])
</script>

<template>
  <LookFrame
    label="A limit tried on history"
    :title="`${name}, for ${where}`"
    says="tried on history; books nothing until it is adopted"
    :error="error ?? first.error.value"
    :ready="data !== undefined"
  >
    <template #waiting>
      <p class="nothing" role="status">The invoices of a year are matched again…</p>
    </template>
    <template #head><RouterLink class="ms-auto" to="/lookup/limits">all limits</RouterLink></template>
    <template v-if="data">
      <form class="trying" @submit.prevent="again">
        <span
          >Today <b>{{ valueOf(data.now, data.currency) }}</b></span
        >
        <template v-if="percentOf(data.limit)">
          <label for="try-percent">Try</label>
          <NumberField
            id="try-percent"
            v-model="form.percent"
            :label="`Try, per cent of the ${percentOf(data.limit)}`"
            @keydown.up="step($event, 'percent', 1)"
            @keydown.down="step($event, 'percent', -1)"
          />
          <span>%</span>
        </template>
        <label for="try-absolute">{{ percentOf(data.limit) ? 'and at most' : 'Try' }}</label>
        <NumberField
          id="try-absolute"
          v-model="form.absolute"
          :label="`Try, at most, in ${unitOf(data.limit, data.currency)}`"
          @keydown.up="step($event, 'absolute', 1)"
          @keydown.down="step($event, 'absolute', -1)"
        />
        <span>{{ unitOf(data.limit, data.currency) }}</span>
        <BButton type="submit" size="sm" variant="outline-secondary">Match again</BButton>
        <span class="muted small" role="status">{{
          isFetching
            ? 'matching again…'
            : `${show(String(data.invoices))} invoices${data.cut ? ', the newest of more' : ''}`
        }}</span>
        <PeriodFields
          id="try"
          label="that came from"
          :since="data.since"
          :until="data.until"
          @since="(since) => when({ since })"
          @until="(until) => when({ until })"
        />
      </form>
      <div v-if="data.nearer.length" class="mb-2">
        <span class="muted small">Also instead of what is set nearer:</span>
        <TickBox
          v-for="n in data.nearer.slice(0, 8)"
          :key="JSON.stringify(placeAt(n.at))"
          :model-value="also.includes(JSON.stringify(placeAt(n.at)))"
          @update:model-value="
            also = $event
              ? [...also, JSON.stringify(placeAt(n.at))]
              : also.filter((k) => k !== JSON.stringify(placeAt(n.at)))
          "
          >{{ placeName(n.at) }}, {{ valueOf(n.limit, data.currency) }}</TickBox
        >
      </div>
      <SmallForm
        v-if="keeping"
        class="mb-3"
        :action="keeping.adopt ? `Adopt ${to}` : 'Keep the trial'"
        label="Keep the trial"
        :again="typedBefore"
        :disabled="busy"
        @done="keep"
        @cancel="keeping = undefined"
      >
        <p class="mb-2">
          <b>{{ keeping.adopt ? `${name}: ${to} for ${where} from now on.` : 'Keep it as tried.' }}</b>
          <template v-if="keeping.adopt">
            Open invoices are matched again; {{ data.open || 'none' }} of them would verify. Until somebody else
            confirms it, it clears nothing of your own entries and orders.</template
          >
          <template v-else> The limits stay as they are.</template>
        </p>
        <EntryField id="trial-reason" v-model="keeping.reason" label="Why" data-first :error="at('reason')" />
      </SmallForm>
      <TrialFigures :trial="data" />
      <div v-if="data.curve.length" class="curves">
        <TrialCurve title="Invoices held in the period" :points="heldCurve" :unit="unit" />
        <TrialCurve
          :title="`${data.currency} passed within limits of this kind`"
          :points="passedCurve"
          :unit="unit"
          money
        />
      </div>
      <p v-if="!moves" class="muted">This is what is set today. Type another value.</p>
      <table v-if="data.suppliers.length" class="grid trials">
        <thead>
          <tr>
            <th>Who gains</th>
            <th class="num">Held today</th>
            <th class="num">Then</th>
            <th class="num">Fewer</th>
            <th class="num">{{ data.currency }} passed</th>
            <th class="num">Accepted then</th>
            <th class="num">Said no</th>
            <th class="num">{{ data.currency }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="s in data.suppliers" :key="s.code || s.name || 'others'">
            <td>
              <RouterLink v-if="s.code" :to="placeOf.supplier(s.code)">{{ s.name }}</RouterLink>
              <template v-else>{{ s.name || 'The others, who gain nothing' }}</template>
            </td>
            <td class="num">{{ s.heldToday }}</td>
            <td class="num">{{ s.heldTried }}</td>
            <td class="num">{{ s.heldToday - s.heldTried || '–' }}</td>
            <td class="num">{{ Number(s.passed) ? show(s.passed) : '–' }}</td>
            <td class="num">{{ s.accepted || '–' }}</td>
            <td class="num">{{ s.saidNo || '–' }}</td>
            <td class="num" :class="{ 'outside-text': s.saidNo }">{{ s.saidNo ? show(s.noWorth) : '–' }}</td>
          </tr>
        </tbody>
      </table>
    </template>
    <template #foot>
      <footer v-if="data && !keeping" class="bar">
        <BButton v-if="may('adoptLimit')" variant="primary" :disabled="!moves" @click="ask(true)"
          >Adopt {{ to }}…</BButton
        >
        <BButton v-if="may('keepTrial')" variant="outline-secondary" @click="ask(false)">Keep it as tried…</BButton>
        <span class="muted small">{{
          data.open ? `${data.open} that are held now would verify` : 'none that is held now would verify'
        }}</span>
      </footer>
    </template>
    <template #side><TrialInvoices v-if="data" :trial="data" /></template>
  </LookFrame>
</template>
