<script setup lang="ts">
import { useRoute } from 'vue-router'

const route = useRoute()
const places = [
  { to: '/setup/suppliers', made: '/setup/new-supplier', name: 'Suppliers' },
  { to: '/setup/items', made: '/setup/new-item', name: 'Items' },
  { to: '/setup/company', name: 'Company' },
  { to: '/setup/books', name: 'Budgets and books' },
  { to: '/setup/tables', name: 'Tables' },
  { to: '/setup/people', name: 'People' },
  { to: '/setup/account', name: 'Your account' },
]
</script>

<template>
  <nav class="besides" aria-label="Set up">
    <RouterLink v-for="p in places" :key="p.to" :to="p.to" :class="{ on: route.path.startsWith(p.to) || route.path === p.made }">{{
      p.name
    }}</RouterLink>
  </nav>
</template>
