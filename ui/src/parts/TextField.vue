<script setup lang="ts">
// A text input whose value is always a string; a day is typed in a field of its own.
import DayField from './DayField.vue'

// An absent boolean would count as false, which is a field in error.
withDefaults(defineProps<{ id?: string; type?: 'text' | 'password' | 'date'; state?: boolean | undefined }>(), {
  id: undefined,
  type: 'text',
  state: undefined,
})
const text = defineModel<string>({ required: true })
</script>

<template>
  <DayField v-if="type === 'date'" :id="id" v-model="text" :state="state" />
  <BFormInput
    v-else
    :id="id"
    :type="type"
    :state="state"
    :model-value="text"
    @update:model-value="(v: string | number | null) => (text = String(v ?? ''))"
  />
</template>
