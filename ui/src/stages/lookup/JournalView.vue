<script setup lang="ts">
import { computed } from 'vue'
import { useInfiniteQuery, useQuery } from '@tanstack/vue-query'
import { useRoute } from 'vue-router'
import { api, unwrap } from '@/api/client'
import LedgerEntry from '@/parts/LedgerEntry.vue'
import NoticeBar from '@/parts/NoticeBar.vue'
import SlipPile from '@/parts/SlipPile.vue'
import { show, showDay } from '@/parts/numbers'
import { today } from '@/parts/session'
import LookUpTabs from './LookUpTabs.vue'
import { placeOf } from '@/parts/places'

const route = useRoute()
const number = computed(() => Number(route.params['number']) || 0)
const { data, isPending, hasNextPage, fetchNextPage } = useInfiniteQuery({
  queryKey: ['journal'],
  queryFn: ({ pageParam }) =>
    unwrap(api.GET('/api/journal', { params: { query: pageParam ? { before: pageParam } : {} } })),
  initialPageParam: 0,
  getNextPageParam: (last) => last.next,
})
const { data: entry, error } = useQuery({
  queryKey: ['entry', number],
  queryFn: () => unwrap(api.GET('/api/journal/{number}', { params: { path: { number: number.value } } })),
  enabled: computed(() => number.value > 0),
})
const entries = computed(() => data.value?.pages.flatMap((p) => p.entries) ?? [])
const groups = computed(() => [
  {
    title: 'Journal',
    note: 'newest first',
    empty: 'Nothing is booked yet.',
    slips: entries.value.map((e) => ({
      to: placeOf.entry(e.number),
      verdict: 'agrees' as const,
      title: e.what,
      figure: show(e.total),
      left: String(e.number),
      mono: true,
      right: showDay(e.postedOn, today.value),
    })),
  },
])
</script>

<template>
  <main class="desk wide">
    <SlipPile label="Journal" :groups="groups" :loading="isPending"><LookUpTabs class="p-3 pb-1" /></SlipPile>
    <section class="sheet" aria-label="Ledger entry">
      <NoticeBar />
      <div v-if="error" class="nothing" role="alert">{{ error.message }}</div>
      <div v-else-if="!number" class="nothing">
        <h1>Journal</h1>
        <p>Choose an entry on the left. Every booking has one; it balances, and leads to its document.</p>
        <BButton v-if="hasNextPage" variant="outline-secondary" @click="() => fetchNextPage()"
          >Show older entries</BButton
        >
      </div>
      <template v-else-if="entry">
        <header>
          <div class="headline">
            <h1>
              Ledger entry <span class="mono fw-medium">{{ entry.number }}</span>
            </h1>
          </div>
        </header>
        <div class="body" tabindex="0"><LedgerEntry :entry="entry" /></div>
      </template>
    </section>
  </main>
</template>
