<script setup lang="ts">
// Says that a list stops before its end, how many more there are, and how one gets at them.
import { show } from './numbers'

withDefaults(defineProps<{ more: number | undefined; way?: string }>(), { way: 'Find them by number or name with /.' })
const counted = 10_000 // from here on there may be more than the server counts
</script>

<template>
  <p v-if="more" class="more muted">
    <b class="num">{{ show(String(more)) }} {{ more < counted ? '' : 'or ' }}more</b> are not shown here.
    {{ way }}
  </p>
</template>
