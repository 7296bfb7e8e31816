<script setup lang="ts">
// Asks in place for a reason before something is done, and says first what it will book.
import { nextTick, onMounted, ref } from 'vue'
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
}>()
const emit = defineEmits<{ done: [text: string, option: string]; cancel: [] }>()
const text = ref('')
const option = ref(Object.keys(props.options ?? {})[0] ?? '')
const box = ref<HTMLElement>()
onMounted(() => void nextTick(() => box.value?.querySelector<HTMLElement>('input, select, textarea')?.focus()))
function done() {
  emit('done', text.value, option.value)
}
</script>

<template>
  <form
    ref="box"
    class="ask"
    data-own-keys
    @submit.prevent="done"
    @keydown.esc.stop.prevent="emit('cancel')"
    @keydown.ctrl.enter.stop.prevent="done"
  >
    <p class="mb-2">
      <b>{{ title }}</b> {{ books }}
    </p>
    <div v-if="options" class="mb-2">
      <label :for="`${id}-option`">Reason</label>
      <PickField :id="`${id}-option`" v-model="option" :options="Object.entries(options).map(([value, text]) => ({ value, text }))" />
    </div>
    <label :for="id">{{ label }}</label>
    <TextField :id="id" v-model="text" autocomplete="off" :state="error ? false : undefined" :aria-describedby="`${id}-error`" />
    <div :id="`${id}-error`" class="small text-danger">{{ error }}</div>
    <div class="do">
      <BButton type="submit" variant="primary">{{ action }}</BButton>
      <BButton type="button" variant="outline-secondary" @click="emit('cancel')">Leave it</BButton>
    </div>
  </form>
</template>
