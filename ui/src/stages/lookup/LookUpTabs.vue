<script setup lang="ts">
import { useRoute } from 'vue-router'
import { lookUpPages } from '@/parts/pages'

const route = useRoute()
</script>

<template>
  <nav class="besides" aria-label="Look up">
    <RouterLink v-for="p in lookUpPages" :key="p.to" :to="p.to" :class="{ on: route.path.startsWith(p.to) }">{{
      p.name
    }}</RouterLink>
  </nav>
</template>
