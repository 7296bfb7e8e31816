<script setup lang="ts">
// Asks in place for a reason before something is done, and says first what it will book.
import { computed, ref } from 'vue'
import SmallForm from '@/parts/SmallForm.vue'
import TextField from '@/parts/TextField.vue'
import PickField from '@/parts/PickField.vue'

const props = defineProps<{
  id: string
  title: string
  books: string
  label: string
  action: string
  options?: Record<string, string>
  error?: string
  optional?: boolean
  choose?: string
}>()
const emit = defineEmits<{ done: [text: string, option: string]; cancel: [] }>()
const text = ref('')
const chosen = ref<string>()
const option = computed({
  get: () => chosen.value ?? Object.keys(props.options ?? {})[0] ?? '',
  set: (o) => (chosen.value = o),
})
</script>

<template>
  <SmallForm :action="action" @done="emit('done', text, option)" @cancel="emit('cancel')">
    <p class="mb-2">
      <b>{{ title }}</b> {{ books }}
    </p>
    <div v-if="options" class="mb-2">
      <label :for="`${id}-option`">{{ choose ?? 'Reason' }}</label>
      <PickField
        :id="`${id}-option`"
        v-model="option"
        :options="Object.entries(options).map(([value, text]) => ({ value, text }))"
      />
    </div>
    <label :for="id">{{ label }}</label>
    <TextField
      :id="id"
      v-model="text"
      data-first
      autocomplete="off"
      :state="error ? false : undefined"
      :aria-describedby="`${id}-error`"
    />
    <div :id="`${id}-error`" class="small text-danger">{{ error }}</div>
  </SmallForm>
</template>
