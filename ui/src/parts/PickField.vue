<script setup lang="ts" generic="T extends string | number">
// A choice whose value is always one of its options.
withDefaults(defineProps<{ id?: string; options: { value: T; text: string }[]; state?: boolean | undefined }>(), {
  id: undefined,
  state: undefined,
})
const chosen = defineModel<T>({ required: true })
</script>

<template>
  <BFormSelect
    :id="id"
    :state="state"
    :options="options"
    :model-value="chosen"
    @update:model-value="(v) => (chosen = v as T)"
  />
</template>
