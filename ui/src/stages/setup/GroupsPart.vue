<script setup lang="ts">
// Groups of suppliers, with what each proposes where a supplier is put into it.
import { computed, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap, type Frame } from '@/api/client'
import { groupsQuery } from '@/api/queries'
import EntryField from '@/parts/EntryField.vue'
import PickField from '@/parts/PickField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import TermsFields from '@/parts/TermsFields.vue'
import TickBox from '@/parts/TickBox.vue'
import { useJob } from '@/parts/job'
import { useKept } from '@/parts/kept'
import { placeOf } from '@/parts/places'
import { may } from '@/parts/session'
import { saidTerms, typedTerms, untypedTerms, type TypedTerms } from '@/parts/terms'
import { levelChoices } from './supplier'

const props = defineProps<{ frame: Frame }>()
const { data } = useQuery(groupsQuery)
type Group = NonNullable<typeof data.value>['suppliers'][number]
interface Typed extends Omit<Group, 'terms'> {
  proposes: boolean
  terms: TypedTerms
}
const usual = {
  fromReceipt: false,
  netDays: 30,
  endOfMonth: false,
  dayOfMonth: 0,
  discountPercent: '0',
  discountDays: 0,
}
const blank: Group = { name: '', level: '', budget: '', payables: '', payablesName: '', ended: false }
const form = ref<Typed>()
const { again, done: kept } = useKept(form, (g) => `group.${g.number ?? 'new'}`)
const { at, send, busy } = useJob({ within: '.ask' })
const open = (g: Group) => (form.value = { ...g, proposes: g.terms !== undefined, terms: typedTerms(g.terms ?? usual) })
const keep = () => {
  const { number, name, level, budget, payables, payablesName, ended, proposes, terms } = form.value!
  const body = {
    ...(number ? { number } : {}),
    ...{ name, level, budget, payables, payablesName, ended },
    ...(proposes ? { terms: untypedTerms(terms) } : {}),
  }
  return send(() => unwrap(api.POST('/api/groups', { body })), { done: `Group ${name} is kept.`, after: kept })
}
const budgets = computed(() => [
  { value: '', text: 'none' },
  ...props.frame.budgets.map((b) => ({ value: b.code, text: `${b.code} · ${b.name}` })),
])
const levels = levelChoices.map((l) => (l.value === '' ? { value: '', text: 'nothing' } : l))
const levelName = (level: string) => levelChoices.find((l) => l.value === level)?.text ?? level
const proposed = (g: Group) =>
  [
    g.terms ? saidTerms(g.terms) : '',
    g.level ? levelName(g.level) : '',
    g.budget ? `budget ${g.budget}` : '',
    g.payables ? `owed on ${g.payables}${g.payablesName ? `, ${g.payablesName}` : ''}` : '',
  ]
    .filter(Boolean)
    .join(' · ') || 'nothing'
const suppliersOf = (g: Group) => placeOf.list('suppliers', { show: `suppliers:${encodeURIComponent(g.name)}` })
</script>

<template>
  <section aria-label="Groups of suppliers">
    <h2>
      Groups of suppliers
      <button v-if="may('saveGroup')" type="button" class="linkish" @click="open(blank)">Add a group</button>
    </h2>
    <p class="muted small mb-2">
      A supplier that is put into a group takes what the group proposes and it does not say itself; lists are narrowed
      and summed by group. Items are put into groups on their own page.
    </p>
    <SmallForm
      v-if="form"
      :again="again"
      action="Keep the group"
      label="Group of suppliers"
      :disabled="busy"
      @done="keep"
      @cancel="form = undefined"
    >
      <div class="entry">
        <EntryField id="group-name" v-model="form.name" label="Name" data-first :error="at('name')" />
        <div>
          <label for="group-level">Proposes: invoices are matched</label>
          <PickField id="group-level" v-model="form.level" :options="levels" />
        </div>
        <div>
          <label for="group-budget">Proposes: budget</label>
          <PickField id="group-budget" v-model="form.budget" :options="budgets" />
        </div>
        <EntryField
          id="group-payables"
          v-model="form.payables"
          class="mono"
          label="Owed on account"
          :error="at('payables')"
        />
        <EntryField
          id="group-payables-name"
          v-model="form.payablesName"
          label="Name of the account"
          :error="at('payablesName')"
        />
      </div>
      <TickBox v-model="form.proposes">Proposes terms of payment</TickBox>
      <TermsFields v-if="form.proposes" id="group" v-model="form.terms" :at="at" />
      <TickBox v-if="form.number" v-model="form.ended">No supplier is put into it any more</TickBox>
    </SmallForm>
    <table v-if="data?.suppliers.length" class="grid mb-3" style="max-width: 878px">
      <thead>
        <tr>
          <th>Group</th>
          <th>Proposes</th>
          <th class="num">Suppliers</th>
          <th v-if="may('saveGroup')"><span class="visually-hidden">Change</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="g in data.suppliers" :key="g.number">
          <td>{{ g.name }}<span v-if="g.ended" class="muted"> · ended</span></td>
          <td>{{ proposed(g) }}</td>
          <td class="num">
            <RouterLink v-if="g.members" :to="suppliersOf(g)"
              >{{ g.members }}<span class="visually-hidden"> suppliers of {{ g.name }}</span></RouterLink
            >
            <template v-else>–</template>
          </td>
          <td v-if="may('saveGroup')">
            <button type="button" class="linkish" @click="open(g)">
              Change<span class="visually-hidden"> {{ g.name }}</span>
            </button>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-else-if="!form" class="muted">No group yet.</p>
  </section>
</template>
