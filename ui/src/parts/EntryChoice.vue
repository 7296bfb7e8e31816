<script setup lang="ts">
// A labelled choice by typing, with what is wrong with it or a hint underneath.
import ChoiceField from './ChoiceField.vue'
import type { Choice } from './choice'

defineProps<{
  id: string
  label: string
  choices: Choice[]
  free?: boolean
  error?: string | undefined
  hint?: string | undefined
}>()
const value = defineModel<string>({ required: true })
const typed = defineModel<string>('typed', { default: '' })
const emit = defineEmits<{ chosen: [choice: Choice] }>()
</script>

<template>
  <div>
    <label :for="id">{{ label }}</label>
    <ChoiceField
      :id="id"
      v-model="value"
      v-model:typed="typed"
      :free="free"
      :label="label"
      :choices="choices"
      :state="error ? false : undefined"
      :described="`${id}-said`"
      @chosen="(c) => emit('chosen', c)"
    />
    <div :id="`${id}-said`" class="small" :class="error ? 'text-danger' : 'muted'">{{ error ?? hint }}</div>
  </div>
</template>
