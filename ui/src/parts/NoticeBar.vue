<script setup lang="ts">
import { notice } from './notice'
</script>

<template>
  <div role="status" aria-live="polite">
    <p v-if="notice" class="notice" :class="{ bad: notice.bad }">
      <span>{{ notice.text }}</span>
      <RouterLink v-for="l in notice.links" :key="l.to" :to="l.to" class="nowrap">{{ l.text }}</RouterLink>
      <button type="button" class="linkish close" @click="notice = undefined">Close</button>
    </p>
  </div>
</template>
