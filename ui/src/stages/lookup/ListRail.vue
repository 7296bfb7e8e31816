<script setup lang="ts">
// What can be looked up: lists that are kept, and all of them by what they are about.
import { computed, nextTick, useTemplateRef, watch } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { useRoute } from 'vue-router'
import type { KeptList } from '@/api/client'
import { listsQuery } from '@/api/queries'
import { placeOf } from '@/parts/places'

const route = useRoute()
const { data } = useQuery(listsQuery)
const keptAt = (k: KeptList) => placeOf.list(k.list, k.asked)
const isKept = (k: KeptList) => decodeURI(route.fullPath) === decodeURI(keptAt(k))
const inKept = computed(() => data.value?.kept.some(isKept))
const on = (key: string) => !inKept.value && route.params['list'] === key
/** Where one is stands in sight, also low on the rail. */
const rail = useTemplateRef<HTMLElement>('rail')
watch(
  [data, () => route.fullPath],
  () => void nextTick(() => rail.value?.querySelector('.on')?.scrollIntoView({ block: 'nearest' })),
  { immediate: true },
)
const others = [
  { to: '/lookup/day', name: 'The day' },
  { to: '/lookup/turns', name: 'Whose turn' },
  { to: '/lookup/budgets', name: 'Budgets' },
  { to: '/lookup/ranking', name: 'How suppliers deliver' },
  { to: '/lookup/statements', name: 'Suppliers’ statements' },
  { to: '/lookup/limits', name: 'Limits tried on history' },
  { to: '/lookup/month-end', name: 'Month’s end' },
  { to: '/lookup/journal', name: 'Journal, entry by entry' },
  { to: '/lookup/record', name: 'The record' },
]
</script>

<template>
  <nav ref="rail" class="pile rail" aria-label="What can be looked up">
    <template v-if="data?.kept.length">
      <h2>Kept</h2>
      <RouterLink
        v-for="k in data.kept"
        :key="k.number"
        :to="keptAt(k)"
        :class="{ on: isKept(k) }"
        :title="k.forAll ? `kept for all by ${k.by}` : 'kept for you'"
        >{{ k.name }}</RouterLink
      >
    </template>
    <template v-for="p in data?.parts ?? []" :key="p.title">
      <h2>{{ p.title }}</h2>
      <RouterLink v-for="l in p.lists" :key="l.key" :to="placeOf.list(l.key)" :class="{ on: on(l.key) }">{{
        l.title
      }}</RouterLink>
    </template>
    <h2>Besides</h2>
    <RouterLink v-for="o in others" :key="o.to" :to="o.to" :class="{ on: route.path.startsWith(o.to) }">{{
      o.name
    }}</RouterLink>
  </nav>
</template>
