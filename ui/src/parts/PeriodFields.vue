<script setup lang="ts">
// From one day to another; a day that is whole is taken at once.
import DayField from '@/parts/DayField.vue'
import { today } from '@/parts/session'

defineProps<{ id: string; label: string; since: string; until: string }>()
const emit = defineEmits<{ since: [day: string]; until: [day: string] }>()
const whole = (day: string) => /^\d{4}-/.test(day)
</script>

<template>
  <label :for="`${id}-since`">{{ label }}</label>
  <DayField
    :id="`${id}-since`"
    :model-value="since"
    style="width: 140px"
    @update:model-value="(d: string) => whole(d) && emit('since', d)"
  />
  <label :for="`${id}-until`">to</label>
  <DayField
    :id="`${id}-until`"
    :model-value="until"
    style="width: 140px"
    :max="today"
    @update:model-value="(d: string) => whole(d) && emit('until', d)"
  />
</template>
