<script setup lang="ts">
// Enters or changes a supplier: who it is, on which terms, where, and which differences pass.
import { computed } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap, type SupplierSheet } from '@/api/client'
import { companyQuery, groupsQuery, suppliersQuery } from '@/api/queries'
import EntryChoice from '@/parts/EntryChoice.vue'
import EntryField from '@/parts/EntryField.vue'
import PickField from '@/parts/PickField.vue'
import TermsFields from '@/parts/TermsFields.vue'
import TickBox from '@/parts/TickBox.vue'
import { useDraft } from '@/parts/draft'
import { nextField } from '@/parts/fields'
import { typedTerms } from '@/parts/terms'
import { useKeeping } from './keeping'
import { taxChoices } from './taxes'
import { blankAddress, purposes, typedSupplier, untypedSupplier, weekdays } from './supplier'

const props = defineProps<{ supplier: SupplierSheet }>()
const made = props.supplier.version > 0
const { draft, clear, kept } = useDraft(made ? `supplier.${props.supplier.code}` : 'supplier', () =>
  typedSupplier(props.supplier),
)

const { data: all } = useQuery(suppliersQuery)
const { data: frame } = useQuery(companyQuery)
const payees = computed(() =>
  (all.value ?? [])
    .filter((s) => s.code !== props.supplier.code)
    .map((s) => ({ value: s.code, text: s.name, also: s.code })),
)
const taxes = computed(() => taxChoices(frame.value, draft.value.taxCode))
const budgets = computed(() => [
  { value: '', text: 'none' },
  ...(frame.value?.budgets ?? []).map((b) => ({ value: b.code, text: `${b.code} · ${b.name}` })),
])
const { data: groups } = useQuery(groupsQuery)
const groupChoices = computed(() => [
  { value: '', text: 'none' },
  ...(groups.value?.suppliers ?? [])
    .filter((g) => !g.ended || g.name === props.supplier.group)
    .map((g) => ({ value: g.name, text: g.name })),
])
/** What a group proposes is filled in where a supplier is made, and stays to be changed. */
function join(name: string) {
  draft.value.group = name
  const group = groups.value?.suppliers.find((g) => g.name === name)
  if (!group || made) return
  if (group.terms) Object.assign(draft.value, typedTerms(group.terms))
  if (group.budget) draft.value.budget = group.budget
}
const languages = [
  { value: 'en', text: 'English' },
  { value: 'de', text: 'German' },
  { value: 'fr', text: 'French' },
]
const plain = (text: string) => text.replace(/\s/g, '').toUpperCase()
const place = (a: { iban: string; bic: string }) => `${plain(a.iban)} ${plain(a.bic)}`
/** Another payee, account or bank than was known before: it is said how that was checked. */
const newAccount = computed(() => {
  const known = (props.supplier.accounts ?? []).map(place)
  return (
    made &&
    (draft.value.payTo !== props.supplier.payTo ||
      place(draft.value) !== place(props.supplier) ||
      draft.value.accounts.some((a) => a.iban !== '' && !known.includes(place(a))))
  )
})

function toggleDay(day: string) {
  const d = draft.value
  d.closedDays = d.closedDays.includes(day) ? d.closedDays.replace(day, '') : [...d.closedDays, day].sort().join('')
}
function togglePurpose(place: number, purpose: string) {
  const a = draft.value.addresses[place]
  if (a) a.purposes = a.purposes.includes(purpose) ? a.purposes.filter((p) => p !== purpose) : [...a.purposes, purpose]
}
const { at, busy, save, throwAway } = useKeeping('supplier', made ? props.supplier.code : undefined, {
  post: () => unwrap(api.POST('/api/suppliers', { body: untypedSupplier(draft.value) })),
  clear,
  renew: () => (draft.value.version = props.supplier.version),
})
</script>

<template>
  <div class="body" @keydown.enter="nextField">
    <p v-if="kept" class="small advice mb-2">What you typed here before was kept.</p>
    <div class="entry">
      <EntryField v-if="!made" id="supplier-code" v-model="draft.code" class="mono" label="Code" :error="at('code')" />
      <EntryField id="supplier-name" v-model="draft.name" label="Name" :error="at('name')" />
      <div>
        <TickBox id="supplier-not-yet" v-model="draft.notYet">Not ordered from yet</TickBox>
        <TickBox id="supplier-once" v-model="draft.once">For this once</TickBox>
      </div>
      <div>
        <label for="supplier-group">Group</label>
        <PickField
          id="supplier-group"
          :model-value="draft.group"
          :options="groupChoices"
          @update:model-value="join(String($event))"
        />
        <div class="small text-danger">{{ at('group') }}</div>
      </div>
      <EntryField
        id="supplier-country"
        v-model="draft.country"
        label="Country"
        maxlength="2"
        placeholder="IE"
        :error="at('country')"
      />
      <EntryField
        id="supplier-currency"
        v-model="draft.currency"
        label="Currency"
        maxlength="3"
        :disabled="made"
        :error="at('currency')"
        :hint="made ? 'stays: orders and invoices are in it' : ''"
      />
      <div>
        <label for="supplier-language">Language of what is sent</label>
        <PickField id="supplier-language" v-model="draft.language" :options="languages" />
      </div>
      <EntryField
        id="supplier-tax"
        v-model="draft.taxId"
        label="Tax number"
        :disabled="draft.untaxed"
        :error="at('taxId')"
      />
      <TickBox v-model="draft.untaxed" class="tick">Not registered for tax</TickBox>
    </div>

    <h2>Terms of payment</h2>
    <TermsFields id="supplier" v-model="draft" :at="at" />

    <h2>Paid to</h2>
    <div class="entry">
      <EntryField
        id="supplier-iban"
        v-model="draft.iban"
        class="mono iban"
        label="Account (IBAN)"
        :error="at('iban')"
      />
      <EntryField id="supplier-bic" v-model="draft.bic" class="mono" label="BIC" :error="at('bic')" />
      <EntryField
        v-if="newAccount"
        id="supplier-account-reason"
        v-model="draft.accountReason"
        label="How the change was checked"
        :error="at('accountReason')"
        hint="somebody else confirms it before anything is paid"
      />
      <EntryChoice
        id="supplier-payee"
        v-model="draft.payTo"
        label="Or another supplier is paid in its place"
        :choices="payees"
        :error="at('payTo')"
      />
    </div>
    <div v-for="(a, i) in draft.accounts" :key="i" class="entry">
      <EntryField
        :id="`account-iban-${i}`"
        v-model="a.iban"
        class="mono iban"
        label="Further account (IBAN)"
        :error="at(`accounts[${i}].iban`)"
        hint="its invoices may name it; payments go to the one above"
      />
      <EntryField :id="`account-bic-${i}`" v-model="a.bic" class="mono" label="BIC" :error="at(`accounts[${i}].bic`)" />
      <div class="align-self-center">
        <button
          type="button"
          class="linkish"
          :aria-label="`Leave out further account ${i + 1}`"
          @click="draft.accounts.splice(i, 1)"
        >
          Leave out
        </button>
      </div>
    </div>
    <button type="button" class="linkish" @click="draft.accounts.push({ iban: '', bic: '' })">A further account</button>

    <h2>Ordering</h2>
    <div class="entry">
      <EntryField
        id="supplier-least"
        v-model="draft.leastOrder"
        :label="`Least order, net ${draft.currency}`"
        inputmode="decimal"
        :error="at('leastOrder')"
      />
      <EntryField
        id="supplier-free"
        v-model="draft.freeFrom"
        :label="`Free of freight from ${draft.currency}`"
        inputmode="decimal"
        :error="at('freeFrom')"
      />
      <div>
        <label for="supplier-budget">Budget that is proposed</label>
        <PickField id="supplier-budget" v-model="draft.budget" :options="budgets" />
      </div>
      <div v-if="taxes.length > 1">
        <label for="supplier-tax-code">Tax code that is proposed</label>
        <PickField id="supplier-tax-code" v-model="draft.taxCode" :options="taxes" />
      </div>
    </div>
    <fieldset class="mt-1">
      <legend class="fs-6 mb-0 fw-normal">Does not deliver on</legend>
      <TickBox
        v-for="(name, i) in weekdays"
        :key="name"
        inline
        :model-value="draft.closedDays.includes(String(i + 1))"
        @update:model-value="toggleDay(String(i + 1))"
        >{{ name }}</TickBox
      >
    </fieldset>

    <h2>Addresses</h2>
    <div class="small text-danger" role="alert">{{ at('addresses') }}</div>
    <div v-for="(a, i) in draft.addresses" :key="i" class="mb-2">
      <div class="entry">
        <EntryField :id="`address-street-${i}`" v-model="a.street" label="Street" />
        <EntryField :id="`address-postcode-${i}`" v-model="a.postcode" label="Postcode" />
        <EntryField :id="`address-city-${i}`" v-model="a.city" label="Town" />
        <EntryField :id="`address-region-${i}`" v-model="a.region" label="Region" />
        <EntryField :id="`address-country-${i}`" v-model="a.country" label="Country" maxlength="2" />
      </div>
      <TickBox
        v-for="p in purposes"
        :key="p"
        inline
        :model-value="a.purposes.includes(p)"
        @update:model-value="togglePurpose(i, p)"
        >for {{ p }}</TickBox
      >
      <button v-if="draft.addresses.length > 1" type="button" class="linkish" @click="draft.addresses.splice(i, 1)">
        Leave out
      </button>
    </div>
    <button type="button" class="linkish" @click="draft.addresses.push(blankAddress(draft.country))">
      Another address
    </button>
  </div>
  <div class="bar">
    <BButton variant="primary" :disabled="busy" @click="save">Keep</BButton>
    <BButton variant="outline-secondary" @click="throwAway">Throw away</BButton>
  </div>
</template>
