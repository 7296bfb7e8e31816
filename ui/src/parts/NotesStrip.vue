<script setup lang="ts">
// What is to be known of a supplier here and today, urgent things first.
import type { SupplierNote } from '@/api/client'

defineProps<{ notes: SupplierNote[] }>()
</script>

<template>
  <ul v-if="notes.length" class="notes" aria-label="Notes on the supplier">
    <li v-for="n in notes" :key="n.no" :class="{ urgent: n.urgent }">
      <b>{{ n.urgent ? `Urgent, ${n.kind}.` : `${n.kind[0]?.toUpperCase()}${n.kind.slice(1)}.` }}</b> {{ n.text }}
    </li>
  </ul>
</template>
