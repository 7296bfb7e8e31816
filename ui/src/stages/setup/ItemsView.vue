<script setup lang="ts">
import { computed } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { useRoute } from 'vue-router'
import { itemList } from '@/api/queries'
import SlipPile from '@/parts/SlipPile.vue'
import { may as allowed } from '@/parts/session'
import { placeOf } from '@/parts/places'

const route = useRoute()
const { data: all, isPending } = useQuery(itemList)
const may = computed(() => allowed('saveItem'))
const groups = computed(() => [
  {
    title: 'Items',
    note: 'by name',
    empty: 'None yet.',
    slips: (all.value?.rows ?? []).map((i) => ({
      to: placeOf.item(i.code),
      verdict: i.incomplete ? ('waiting' as const) : ('agrees' as const),
      title: i.name,
      figure: i.unitName,
      left: i.code,
      mono: true,
      right: [i.incomplete ? 'incomplete' : '', i.lots ? 'by lot' : ''].filter(Boolean).join(', '),
    })),
  },
])
</script>

<template>
  <main class="desk">
    <SlipPile label="Items" :groups="groups" :loading="isPending" :more="all?.more">
      <div v-if="may" class="p-3 pb-1">
        <BButton size="sm" variant="primary" to="/setup/new-item">Enter an item</BButton>
      </div>
    </SlipPile>
    <RouterView v-slot="{ Component }"><component :is="Component" :key="route.path" /></RouterView>
  </main>
</template>
