<script setup lang="ts">
// A button that asks for files and hands over what was chosen; the same file may be chosen again.
import { computed, useTemplateRef } from 'vue'
import { useFileDialog } from '@vueuse/core'

const props = defineProps<{
  /** Of the field that takes the files. */
  id?: string
  /** What the files are, for who does not see the button. */
  label: string
  accept: string
  multiple?: boolean
  /** Photographs may be taken at once. */
  camera?: boolean
  disabled?: boolean
  /** Looks like a link, in the middle of a text. */
  link?: boolean
  variant?: 'primary' | 'outline-secondary'
  size?: 'sm'
}>()
const emit = defineEmits<{ files: [files: File[]] }>()
const input = useTemplateRef<HTMLInputElement>('input')
const { open, onChange, reset } = useFileDialog({
  input: computed(() => input.value!), // it is there before anybody can ask
  accept: props.accept,
  multiple: props.multiple ?? false,
  ...(props.camera ? { capture: 'environment' } : {}),
})
onChange((files) => {
  const chosen = [...(files ?? [])]
  if (chosen.length === 0) return
  emit('files', chosen)
  reset()
})
const ask = () => open()
defineExpose({ ask })
</script>

<template>
  <button v-if="link" type="button" class="linkish small py-1" :disabled="disabled" @click="ask"><slot /></button>
  <BButton v-else :variant="variant ?? 'outline-secondary'" :size="size" :disabled="disabled" @click="ask"
    ><slot
  /></BButton>
  <input :id="id" ref="input" type="file" class="d-none" :aria-label="label" tabindex="-1" />
</template>
