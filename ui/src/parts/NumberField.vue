<script setup lang="ts">
// A number typed as people write it; what it was understood as is echoed before it counts.
import { computed } from 'vue'
import { read, show } from './numbers'
import TextField from '@/parts/TextField.vue'

const props = defineProps<{
  id: string
  label: string
  whole?: string
  /** Per cent may be typed, also while nobody knows yet of what. */
  share?: boolean
  error?: string
  placeholder?: string
  disabled?: boolean
  described?: string
}>()
const typed = defineModel<string>({ required: true })
const emit = defineEmits<{ focus: [] }>()
const understood = computed(() => read(typed.value, props.whole))
const echo = computed(() => {
  if (typed.value.trim() === '' || understood.value === undefined) return ''
  const plain = show(understood.value)
  const bare = typed.value
    .trim()
    .replace(/([.,]\d*?)0+$/, '$1')
    .replace(/[.,]$/, '')
  return [typed.value.trim(), bare].some((t) => t === plain || t === understood.value) ? '' : `= ${plain}`
})
const wrong = computed(() =>
  typed.value.trim() !== '' &&
  understood.value === undefined &&
  !(props.share && read(typed.value.replace(/\s*%\s*$/, '')) !== undefined)
    ? 'Not a number of at most six places.'
    : '',
)
const state = computed(() => (props.error || wrong.value ? false : undefined))
</script>

<template>
  <div>
    <TextField
      :id="id"
      v-model="typed"
      autocomplete="off"
      inputmode="decimal"
      :aria-label="label"
      :aria-describedby="described ?? `${id}-said`"
      :state="state"
      :placeholder="placeholder"
      :disabled="disabled"
      @focus="emit('focus')"
    />
    <div :id="`${id}-said`" class="small" :class="error || wrong ? 'text-danger' : 'muted'">
      {{ error || wrong || echo }}
    </div>
  </div>
</template>
