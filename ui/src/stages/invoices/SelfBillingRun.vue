<script setup lang="ts">
// Invoices that we write ourselves: what a run would make of what came, and making it.
import { computed, ref, watch } from 'vue'
import { api, Refusal, unwrap } from '@/api/client'
import type { components } from '@/api/schema'
import { useQuery } from '@tanstack/vue-query'
import { companyQuery } from '@/api/queries'
import DayField from '@/parts/DayField.vue'
import EntryField from '@/parts/EntryField.vue'
import NoticeBar from '@/parts/NoticeBar.vue'
import PickField from '@/parts/PickField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import { useJob } from '@/parts/job'
import { useKeys } from '@/parts/keys'
import { show, sums } from '@/parts/numbers'
import { placeOf } from '@/parts/places'
import { may, today } from '@/parts/session'

type SelfBilled = components['schemas']['SelfBilled']
const chosen = ref({ supplier: '', place: '', until: today.value })
const trial = ref<SelfBilled>()
const made = ref<SelfBilled>()
const trouble = ref('')
const { busy, send, at } = useJob()
const { data: frame } = useQuery(companyQuery)
const { data: kept } = useQuery({
  queryKey: ['self-billing-kept'],
  queryFn: () => unwrap(api.GET('/api/self-billing/kept')),
})
const places = computed(() => [
  { value: '', text: 'all' },
  ...[...new Set([...(frame.value?.places ?? []).map((p) => p.name), chosen.value.place])]
    .filter(Boolean)
    .map((name) => ({ value: name, text: name })),
])
const names = computed(() => [
  { value: '', text: 'none' },
  ...(kept.value ?? []).map((k) => ({ value: k.name, text: k.name })),
])
/** The kept selection that is chosen as it is kept; choosing one fills the fields. */
const named = computed({
  get: () =>
    kept.value?.find((k) => k.supplier === chosen.value.supplier && k.place === chosen.value.place)?.name ?? '',
  set: (name) => {
    const k = kept.value?.find((o) => o.name === name)
    Object.assign(chosen.value, { supplier: k?.supplier ?? '', place: k?.place ?? '' })
  },
})
const keeping = ref<{ name: string }>()
const keep = (name: string, ended: boolean) =>
  send(
    () =>
      unwrap(
        api.POST('/api/self-billing/kept', {
          body: { name, supplier: chosen.value.supplier, place: chosen.value.place, ended },
        }),
      ),
    {
      after: () => (keeping.value = undefined),
      done: ended ? `“${name}” is kept no longer.` : `What is selected is kept as “${name}”.`,
    },
  )
let asked = 0
/** What would be made; a late answer never overwrites a newer one. */
async function look() {
  const mine = ++asked
  trouble.value = ''
  try {
    const found = await unwrap(api.GET('/api/self-billing', { params: { query: chosen.value } }))
    if (mine === asked) trial.value = found
  } catch (e) {
    if (mine !== asked) return
    trial.value = undefined
    trouble.value = e instanceof Refusal ? e.message : 'It could not be looked up. Try again.'
  }
}
let wait: ReturnType<typeof setTimeout> | undefined
watch(
  chosen,
  () => {
    clearTimeout(wait)
    wait = setTimeout(() => void look(), 250)
  },
  { deep: true },
)
void look()
const shown = computed(() => made.value ?? trial.value)
const worth = computed(() =>
  sums(
    (shown.value?.made ?? []).map((d) => ({
      amount: d.code === '261' ? `-${d.total}` : d.total,
      currency: d.currency,
    })),
  ),
)
const makes = computed(() => (may('selfBill') && !made.value ? (trial.value?.made.length ?? 0) : 0))
async function make() {
  if (!makes.value || busy.value) return
  await send(() => unwrap(api.POST('/api/self-billing', { body: chosen.value })), {
    after: (all) => (made.value = all),
    done: (all) =>
      `${all.made.length === 1 ? '1 document is' : `${all.made.length} documents are`} written and verified, ${worth.value}.`,
  })
}
function again() {
  made.value = undefined
  void look()
}
useKeys(() => (makes.value ? [{ key: 'Ctrl+Enter', label: 'write them', run: () => void make() }] : []))
</script>

<template>
  <section class="sheet" aria-label="Invoices that we write">
    <NoticeBar />
    <header>
      <h1>Invoices that we write ourselves</h1>
      <p class="muted mb-2 mt-1">
        Of what came and is not invoiced, at the order’s price and tax of the day on which it came. What went back after
        we billed it is credited.
      </p>
      <div v-if="!made" class="d-flex flex-wrap gap-3">
        <div v-if="kept?.length">
          <label for="self-kept">Kept selection</label>
          <PickField id="self-kept" v-model="named" :options="names" />
        </div>
        <EntryField id="self-supplier" v-model="chosen.supplier" label="Supplier by code, empty: all agreed" />
        <div>
          <label for="self-place">Place of delivery</label>
          <PickField id="self-place" v-model="chosen.place" :options="places" />
        </div>
        <div>
          <label for="self-until" class="d-block">Came until</label>
          <DayField id="self-until" v-model="chosen.until" />
        </div>
        <div v-if="may('keepSelfBilling')" class="align-self-end pb-1">
          <button v-if="named" type="button" class="linkish" :disabled="busy" @click="keep(named, true)">
            Keep it no longer
          </button>
          <button v-else-if="!keeping" type="button" class="linkish" @click="keeping = { name: '' }">
            Keep this selection
          </button>
        </div>
      </div>
      <SmallForm
        v-if="keeping"
        action="Keep it"
        label="Keep this selection"
        :disabled="busy"
        @done="keep(keeping.name, false)"
        @cancel="keeping = undefined"
      >
        <EntryField id="self-name" v-model="keeping.name" label="As" maxlength="60" data-first :error="at('name')" />
        <p v-if="at('supplier')" class="text-danger mb-1">{{ at('supplier') }}</p>
      </SmallForm>
    </header>
    <div class="body" tabindex="0">
      <div v-if="trouble" class="nothing" role="alert">{{ trouble }}</div>
      <template v-else-if="shown">
        <div v-if="!shown.made.length && !shown.left.length" class="nothing">
          <h1>Nothing is to be written</h1>
          <p>With whom it is agreed stands on the supplier, under Set up.</p>
        </div>
        <table v-if="shown.made.length" class="grid mb-3">
          <thead>
            <tr>
              <th>Document</th>
              <th>Of</th>
              <th class="num">Net</th>
              <th class="num">Tax</th>
              <th class="num">Total</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(d, i) in shown.made" :key="i">
              <td>
                <b>{{ d.supplier }}</b><br />
                <RouterLink v-if="d.number" :to="placeOf.invoice(d.number)" class="mono d-inline-block py-1">{{
                  d.supplierNumber
                }}</RouterLink>
                <span v-else class="muted">the next of its series</span>
                <span class="muted ms-2">{{
                  d.code === '261' ? `credit note of ${d.credited}` : `self-billed, ${d.code}`
                }}</span>
                <div v-if="made" class="small muted">{{ d.mailed ? 'mailed' : 'not mailed: no address is known' }}</div>
              </td>
              <td>
                <div v-for="(l, j) in d.lines" :key="j">
                  {{ show(l.quantity) }} {{ l.unit }} {{ l.description }}
                  <span class="muted">at {{ show(l.price) }}</span>
                </div>
                <div class="small">
                  <RouterLink v-for="o in d.orders" :key="o" :to="placeOf.order(o)" class="me-2 d-inline-block py-1"
                    >order {{ o }}</RouterLink
                  ><RouterLink
                    v-for="r in d.receipts"
                    :key="`r${r}`"
                    :to="placeOf.delivery(r)"
                    class="me-2 d-inline-block py-1"
                    >receipt {{ r }}</RouterLink
                  >
                </div>
              </td>
              <td class="num">{{ show(d.net) }}</td>
              <td class="num">{{ show(d.tax) }}</td>
              <td class="num">
                <b>{{ d.code === '261' ? '−' : '' }}{{ show(d.total) }} {{ d.currency }}</b>
              </td>
            </tr>
          </tbody>
        </table>
        <template v-if="shown.left.length">
          <h2 class="mb-1">Left out</h2>
          <table class="grid">
            <tbody>
              <tr v-for="(l, i) in shown.left" :key="i">
                <td>
                  {{ l.supplier }}
                  <RouterLink :to="placeOf.order(l.order)" class="mono d-inline-block py-1">{{ l.order }}</RouterLink>
                </td>
                <td>{{ show(l.quantity) }} {{ l.name }}</td>
                <td>{{ l.why }}</td>
              </tr>
            </tbody>
          </table>
        </template>
      </template>
    </div>
    <div class="bar">
      <BButton v-if="!made" variant="primary" :disabled="!makes || busy" @click="make">Write {{ makes || '' }}</BButton>
      <BButton v-else variant="outline-secondary" @click="again">Look again</BButton>
      <span class="sum"
        ><template v-if="worth"
          >{{ shown?.made.length === 1 ? '1 document' : `${shown?.made.length} documents` }},
          <b>{{ worth }}</b></template
        ><template v-else>Nothing is to be written</template></span
      >
    </div>
  </section>
  <aside class="side" aria-label="Evidence"></aside>
</template>
