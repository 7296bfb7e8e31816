<script setup lang="ts">
// A small entry in the middle of a sheet: Enter or Ctrl+Enter keeps it, Escape leaves it.
import { nextTick, onMounted, ref } from 'vue'

defineProps<{ action: string }>()
const emit = defineEmits<{ done: []; cancel: [] }>()
const box = ref<HTMLElement>()
onMounted(() => void nextTick(() => box.value?.querySelector<HTMLElement>('input:not(:disabled), select, textarea')?.focus()))
</script>

<template>
  <form
    ref="box"
    class="ask"
    data-own-keys
    @submit.prevent="emit('done')"
    @keydown.enter.exact.stop
    @keydown.esc.stop.prevent="emit('cancel')"
    @keydown.ctrl.enter.stop.prevent="emit('done')"
  >
    <slot />
    <div class="do">
      <BButton type="submit" variant="primary">{{ action }}</BButton>
      <BButton type="button" variant="outline-secondary" @click="emit('cancel')">Leave it</BButton>
    </div>
  </form>
</template>
