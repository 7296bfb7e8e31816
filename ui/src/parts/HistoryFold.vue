<script setup lang="ts">
// The history of a master or a run, folded at the foot of its sheet; read when it is opened.
import { ref } from 'vue'
import HistoryList from './HistoryList.vue'

defineProps<{
  subject: 'run' | 'statement' | 'supplier' | 'item' | 'budget' | 'batch' | 'notice'
  number: number | string
}>()
const open = ref(false)
</script>

<template>
  <details class="my-3" @toggle="open = ($event.target as HTMLDetailsElement).open">
    <summary class="mb-2">History</summary>
    <HistoryList v-if="open" :subject="subject" :number="number" />
  </details>
</template>
