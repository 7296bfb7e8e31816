<script setup lang="ts">
// A text input whose value is always a string.
defineProps<{ id?: string; type?: 'text' | 'password' | 'date'; state?: boolean | undefined }>()
const text = defineModel<string>({ required: true })
</script>

<template>
  <BFormInput
    :id="id"
    :type="type ?? 'text'"
    :state="state"
    :model-value="text"
    @update:model-value="(v: string | number | null) => (text = String(v ?? ''))"
  />
</template>
