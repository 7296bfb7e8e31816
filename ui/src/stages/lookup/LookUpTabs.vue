<script setup lang="ts">
import { useRoute } from 'vue-router'

const route = useRoute()
const places = [
  { to: '/lookup/journal', name: 'Journal' },
  { to: '/lookup/invoices', name: 'All invoices' },
  { to: '/lookup/record', name: 'The record' },
]
</script>

<template>
  <nav class="besides" aria-label="Look up">
    <RouterLink v-for="p in places" :key="p.to" :to="p.to" :class="{ on: route.path.startsWith(p.to) }">{{ p.name }}</RouterLink>
  </nav>
</template>
