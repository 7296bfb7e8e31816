<script setup lang="ts">
import { computed } from 'vue'
import { useInfiniteQuery } from '@tanstack/vue-query'
import { api, unwrap, type InvoiceSlip } from '@/api/client'
import NoticeBar from '@/parts/NoticeBar.vue'
import VerdictMark from '@/parts/VerdictMark.vue'
import { useKeys } from '@/parts/keys'
import { show, showDay } from '@/parts/numbers'
import { current, today } from '@/parts/session'
import { stateWords, worth } from '../invoices/slips'
import LookUpTabs from './LookUpTabs.vue'
import { placeOf } from '@/parts/places'

const { data, isPending, hasNextPage, fetchNextPage } = useInfiniteQuery({
  queryKey: ['all-invoices'],
  queryFn: ({ pageParam }) =>
    unwrap(api.GET('/api/invoices', { params: { query: pageParam ? { before: pageParam } : {} } })),
  initialPageParam: 0,
  getNextPageParam: (last: InvoiceSlip[]) =>
    last.length === current.value?.invoicesAtOnce ? last.at(-1)?.number : undefined,
})
const invoices = computed(() => data.value?.pages.flat() ?? [])
useKeys(() => (hasNextPage.value ? [{ key: 'o', label: 'older invoices', run: () => void fetchNextPage() }] : []))
</script>

<template>
  <main class="desk alone">
    <section class="sheet" aria-label="All invoices">
      <NoticeBar />
      <header>
        <div class="headline">
          <h1>Invoices, newest first</h1>
          <LookUpTabs />
        </div>
      </header>
      <div class="body">
        <div v-if="!isPending && invoices.length === 0" class="nothing">
          <h1>No invoice is here yet</h1>
          <p>Every invoice that was taken in stays in this list, whatever became of it.</p>
        </div>
        <table v-else class="grid">
          <thead>
            <tr>
              <th>Number</th>
              <th class="named">Supplier</th>
              <th>Their number</th>
              <th>About</th>
              <th>Order</th>
              <th>Date</th>
              <th>Due</th>
              <th class="num">Total</th>
              <th>State</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="i in invoices" :key="i.number">
              <td class="mono">
                <RouterLink :to="placeOf.invoice(i.number)">{{ i.number }}</RouterLink>
              </td>
              <td>{{ i.supplier }}</td>
              <td class="mono">{{ i.supplierNumber }}</td>
              <td>{{ i.about }}</td>
              <td class="mono">
                <RouterLink v-if="i.order" :to="placeOf.order(i.order)">{{ i.order }}</RouterLink>
              </td>
              <td class="nowrap">{{ showDay(i.date, today) }}</td>
              <td class="nowrap">{{ showDay(i.due, today) }}</td>
              <td class="num">{{ show(i.total) }} {{ i.currency }}</td>
              <td>
                <VerdictMark
                  :verdict="i.verdict"
                  :text="(stateWords[i.state] ?? i.state) + (i.summary && i.state === 'held' ? `: ${i.summary}` : '')"
                />
              </td>
            </tr>
          </tbody>
          <tfoot>
            <tr>
              <td colspan="7">{{ invoices.length }} shown{{ hasNextPage ? ', older ones follow' : '' }}</td>
              <td class="num" colspan="2">{{ worth(invoices) }}</td>
            </tr>
          </tfoot>
        </table>
        <BButton v-if="hasNextPage" class="mt-3" variant="outline-secondary" @click="() => fetchNextPage()"
          >Older invoices</BButton
        >
      </div>
    </section>
  </main>
</template>
