<script setup lang="ts">
// What the company decides for all: where goods go, how invoices are matched, which differences pass.
import { ref, watch } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { api, unwrap } from '@/api/client'
import EntryField from '@/parts/EntryField.vue'
import NoticeBar from '@/parts/NoticeBar.vue'
import PickField from '@/parts/PickField.vue'
import TickBox from '@/parts/TickBox.vue'
import { nextField } from '@/parts/fields'
import { useKeys } from '@/parts/keys'
import { tell } from '@/parts/notice'
import { current, has } from '@/parts/session'
import { useSending } from '@/parts/sending'
import LimitsSaid from './LimitsSaid.vue'
import LimitsTable from '@/parts/LimitsTable.vue'
import { typed, untyped } from '@/parts/limits'
import SetUpTabs from './SetUpTabs.vue'
import { levelChoices, levels } from './supplier'

const client = useQueryClient()
const { data: frame, error } = useQuery({ queryKey: ['company'], queryFn: () => unwrap(api.GET('/api/company')) })
const { at, busy, send } = useSending()
const may = () => has('administrator')
const blank = { address: '', place: '', mail: '', overDelivery: false, underDelivery: false, twoStep: false, level: '', limits: typed([]) }
const form = ref(blank)
let before = '' // as it was read: what somebody else changes meanwhile is taken over unless something was typed
watch(
  frame,
  (f) => {
    if (!f || (before !== '' && JSON.stringify(form.value) !== before)) return
    form.value = { ...f.company, limits: typed(f.company.limits) }
    before = JSON.stringify(form.value)
  },
  { immediate: true },
)
async function save() {
  const done = await send(() => unwrap(api.POST('/api/company', { body: { ...form.value, limits: untyped(form.value.limits) } })))
  if (!done) return
  before = ''
  tell('What the company decides is changed; open invoices are matched again.')
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
      <template v-else-if="frame && may()">
        <div class="body" @keydown.enter="nextField">
          <div class="entry">
            <EntryField id="company-address" v-model="form.address" label="Address on orders" hint="commas part its lines" />
            <EntryField id="company-place" v-model="form.place" label="Goods are delivered to" />
            <EntryField id="company-mail" v-model="form.mail" label="Sender of mails" :error="at('mail')" />
            <div>
              <label for="company-level">Invoices are matched</label>
              <PickField id="company-level" v-model="form.level" :options="levelChoices.filter((l) => l.value !== '')" />
            </div>
          </div>
          <TickBox v-model="form.overDelivery">More than ordered may be received, up to the limit</TickBox>
          <TickBox v-model="form.underDelivery">Less than ordered may be closed, down to the limit</TickBox>
          <TickBox v-model="form.twoStep">A delivery is counted at the door and booked by another person</TickBox>
          <h2>Limits where nothing nearer is set</h2>
          <p class="small muted mb-1">Blank: not set, so nothing passes. Two values: both must hold.</p>
          <LimitsTable id="company-limit" v-model="form.limits" :currency="current?.currency ?? ''" :problem="(n) => at(`limits[${n}]`)" />
        </div>
        <div class="bar">
          <BButton variant="primary" :disabled="busy" @click="save">Keep</BButton>
          <span class="sum">Changing this matches every open invoice again.</span>
        </div>
      </template>
      <div v-else-if="frame" class="body" tabindex="0">
        <dl class="facts">
          <div>
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
          <div>
            <dt>Deliveries</dt>
            <dd>{{ frame.company.twoStep ? 'counted at the door, booked by another person' : 'booked in one step' }}</dd>
          </div>
        </dl>
        <LimitsSaid class="mt-3" :limits="frame.company.limits" :currency="current?.currency ?? ''" empty="None: nothing passes." />
        <p class="muted">Changing this takes the role administrator.</p>
      </div>
    </section>
  </main>
</template>
