<script setup lang="ts">
// A supplier: what is agreed with it, who speaks for it, what was decided about it.
import { computed, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import { api, unwrap } from '@/api/client'
import { supplierList } from '@/api/queries'
import AskReason from '@/parts/AskReason.vue'
import HistoryFold from '@/parts/HistoryFold.vue'
import KeptPapers from '@/parts/KeptPapers.vue'
import NoticeBar from '@/parts/NoticeBar.vue'
import { saidTerms } from '@/parts/terms'
import { show, showInstant } from '@/parts/numbers'
import { may, today } from '@/parts/session'
import { useKeys } from '@/parts/keys'
import AccountPart from './AccountPart.vue'
import LimitsPart from './LimitsPart.vue'
import PapersPart from './PapersPart.vue'
import ChasePart from './ChasePart.vue'
import ContactsPart from './ContactsPart.vue'
import KnownPart from './KnownPart.vue'
import NotesPart from './NotesPart.vue'
import PerformancePart from './PerformancePart.vue'
import PricesPart from './PricesPart.vue'
import CodesPart from './CodesPart.vue'
import InvoicersPart from './InvoicersPart.vue'
import SelfBillingPart from './SelfBillingPart.vue'
import StandingPart from './StandingPart.vue'
import SetUpTabs from './SetUpTabs.vue'
import { levels, weekdays } from './supplier'
import { useJob } from '@/parts/job'
import { placeOf } from '@/parts/places'

const router = useRouter()
const props = defineProps<{ code: string }>()
const code = computed(() => props.code)
const { data: all } = useQuery(supplierList)
const { data: s, error } = useQuery({
  queryKey: ['supplier', code],
  queryFn: () => unwrap(api.GET('/api/suppliers/{code}', { params: { path: { code: code.value } } })),
  enabled: computed(() => code.value !== ''),
})
const asking = ref(false)
const { send, trouble } = useJob({ says: 'all' })
/** Each hold, to be put on or lifted. */
const acts = computed(() =>
  Object.fromEntries(
    (['payment_held', 'in_dispute', 'nothing_ordered', 'ended'] as const).map((hold) => {
      const lift = s.value?.holds?.includes(hold) ?? false
      const text =
        hold === 'ended'
          ? lift
            ? 'No longer ended'
            : 'End the supplier'
          : `${lift ? 'Lift' : 'Put on'}: ${hold.replace('_', ' ')}`
      return [hold, { lift, text }]
    }),
  ),
)
const open = computed(
  () => `its open orders (${s.value?.openOrders ?? 0}) and invoices (${s.value?.openInvoices ?? 0})`,
)
const hold = (reason: string, chosen: string) => {
  const { lift, text } = acts.value[chosen]!
  return send(
    () =>
      unwrap(
        api.POST('/api/suppliers/{code}/hold', {
          params: { path: { code: code.value } },
          body: { hold: chosen as 'payment_held', lift, reason },
        }),
      ),
    { after: () => (asking.value = false), done: `${s.value?.name} · ${text}. Done.` },
  )
}
const mayEdit = computed(() => may('saveSupplier'))
const of = (list: string, words: string) => placeOf.list(list, { show: `${words}supplier:${code.value}` })
/** What one asks of a supplier all day, a key each. */
const asks = computed(() =>
  !s.value
    ? []
    : [
        ...(may('issueOrder') && !s.value.holds?.includes('ended')
          ? [{ key: 'o', label: 'order from it', to: placeOf.ordering(code.value) }]
          : []),
        ...(may('keyInvoice')
          ? [{ key: 'k', label: 'key its invoice', to: placeOf.keyingOf({ supplier: code.value }) }]
          : []),
        { key: 'l', label: 'open orders', to: of('orders', 'open;') },
        { key: 'r', label: 'deliveries', to: of('deliveries', '') },
        { key: 'i', label: 'invoices', to: of('invoices', '') },
        { key: 'u', label: 'what it is owed', to: of('owed', '') },
      ],
)
useKeys(() => asks.value.map((a) => ({ key: a.key, label: a.label, quiet: true, run: () => void router.push(a.to) })))
useKeys(() =>
  !mayEdit.value
    ? []
    : [
        { key: 'n', label: 'new supplier', run: () => void router.push('/setup/new-supplier') },
        ...(s.value
          ? [{ key: 'e', label: 'change', run: () => void router.push(placeOf.supplierEdit(code.value)) }]
          : []),
      ],
)
</script>

<template>
  <section class="sheet" aria-label="Supplier">
    <NoticeBar />
    <div v-if="error" class="nothing" role="alert">{{ error.message }}</div>
    <div v-else-if="!s" class="nothing">
      <h1>Suppliers</h1>
      <SetUpTabs />
      <p v-if="all?.rows.length === 0" class="mt-3">
        No supplier is known yet. Enter one, import a table of them under Tables, or make one while ordering.
      </p>
      <p v-else class="mt-3">Choose a supplier on the left, or find one by name with <kbd>/</kbd>.</p>
    </div>
    <template v-else>
      <header>
        <div class="headline">
          <h1>
            {{ s.name }} <span class="mono fw-medium">{{ s.code }}</span>
          </h1>
          <SetUpTabs />
        </div>
        <nav class="besides mt-1 flex-wrap" aria-label="Of this supplier">
          <RouterLink v-for="a in asks" :key="a.key" :to="a.to"
            ><kbd>{{ a.key.toUpperCase() }}</kbd> {{ a.label }}</RouterLink
          >
        </nav>
        <dl class="facts">
          <div>
            <dt>Holds</dt>
            <dd>
              <b :class="{ 'outside-text': s.held }">{{ s.held ?? 'none' }}</b>
            </dd>
          </div>
          <div>
            <dt>Terms</dt>
            <dd>
              {{ saidTerms(s) }}
            </dd>
          </div>
          <div>
            <dt>Least order</dt>
            <dd>{{ Number(s.leastOrder) ? `${show(s.leastOrder)} ${s.currency}` : 'none' }}</dd>
          </div>
          <div>
            <dt>Free of freight from</dt>
            <dd>{{ Number(s.freeFrom) ? `${show(s.freeFrom)} ${s.currency}` : '—' }}</dd>
          </div>
          <div>
            <dt>Matched</dt>
            <dd>{{ levels[s.level] }}</dd>
          </div>
          <div v-if="s.group">
            <dt>Group</dt>
            <dd>
              <RouterLink :to="placeOf.list('suppliers', { show: `suppliers:${encodeURIComponent(s.group)}` })">{{
                s.group
              }}</RouterLink>
            </dd>
          </div>
          <div v-if="s.budget">
            <dt>Budget</dt>
            <dd class="mono">{{ s.budget }}</dd>
          </div>
          <div v-if="s.taxCode">
            <dt>Tax code</dt>
            <dd class="mono">{{ s.taxCode }}</dd>
          </div>
          <div v-if="s.closedDays">
            <dt>No deliveries</dt>
            <dd>{{ [...s.closedDays].map((d) => weekdays[Number(d) - 1]).join(', ') }}</dd>
          </div>
          <div v-if="s.payTo">
            <dt>Paid in its place</dt>
            <dd>
              <RouterLink class="mono" :to="placeOf.supplier(s.payTo)">{{ s.payTo }}</RouterLink>
            </dd>
          </div>
          <div>
            <dt>Account</dt>
            <dd class="mono">{{ s.iban || 'none' }}</dd>
          </div>
          <div v-for="a in s.accounts ?? []" :key="a.iban">
            <dt>Also known</dt>
            <dd class="mono">{{ a.iban }}</dd>
          </div>
        </dl>
        <p v-if="s.incomplete" class="outside-text mb-0 mt-1">
          Made on the fly: tax number or address is still missing.
        </p>
        <AccountPart :supplier="s" />
      </header>
      <div class="body" tabindex="0">
        <AskReason
          v-if="asking"
          id="supplier-hold"
          title="Several holds may stand at once."
          :books="`Payment held and in dispute keep its invoices from release and payment; in dispute warns who orders, nothing ordered refuses. Open invoices feel it at once; receiving and matching go on. Ended, it is offered no more for orders: ${open} go on to their end, payment included.`"
          label="Why"
          choose="Hold"
          action="Do it"
          :options="Object.fromEntries(Object.entries(acts).map(([key, a]) => [key, a.text]))"
          :error="trouble"
          @done="hold"
          @cancel="asking = false"
        />
        <NotesPart :supplier="s" />
        <ContactsPart :supplier="s" />
        <template v-if="s.mails?.length">
          <h2 class="mb-1">Papers that came by mail</h2>
          <ul class="plain mb-3">
            <li v-for="m in s.mails" :key="m.number">
              <RouterLink :to="placeOf.mail(m.number)">{{ m.subject || 'without a subject' }}</RouterLink>
              <span class="muted ms-1">{{ m.sender }}, {{ showInstant(m.takenAt, today) }}</span>
            </li>
          </ul>
        </template>
        <KeptPapers :key="s.code" on="supplier" :of="s.code" />
        <KnownPart :key="s.code" :supplier="s" />
        <h2 class="mb-1">Addresses</h2>
        <p v-if="!s.addresses.length" class="muted">None yet.</p>
        <div class="d-flex flex-wrap gap-4 mb-3">
          <div v-for="(a, i) in s.addresses" :key="i">
            <div v-for="(line, n) in a.lines ?? []" :key="n">{{ line }}</div>
            <div class="muted">for {{ a.purposes.join(', ') || 'nothing yet' }}</div>
          </div>
        </div>
        <PricesPart :supplier="s" />
        <StandingPart :supplier="s" />
        <ChasePart :key="s.code" :supplier="s.code" />
        <InvoicersPart :supplier="s" />
        <SelfBillingPart :supplier="s" />
        <CodesPart :supplier="s" />
        <PapersPart :supplier="s" />
        <LimitsPart
          id="supplier-limits"
          :key="s.code"
          :name="s.name"
          :supplier="s.code"
          :level="s.level"
          :limits="s.limits"
          :by="s.limitsBy"
          above="as the company"
          empty="None of its own: the company’s count."
        />
        <PerformancePart :code="s.code" />
        <template v-if="s.decisions?.length">
          <h2 class="mb-1">Decisions</h2>
          <ul class="plain">
            <li v-for="(d, i) in s.decisions" :key="i">
              {{ showInstant(d.at, today) }}, {{ d.by }}:
              {{
                d.what === 'hold'
                  ? d.becomes || `no longer ${d.was}`
                  : d.what === 'account'
                    ? `bank account ${d.was || 'none'} → ${d.becomes || 'none'}`
                    : d.what === 'payee'
                      ? `paid in its place: ${d.was || 'nobody'} → ${d.becomes || 'nobody'}`
                      : `bank account ${d.becomes} confirmed`
              }}. {{ d.reason }}
            </li>
          </ul>
        </template>
        <HistoryFold :key="s.code" subject="supplier" :number="s.code" />
      </div>
      <div class="bar">
        <BButton v-if="mayEdit" variant="primary" :to="placeOf.supplierEdit(s.code)">{{
          s.incomplete ? 'Finish it' : 'Change'
        }}</BButton>
        <BButton v-if="may('holdSupplier')" variant="outline-secondary" @click="asking = true"
          >{{ s.held ? 'Holds' : 'Put on hold' }}…</BButton
        >
        <span class="sum"
          >{{ s.notYet ? 'Not ordered from yet · ' : s.once ? 'Ordered from for this once · ' : ''
          }}{{ s.untaxed ? 'not registered for tax' : s.taxId ? `tax number ${s.taxId}` : 'no tax number yet' }}</span
        >
      </div>
    </template>
  </section>
</template>
