<script setup lang="ts">
// The limits and the match level of one level: what stands, who else must confirm it, and, for a buyer or an
// administrator, the change with its reason and with what it would let pass at once.
import { computed, ref, watch } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { api, unwrap, type Limit, type LimitsPlan } from '@/api/client'
import EntryField from '@/parts/EntryField.vue'
import LimitsTable from '@/parts/LimitsTable.vue'
import PickField from '@/parts/PickField.vue'
import TickBox from '@/parts/TickBox.vue'
import { nextField } from '@/parts/fields'
import { useKeys } from '@/parts/keys'
import { sorts, typed, untyped } from '@/parts/limits'
import { tell } from '@/parts/notice'
import { show } from '@/parts/numbers'
import { current, may, person } from '@/parts/session'
import { useJob } from '@/parts/job'
import LimitsSaid from './LimitsSaid.vue'
import { levelChoices } from './supplier'
import { placeOf } from '@/parts/places'

const props = defineProps<{
  id: string
  name: string
  title?: string
  supplier?: string
  item?: string
  /** A kind of charge of the company, which has no match level. */
  charge?: string
  level: string
  limits: Limit[]
  by?: string[] | undefined
  empty: string
  kinds?: string[]
  /** What a blank match level says here. */
  above?: string
  policy?: { overDelivery: boolean; underDelivery: boolean }
}>()
const client = useQueryClient()
const open = ref(false)
const form = ref({ level: '', limits: typed([]), reason: '', overDelivery: false, underDelivery: false })
const plan = ref<LimitsPlan>()
const { at, busy, send } = useJob({ within: `#${props.id}` })
const levels = computed(() =>
  levelChoices
    .filter((l) => l.value !== '' || props.above !== undefined)
    .map((l) => (l.value === '' ? { value: '', text: props.above ?? '' } : l)),
)
function begin() {
  form.value = {
    level: props.level,
    limits: typed(props.limits),
    reason: '',
    overDelivery: props.policy?.overDelivery ?? false,
    underDelivery: props.policy?.underDelivery ?? false,
  }
  plan.value = undefined
  open.value = true
}
watch(
  () => props.id,
  () => (open.value = false),
)
const entry = () => ({
  supplier: props.supplier ?? '',
  item: props.item ?? '',
  ...(props.charge ? { charge: props.charge } : {}),
  level: form.value.level,
  limits: untyped(form.value.limits),
  reason: form.value.reason,
  ...(props.policy ? { overDelivery: form.value.overDelivery, underDelivery: form.value.underDelivery } : {}),
})
watch(form, () => (plan.value = undefined), { deep: true })
async function look() {
  plan.value = await send(() => unwrap(api.POST('/api/limits/preview', { body: entry() })))
}
async function keep() {
  const done = await send(() => unwrap(api.POST('/api/limits', { body: entry() })))
  if (!done) return
  open.value = false
  tell(`The limits of ${props.name} are changed; open invoices are matched again.`)
  await client.invalidateQueries()
}
const confirm = () =>
  send(
    () =>
      unwrap(
        api.POST('/api/limits/confirm', {
          body: { supplier: props.supplier ?? '', item: props.item ?? '', charge: props.charge ?? '' },
        }),
      ),
    {
      done: `The limits of ${props.name} are confirmed.`,
    },
  )
const others = computed(() => (props.by ?? []).filter((name) => name !== person.value?.name))
useKeys(() =>
  open.value
    ? [
        { key: 'Ctrl+Enter', label: 'change the limits', run: () => void keep() },
        { key: 'Escape', label: 'leave them', run: () => (open.value = false) },
      ]
    : [],
)
</script>

<template>
  <section :id="id" :aria-label="`Limits of ${name}`">
    <LimitsSaid :limits="limits" :currency="current?.currency ?? ''" :empty="empty" :title="title ?? 'Limits'" />
    <p v-if="by?.length" class="outside-text mb-1">
      Changed by {{ by.join(' and ') }}; until somebody else confirms it, it clears nothing of their own entries and
      orders.
      <button
        v-if="others.length && may('confirmLimits')"
        type="button"
        class="linkish"
        :disabled="busy"
        @click="confirm"
      >
        Confirm these limits
      </button>
    </p>
    <button v-if="!open && may('setLimits')" type="button" class="linkish mb-3" @click="begin">
      {{ charge ? 'Change the limits…' : 'Change limits or matching…' }}
    </button>
    <form v-if="open" class="ask mb-3" @submit.prevent="keep" @keydown.enter="nextField">
      <div class="entry">
        <div v-if="!charge">
          <label :for="`${id}-level`">Invoices are matched</label>
          <PickField :id="`${id}-level`" v-model="form.level" :options="levels" />
          <div class="small text-danger">{{ at('level') }}</div>
        </div>
        <EntryField
          :id="`${id}-reason`"
          v-model="form.reason"
          label="Why"
          hint="the record keeps it"
          :error="at('reason')"
          style="min-width: 320px"
        />
      </div>
      <template v-if="policy">
        <TickBox v-model="form.overDelivery">More than ordered may be received, up to the limit</TickBox>
        <TickBox v-model="form.underDelivery">Less than ordered may be closed, down to the limit</TickBox>
      </template>
      <p class="small muted mb-1">
        Blank: not set{{ policy ? ', so nothing passes' : ', so the next level counts' }}. Zero: nothing passes. Two
        values: both must hold.
      </p>
      <LimitsTable
        :id="`${id}-limit`"
        v-model="form.limits"
        :company="!policy"
        :kinds="kinds ?? sorts.map((s) => s.kind)"
        :currency="current?.currency ?? ''"
        :problem="(n) => at(`limits[${n}]`)"
      />
      <div v-if="plan" role="status" class="mb-2">
        <p v-if="!plan.passing.length" class="mb-0">
          None of the {{ plan.tried }} open invoices would pass that does not now.
        </p>
        <template v-else>
          <p class="mb-1">
            <b>{{ plan.passing.length }} of {{ plan.tried }} open invoices would verify at once:</b>
          </p>
          <ul class="plain">
            <li v-for="p in plan.passing" :key="p.invoice">
              <RouterLink :to="placeOf.invoice(p.invoice)" class="mono">{{ p.supplierNumber }}</RouterLink> of
              {{ p.supplier }}, {{ show(p.total) }} {{ p.currency }}
            </li>
          </ul>
        </template>
      </div>
      <BButton type="submit" variant="primary" size="sm" :disabled="busy">Change</BButton>
      <BButton variant="outline-secondary" size="sm" class="ms-2" :disabled="busy" @click="look"
        >What would it let pass?</BButton
      >
      <BButton variant="outline-secondary" size="sm" class="ms-2" @click="open = false">Leave them</BButton>
    </form>
  </section>
</template>
