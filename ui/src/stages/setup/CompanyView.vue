<script setup lang="ts">
// What the company decides for all: where goods go, how invoices are matched, which differences pass.
import { ref, watch } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { api, unwrap } from '@/api/client'
import { companyQuery } from '@/api/queries'
import { useBeginning } from '@/parts/beginning'
import EntryField from '@/parts/EntryField.vue'
import NoticeBar from '@/parts/NoticeBar.vue'
import PickField from '@/parts/PickField.vue'
import TickBox from '@/parts/TickBox.vue'
import { nextField } from '@/parts/fields'
import { useKeys } from '@/parts/keys'
import { tell } from '@/parts/notice'
import { current, may as allowed } from '@/parts/session'
import { useJob } from '@/parts/job'
import { sent, show } from '@/parts/numbers'
import LimitsPart from './LimitsPart.vue'
import ChasePart from './ChasePart.vue'
import DebitAccountsPart from './DebitAccountsPart.vue'
import PlacesPart from './PlacesPart.vue'
import SetUpTabs from './SetUpTabs.vue'
import { levels } from './supplier'

const client = useQueryClient()
const { data: frame, error } = useBeginning(companyQuery)
const { at, busy, send } = useJob()
const may = () => allowed('saveCompany')
const form = ref({
  address: '',
  place: '',
  mail: '',
  taxId: '',
  twoStep: false,
  reducesTax: false,
  due: 'ours',
  overBudget: 'told',
  lateRate: '',
  lateSource: '',
  requests: false,
  twoFrom: '',
  selfUpTo: '',
})
const dues = [
  { value: 'ours', text: 'ours, by the terms of the supplier' },
  { value: 'theirs', text: 'the one that the invoice states' },
  { value: 'later', text: 'the later of the two' },
]
const overs = [
  { value: 'told', text: 'it is said, and goes on' },
  { value: 'refused', text: 'nothing is ordered or approved before the budget is changed' },
]
let before = '' // as it was read: what somebody else changes meanwhile is taken over unless something was typed
watch(
  frame,
  (f) => {
    if (!f || (before !== '' && JSON.stringify(form.value) !== before)) return
    const {
      address,
      place,
      mail,
      taxId = '',
      twoStep,
      reducesTax = false,
      due = 'ours',
      overBudget = 'told',
      lateRate = '',
      lateSource = '',
      requests = false,
      twoFrom = '',
      selfUpTo = '',
    } = f.company
    form.value = {
      address,
      place,
      mail,
      taxId,
      twoStep,
      reducesTax,
      due,
      overBudget,
      lateRate,
      lateSource,
      requests,
      twoFrom: twoFrom && show(twoFrom),
      selfUpTo: selfUpTo && show(selfUpTo),
    }
    before = JSON.stringify(form.value)
  },
  { immediate: true },
)
async function save() {
  const stands = frame.value?.company
  if (!stands) return
  const done = await send(() =>
    unwrap(
      api.POST('/api/company', {
        body: {
          ...stands,
          ...form.value,
          lateRate: sent(form.value.lateRate),
          twoFrom: sent(form.value.twoFrom),
          selfUpTo: sent(form.value.selfUpTo),
        },
      }),
    ),
  )
  if (!done) return
  before = ''
  tell('What the company decides is changed.')
  await client.invalidateQueries()
}
useKeys(() => (may() ? [{ key: 'Ctrl+Enter', label: 'keep it', run: () => void save() }] : []))
</script>

<template>
  <main class="desk alone">
    <section class="sheet" aria-label="Company">
      <NoticeBar />
      <header>
        <div class="headline">
          <h1>{{ current?.company }}</h1>
          <SetUpTabs />
        </div>
      </header>
      <div v-if="error" class="nothing" role="alert">{{ error.message }}</div>
      <template v-else-if="frame">
        <div class="body" tabindex="0" @keydown.enter="nextField">
          <template v-if="may()">
            <div class="entry">
              <EntryField
                id="company-address"
                v-model="form.address"
                label="Address on orders"
                hint="commas part its lines"
              />
              <EntryField id="company-place" v-model="form.place" label="Goods are delivered to" />
              <EntryField
                id="company-tax"
                v-model="form.taxId"
                class="mono"
                label="Tax number that invoices to us state"
                :error="at('taxId')"
              />
              <EntryField id="company-mail" v-model="form.mail" label="Sender of mails" :error="at('mail')" />
            </div>
            <TickBox v-model="form.twoStep">A delivery is counted at the door and booked by another person</TickBox>
            <TickBox v-model="form.reducesTax"
              >A discount that is taken for paying early reduces the input tax that was claimed</TickBox
            >
            <TickBox v-model="form.requests"
              >Money agreed ahead may be paid on our own request, without an invoice of the supplier’s</TickBox
            >
            <div class="mt-2 chosen">
              <label for="company-due" class="d-block">Due date that counts, where an invoice states one</label>
              <PickField id="company-due" v-model="form.due" :options="dues" />
            </div>
            <div class="mt-2 chosen">
              <label for="company-over" class="d-block">Where more is ordered or approved than a budget has</label>
              <PickField id="company-over" v-model="form.overBudget" :options="overs" />
            </div>
            <div class="entry mt-2">
              <EntryField
                id="company-late"
                v-model="form.lateRate"
                label="Paying late costs a year, per cent"
                hint="as the law or a contract says"
                :error="at('lateRate')"
              />
              <EntryField
                id="company-late-source"
                v-model="form.lateSource"
                label="Where that is laid down"
                :error="at('lateSource')"
              />
              <EntryField
                id="company-two"
                v-model="form.twoFrom"
                label="From this sum two persons approve a run"
                hint="empty: one does"
                :error="at('twoFrom')"
              />
              <EntryField
                id="company-self"
                v-model="form.selfUpTo"
                label="Up to this sum clean invoices release themselves"
                hint="never one that a person keyed; empty: none does"
                :error="at('selfUpTo')"
              />
            </div>
          </template>
          <PlacesPart :frame="frame" class="mt-3" />
          <DebitAccountsPart :frame="frame" />
          <ChasePart class="mt-3" />
          <dl class="facts mt-3 mb-3">
            <div v-if="!may()">
              <dt>Goods are delivered to</dt>
              <dd>{{ frame.company.place || 'not said' }}</dd>
            </div>
            <div>
              <dt>Invoices are matched</dt>
              <dd>{{ levels[frame.company.level] }}</dd>
            </div>
            <div>
              <dt>More than ordered</dt>
              <dd>{{ frame.company.overDelivery ? 'up to the limit' : 'never' }}</dd>
            </div>
            <div>
              <dt>Less than ordered</dt>
              <dd>{{ frame.company.underDelivery ? 'down to the limit' : 'never' }}</dd>
            </div>
            <div v-if="!may()">
              <dt>Deliveries</dt>
              <dd>
                {{ frame.company.twoStep ? 'counted at the door, booked by another person' : 'booked in one step' }}
              </dd>
            </div>
          </dl>
          <LimitsPart
            id="company-limits"
            name="the company"
            title="Limits where nothing nearer is set"
            :level="frame.company.level"
            :limits="frame.company.limits"
            :by="frame.limitsBy"
            :policy="{ overDelivery: frame.company.overDelivery, underDelivery: frame.company.underDelivery }"
            empty="None: nothing passes."
          />
          <p v-if="!may()" class="muted">Changing the rest takes the role administrator.</p>
        </div>
        <div v-if="may()" class="bar">
          <BButton variant="primary" :disabled="busy" @click="save">Keep</BButton>
        </div>
      </template>
    </section>
  </main>
</template>
