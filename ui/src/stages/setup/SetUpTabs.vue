<script setup lang="ts">
import { useRoute } from 'vue-router'
import { setUpPages } from '@/parts/pages'

const route = useRoute()
</script>

<template>
  <nav class="besides" aria-label="Set up">
    <RouterLink
      v-for="p in setUpPages"
      :key="p.to"
      :to="p.to"
      :class="{ on: route.path.startsWith(p.to) || route.path === p.made }"
      >{{ p.name }}</RouterLink
    >
  </nav>
</template>
