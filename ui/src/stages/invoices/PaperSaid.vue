<script setup lang="ts">
// What of an entry was read from its paper and is not checked yet.
import { computed } from 'vue'
import type { Paper } from './papers'

const props = defineProps<{ paper: Paper }>()
const open = computed(() => props.paper.open.value)
const doubtful = computed(() => props.paper.doubtful.value)
</script>

<template>
  <p v-if="paper.trouble.value" class="small muted mb-0 mt-1" role="status">
    The paper was not read: {{ paper.trouble.value }}
  </p>
  <p v-else-if="open.length" class="advice mb-0 mt-1" role="status">
    <b>Read, not checked:</b> {{ paper.said(open) }}.
    <template v-if="doubtful.length"> Doubtful: {{ paper.said(doubtful) }}.</template>
    <template v-if="paper.seen.value"> The paper carries no text; a machine looked at it.</template>
    <span class="muted"> Enter in a field checks it.</span>
  </p>
</template>
