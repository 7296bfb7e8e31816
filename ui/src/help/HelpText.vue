<script setup lang="ts">
// A sentence of help, with its keys (`A`) and names (*More*) set apart.
import { computed } from 'vue'

const props = defineProps<{ text: string }>()
const parts = computed(() => props.text.split(/(`[^`]+`|\*[^*]+\*)/).filter(Boolean))
</script>

<template>
  <template v-for="(part, i) in parts" :key="i">
    <kbd v-if="part.startsWith('`')">{{ part.slice(1, -1) }}</kbd>
    <i v-else-if="part.startsWith('*')">{{ part.slice(1, -1) }}</i>
    <template v-else>{{ part }}</template>
  </template>
</template>
