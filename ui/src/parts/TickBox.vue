<script setup lang="ts">
// A checkbox that is ticked or not.
defineProps<{ id?: string; disabled?: boolean; inline?: boolean }>()
const ticked = defineModel<boolean>({ required: true })
</script>

<template>
  <BFormCheckbox
    :id="id"
    :disabled="disabled"
    :inline="inline"
    :model-value="ticked"
    @update:model-value="(v) => (ticked = v === true)"
  >
    <slot />
  </BFormCheckbox>
</template>
