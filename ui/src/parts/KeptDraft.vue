<script setup lang="ts">
// Says that what stands here was typed earlier and not booked: when, what of it, and what has happened since.
import { showInstant } from './numbers'
import { today } from './session'

defineProps<{ at: string; what: string; news?: string }>()
const emit = defineEmits<{ anew: [] }>()
</script>

<template>
  <p class="advice mb-0 mt-1">
    <b>Begun {{ showInstant(at, today) }} and not booked:</b> {{ what }}. <template v-if="news">{{ news }} </template>
    <button type="button" class="linkish" @click="emit('anew')">Begin anew</button>
  </p>
</template>
