<script setup lang="ts">
// Enters or changes an item: its unit and conversions, its price base and its sellers.
import { computed } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap, type ItemSheet } from '@/api/client'
import { companyQuery, groupsQuery, suppliersQuery } from '@/api/queries'
import ChoiceField from '@/parts/ChoiceField.vue'
import EntryField from '@/parts/EntryField.vue'
import PickField from '@/parts/PickField.vue'
import TickBox from '@/parts/TickBox.vue'
import { useDraft } from '@/parts/draft'
import { nextField } from '@/parts/fields'
import { sent, show } from '@/parts/numbers'
import { useKeeping } from './keeping'
import { taxChoices } from './taxes'
import UnitField from '@/parts/UnitField.vue'

const props = defineProps<{ item: ItemSheet }>()
const made = props.item.version > 0
const typedItem = (i: ItemSheet) => ({
  ...i,
  taxCode: i.taxCode ?? '',
  group: i.group ?? '',
  base: show(i.base),
  sellers: i.sellers.map((s) => ({ ...s, base: show(s.base) })),
  units: i.units.map((u) => ({ unit: u.unit, units: show(u.units), makes: show(u.makes), supplier: u.supplier ?? '' })),
})
const { draft, clear, kept } = useDraft(made ? `item.${props.item.code}` : 'item', () => typedItem(props.item))

const { data: suppliers } = useQuery(suppliersQuery)
const { data: frame } = useQuery(companyQuery)
const { data: groups } = useQuery(groupsQuery)
const sellers = computed(() => (suppliers.value ?? []).map((s) => ({ value: s.code, text: s.name, also: s.code })))
const unitName = (code: string) => frame.value?.units.find((u) => u.code === code.toUpperCase())?.name ?? code
const taxes = computed(() => taxChoices(frame.value, draft.value.taxCode))
const budgets = computed(() => [
  { value: '', text: 'none' },
  ...(frame.value?.budgets ?? []).map((b) => ({ value: b.code, text: `${b.code} · ${b.name}` })),
])
const accounts = [
  { value: '', text: 'as the budget' },
  { value: 'stock', text: 'stock' },
  { value: 'expense', text: 'cost' },
  { value: 'assets', text: 'fixed assets' },
]
const lots = [
  { value: '', text: 'as the item' },
  { value: 'yes', text: 'lot required' },
  { value: 'no', text: 'no lot' },
]
const addSeller = () => draft.value.sellers.push({ supplier: '', code: '', level: '', base: '', lots: '' })
function entry(): ItemSheet {
  const d = draft.value
  return {
    ...d,
    base: sent(d.base) || '1',
    sellers: d.sellers
      .filter((s) => s.supplier !== '')
      .map((s) => ({ supplier: s.supplier, code: s.code, level: s.level, base: sent(s.base), lots: s.lots })),
    units: d.units
      .filter((u) => u.unit + u.units + u.makes !== '')
      .map((u) => ({
        unit: u.unit,
        units: sent(u.units) || '0',
        makes: sent(u.makes) || '0',
        ...(u.supplier ? { supplier: u.supplier } : {}),
      })),
  }
}
const { at, busy, save, throwAway } = useKeeping('item', made ? props.item.code : undefined, {
  post: () => unwrap(api.POST('/api/items', { body: entry() })),
  clear,
  renew: () => (draft.value.version = props.item.version),
})
</script>

<template>
  <div class="body" @keydown.enter="nextField">
    <p v-if="kept" class="small advice mb-2">What you typed here before was kept.</p>
    <div class="entry">
      <EntryField v-if="!made" id="item-code" v-model="draft.code" class="mono" label="Code" :error="at('code')" />
      <EntryField id="item-name" v-model="draft.name" label="Name" :error="at('name')" />
      <div>
        <EntryField id="item-group" v-model="draft.group" label="Group" list="item-groups" :error="at('group')" />
        <datalist id="item-groups"><option v-for="g in groups?.items ?? []" :key="g" :value="g" /></datalist>
      </div>
      <div>
        <label for="item-unit">Counted in</label>
        <span v-if="made" class="d-block pt-1">{{ unitName(draft.unit) }}</span>
        <UnitField
          v-else
          id="item-unit"
          v-model="draft.unit"
          label="Unit"
          :state="at('unit') ? false : undefined"
          described="item-unit-said"
        />
        <div id="item-unit-said" class="small" :class="at('unit') ? 'text-danger' : 'muted'">
          {{ at('unit') ?? (made ? 'stays: orders count in it' : draft.unit) }}
        </div>
      </div>
      <EntryField
        id="item-base"
        v-model="draft.base"
        label="Price is for so many"
        inputmode="decimal"
        placeholder="1"
        :error="at('base')"
      />
      <div>
        <label for="item-account">Booked to</label>
        <PickField id="item-account" v-model="draft.account" :options="accounts" />
      </div>
      <div>
        <label for="item-budget">Budget that is proposed</label>
        <PickField id="item-budget" v-model="draft.budget" :options="budgets" />
      </div>
      <div v-if="taxes.length > 1">
        <label for="item-tax-code">Tax code that is proposed</label>
        <PickField id="item-tax-code" v-model="draft.taxCode" :options="taxes" />
      </div>
      <TickBox v-model="draft.whole" class="tick">Whole units only</TickBox>
      <TickBox v-model="draft.lots" class="tick">Lot required</TickBox>
    </div>

    <h2>Other units that receipts and notices may count in</h2>
    <div v-for="(u, i) in draft.units" :key="i" class="d-flex flex-wrap gap-2 align-items-start mb-1">
      <EntryField :id="`unit-units-${i}`" v-model="u.units" label="So many" inputmode="decimal" style="width: 90px" />
      <div style="width: 110px">
        <label :for="`unit-unit-${i}`">of</label>
        <UnitField
          :id="`unit-unit-${i}`"
          v-model="u.unit"
          label="Other unit"
          :state="at(`units[${i}].unit`) ? false : undefined"
          :described="`unit-said-${i}`"
        />
      </div>
      <EntryField
        :id="`unit-makes-${i}`"
        v-model="u.makes"
        :label="`make so many ${unitName(draft.unit)}`"
        inputmode="decimal"
        style="width: 150px"
      />
      <div style="width: 200px">
        <label :for="`unit-supplier-${i}`">at (blank: every supplier)</label>
        <ChoiceField :id="`unit-supplier-${i}`" v-model="u.supplier" label="At which supplier" :choices="sellers" />
      </div>
      <button
        type="button"
        class="linkish mt-4"
        :aria-label="`Leave out unit ${i + 1}`"
        @click="draft.units.splice(i, 1)"
      >
        Leave out
      </button>
      <div :id="`unit-said-${i}`" class="small text-danger w-100">{{ at(`units[${i}].unit`) }}</div>
    </div>
    <button type="button" class="linkish" @click="draft.units.push({ unit: '', units: '1', makes: '', supplier: '' })">
      Another unit
    </button>

    <h2>Sold by</h2>
    <div v-for="(s, i) in draft.sellers" :key="i" class="mb-2">
      <div class="d-flex flex-wrap gap-2 align-items-start">
        <div style="width: 220px">
          <label :for="`seller-${i}`">Supplier</label>
          <ChoiceField
            :id="`seller-${i}`"
            v-model="s.supplier"
            label="Supplier"
            :choices="sellers"
            :state="at(`sellers[${i}].supplier`) ? false : undefined"
            :described="`seller-said-${i}`"
          />
        </div>
        <EntryField :id="`seller-code-${i}`" v-model="s.code" class="mono" label="Its own code" style="width: 130px" />
        <EntryField
          :id="`seller-base-${i}`"
          v-model="s.base"
          label="Price for so many"
          inputmode="decimal"
          placeholder="as the item"
          :error="at(`sellers[${i}].base`)"
          style="width: 120px"
        />
        <div>
          <label :for="`seller-lots-${i}`">Lots</label>
          <PickField :id="`seller-lots-${i}`" v-model="s.lots" :options="lots" />
        </div>
        <button
          type="button"
          class="linkish mt-4"
          :aria-label="`Leave out seller ${i + 1}`"
          @click="draft.sellers.splice(i, 1)"
        >
          Leave out
        </button>
      </div>
      <div :id="`seller-said-${i}`" class="small text-danger">{{ at(`sellers[${i}].supplier`) }}</div>
    </div>
    <button type="button" class="linkish" @click="addSeller">Another seller</button>
  </div>
  <div class="bar">
    <BButton variant="primary" :disabled="busy" @click="save">Keep</BButton>
    <BButton variant="outline-secondary" @click="throwAway">Throw away</BButton>
  </div>
</template>
