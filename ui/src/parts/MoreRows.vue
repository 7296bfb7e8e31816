<script setup lang="ts">
// Says that a list stops before its end, how many more there are, and how one gets at them.
import { show } from './numbers'

withDefaults(defineProps<{ more: number | undefined; way?: string }>(), { way: 'Find them by number or name with /.' })
const counted = 10_000 // as far as the server counts
</script>

<template>
  <p v-if="more" class="more muted">
    <b class="num">{{ more + 1 > counted ? `more than ${show(String(counted))}` : show(String(more)) }} more</b> are not shown here.
    {{ way }}
  </p>
</template>
