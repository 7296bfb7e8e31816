<script setup lang="ts">
import { useRoute } from 'vue-router'

const route = useRoute()
const pages = [
  { to: '/lookup/lists/orders', under: '/lookup/lists', name: 'Lists' },
  { to: '/lookup/journal', under: '/lookup/journal', name: 'Journal' },
  { to: '/lookup/record', under: '/lookup/record', name: 'The record' },
]
</script>

<template>
  <nav class="besides" aria-label="Look up">
    <RouterLink v-for="p in pages" :key="p.to" :to="p.to" :class="{ on: route.path.startsWith(p.under) }">{{
      p.name
    }}</RouterLink>
  </nav>
</template>
