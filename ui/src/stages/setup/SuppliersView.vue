<script setup lang="ts">
import { computed } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { useRoute } from 'vue-router'
import { supplierList } from '@/api/queries'
import SlipPile from '@/parts/SlipPile.vue'
import { may } from '@/parts/session'
import { placeOf } from '@/parts/places'

const route = useRoute()
const { data: all, isPending } = useQuery(supplierList)
const mayEdit = computed(() => may('saveSupplier'))
const groups = computed(() => [
  {
    title: 'Suppliers',
    note: 'by name',
    empty: 'None yet.',
    slips: (all.value?.rows ?? []).map((x) => ({
      to: placeOf.supplier(x.code),
      verdict: x.held ? ('outside' as const) : x.incomplete ? ('waiting' as const) : ('agrees' as const),
      title: x.name,
      figure: x.currency,
      left: x.code,
      mono: true,
      right: x.incomplete
        ? 'incomplete'
        : x.held
          ? x.held
          : x.notYet
            ? 'not ordered from yet'
            : x.once
              ? 'for this once'
              : '',
    })),
  },
])
</script>

<template>
  <main class="desk">
    <SlipPile label="Suppliers" :groups="groups" :loading="isPending" :more="all?.more">
      <div v-if="mayEdit" class="p-3 pb-1">
        <BButton size="sm" variant="primary" to="/setup/new-supplier">Enter a supplier</BButton>
      </div>
    </SlipPile>
    <RouterView v-slot="{ Component }"><component :is="Component" :key="route.path" /></RouterView>
  </main>
</template>
