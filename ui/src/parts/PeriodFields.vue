<script setup lang="ts">
// From one day to another; a day is taken once it is settled.
import DayField from '@/parts/DayField.vue'
import { today } from '@/parts/session'

const props = defineProps<{ id: string; label: string; since: string; until: string }>()
const emit = defineEmits<{ since: [day: string]; until: [day: string] }>()
const other = (day: string, than: string) => /^\d{4}-/.test(day) && day !== than
</script>

<template>
  <label :for="`${id}-since`">{{ label }}</label>
  <DayField
    :id="`${id}-since`"
    :model-value="since"
    style="width: 140px"
    @settled="(d) => other(d, props.since) && emit('since', d)"
  />
  <label :for="`${id}-until`">to</label>
  <DayField
    :id="`${id}-until`"
    :model-value="until"
    style="width: 140px"
    :max="today"
    @settled="(d) => other(d, props.until) && emit('until', d)"
  />
</template>
