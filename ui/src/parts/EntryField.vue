<script setup lang="ts">
// A labelled input, with what is wrong with it or a hint underneath.
import TextField from './TextField.vue'

defineOptions({ inheritAttrs: false })
defineProps<{
  id: string
  label: string
  error?: string | undefined
  hint?: string
  type?: 'text' | 'password' | 'date'
}>()
const text = defineModel<string>({ required: true })
</script>

<template>
  <div>
    <label :for="id">{{ label }}</label>
    <TextField
      :id="id"
      v-model="text"
      v-bind="$attrs"
      :type="type ?? 'text'"
      autocomplete="off"
      :state="error ? false : undefined"
      :aria-describedby="`${id}-said`"
    />
    <div :id="`${id}-said`" class="small" :class="error ? 'text-danger' : 'muted'">{{ error ?? hint }}</div>
  </div>
</template>
