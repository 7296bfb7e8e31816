<script setup lang="ts">
// An item: how it is counted, which units it converts, who sells it under which code.
import { computed, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import { api, unwrap, type ItemSheet } from '@/api/client'
import { itemList } from '@/api/queries'
import HistoryFold from '@/parts/HistoryFold.vue'
import KeptPapers from '@/parts/KeptPapers.vue'
import NoticeBar from '@/parts/NoticeBar.vue'
import { useKeys } from '@/parts/keys'
import { show } from '@/parts/numbers'
import { may as allowed } from '@/parts/session'
import ItemReturn from './ItemReturn.vue'
import LimitsPart from './LimitsPart.vue'
import SetUpTabs from './SetUpTabs.vue'
import { levels } from './supplier'
import { placeOf } from '@/parts/places'

const router = useRouter()
const props = defineProps<{ code: string }>()
const code = computed(() => props.code)
const { data: all } = useQuery(itemList)
const { data: item, error } = useQuery({
  queryKey: ['item', code],
  queryFn: () => unwrap(api.GET('/api/items/{code}', { params: { path: { code: code.value } } })),
  enabled: computed(() => code.value !== ''),
})
const may = computed(() => allowed('saveItem'))
const kinds = ['delivery', 'invoiced_quantity', 'unit_price']
const accounts: Record<string, string> = {
  '': 'as the budget',
  stock: 'stock',
  expense: 'cost',
  assets: 'fixed assets',
}
const differs = (s: ItemSheet['sellers'][number]) =>
  [
    s.level && `matched ${levels[s.level]}`,
    s.base && `priced per ${show(s.base)}`,
    s.lots && (s.lots === 'yes' ? 'by lot' : 'not by lot'),
    s.limits?.length && `${s.limits.length} own limits`,
  ]
    .filter(Boolean)
    .join(', ')
const returning = ref(false)
const returns = computed(() => allowed('bookReturn') && (item.value?.sellers.length ?? 0) > 0)
useKeys(() => [
  ...(may.value ? [{ key: 'n', label: 'new item', run: () => void router.push('/setup/new-item') }] : []),
  ...(may.value && item.value
    ? [{ key: 'e', label: 'change', run: () => void router.push(placeOf.itemEdit(code.value)) }]
    : []),
  ...(returns.value ? [{ key: 'b', label: 'send goods back', run: () => (returning.value = true) }] : []),
])
</script>

<template>
  <section class="sheet" aria-label="Item">
    <NoticeBar />
    <div v-if="error" class="nothing" role="alert">{{ error.message }}</div>
    <div v-else-if="!item" class="nothing">
      <h1>Items</h1>
      <SetUpTabs />
      <p v-if="all?.rows.length === 0" class="mt-3">
        No item is known yet. Enter one, or import a table of them under Tables.
      </p>
      <p v-else class="mt-3">Choose an item on the left, or find one by name with <kbd>/</kbd>.</p>
    </div>
    <template v-else>
      <header>
        <div class="headline">
          <h1>
            {{ item.name }} <span class="mono fw-medium">{{ item.code }}</span>
          </h1>
          <SetUpTabs />
        </div>
        <dl class="facts">
          <div>
            <dt>Counted in</dt>
            <dd>{{ item.unitName }}{{ item.whole ? ', whole only' : '' }}</dd>
          </div>
          <div>
            <dt>Priced per</dt>
            <dd>{{ show(item.base) }}</dd>
          </div>
          <div>
            <dt>Lots</dt>
            <dd>{{ item.lots ? 'required' : 'not asked' }}</dd>
          </div>
          <div>
            <dt>Booked to</dt>
            <dd>{{ accounts[item.account] }}</dd>
          </div>
          <div v-if="item.group">
            <dt>Group</dt>
            <dd>
              <RouterLink :to="placeOf.list('lines', { show: `items:${encodeURIComponent(item.group)}` })">{{
                item.group
              }}</RouterLink>
            </dd>
          </div>
          <div>
            <dt>Budget</dt>
            <dd class="mono">{{ item.budget || 'none' }}</dd>
          </div>
          <div v-if="item.taxCode">
            <dt>Tax code</dt>
            <dd class="mono">{{ item.taxCode }}</dd>
          </div>
          <div>
            <dt>Matched</dt>
            <dd>{{ levels[item.level] }}</dd>
          </div>
        </dl>
        <p v-if="item.incomplete" class="outside-text mb-0 mt-1">Only the least is known of this item.</p>
      </header>
      <div class="body" tabindex="0">
        <ItemReturn v-if="returning" :key="item.code" :item="item" @cancel="returning = false" />
        <h2>Other units</h2>
        <p v-if="!item.units.length" class="muted">None: receipts and notices count in {{ item.unitName }}.</p>
        <ul class="plain mb-3">
          <li v-for="(u, i) in item.units" :key="i">
            {{ show(u.units) }} {{ u.unitName }} = {{ show(u.makes) }} {{ item.unitName
            }}{{ u.supplier ? `, at ${u.supplier} only` : '' }}
          </li>
        </ul>
        <h2>Sold by</h2>
        <p v-if="!item.sellers.length" class="muted">Nobody yet.</p>
        <table v-else class="grid mb-3">
          <thead>
            <tr>
              <th class="named">Supplier</th>
              <th>Its own code</th>
              <th>What differs there</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="s in item.sellers" :key="s.supplier">
              <td>
                <RouterLink :to="placeOf.supplier(s.supplier)">{{ s.name }}</RouterLink>
              </td>
              <td class="mono">{{ s.code }}</td>
              <td>{{ differs(s) }}</td>
            </tr>
          </tbody>
        </table>
        <KeptPapers
          :key="item.code"
          on="item"
          :of="item.code"
          none="None. What is kept here can go along with orders of it."
        />
        <LimitsPart
          id="item-limits"
          :key="item.code"
          :name="item.name"
          :item="item.code"
          :level="item.level"
          :limits="item.limits"
          :by="item.limitsBy"
          :kinds="kinds"
          above="as the supplier"
          empty="None of its own: the supplier’s count, then the company’s."
        />
        <LimitsPart
          v-for="(s, i) in item.sellers"
          :id="`seller-${i}-limits`"
          :key="`${item.code} ${s.supplier}`"
          :name="`${item.name} at ${s.name ?? s.supplier}`"
          :item="item.code"
          :supplier="s.supplier"
          :level="s.level"
          :limits="s.limits ?? []"
          :by="s.limitsBy"
          :kinds="kinds"
          :title="`Limits at ${s.name ?? s.supplier}`"
          above="as the item"
          empty="None there: the item’s count."
        />
        <HistoryFold :key="item.code" subject="item" :number="item.code" />
      </div>
      <div class="bar">
        <BButton v-if="may" variant="primary" :to="placeOf.itemEdit(item.code)">{{
          item.incomplete ? 'Finish it' : 'Change'
        }}</BButton>
        <BButton v-if="returns" variant="outline-secondary" @click="returning = true">Send back…</BButton>
        <span v-if="!may" class="muted">Changing items takes the role buyer or administrator.</span>
      </div>
    </template>
  </section>
</template>
