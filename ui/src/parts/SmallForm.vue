<script setup lang="ts">
// A small form in the middle of a sheet. Enter goes on to the next field and never books; Ctrl+Enter or the button does, Escape leaves it.
import { nextTick, onMounted, onUnmounted, ref } from 'vue'
import { enter } from './fields'

const props = defineProps<{ action: string; label?: string; disabled?: boolean; again?: boolean }>()
const emit = defineEmits<{ done: []; cancel: [] }>()
const box = ref<HTMLElement>()
const fields = () => [
  ...(box.value?.querySelectorAll<HTMLElement>(
    'input:not([type=file], [type=date], :disabled), select:not(:disabled), textarea',
  ) ?? []),
]
/** Where typing begins: what is chosen stands above it and is changed by the arrows. What only asks is answered at once. */
const first = () =>
  box.value?.querySelector<HTMLElement>('[data-first]') ??
  fields().find((f) => !isChoice(f)) ??
  fields()[0] ??
  box.value?.querySelector<HTMLElement>('[type=submit]')
/** An action as the key's line names it; a month or a name in it stays as it is. */
const small = (text: string) => text.charAt(0).toLowerCase() + text.slice(1)
const isChoice = (f: HTMLElement) => f instanceof HTMLInputElement && /^(radio|checkbox)$/.test(f.type)
onMounted(() => void nextTick(() => first()?.focus()))
/** What opens low on a sheet, or grows while it is filled in, is seen with its buttons. */
const grown = new ResizeObserver(() => {
  if (box.value?.contains(document.activeElement)) box.value.scrollIntoView({ block: 'nearest' })
})
onMounted(() => grown.observe(box.value!))
onUnmounted(() => grown.disconnect())

function goOn(event: KeyboardEvent) {
  if (!(event.target instanceof HTMLElement) || !/^(INPUT|SELECT)$/.test(event.target.tagName)) return
  event.preventDefault() // a form of one field would be sent
  const all = fields()
  const next = all[all.indexOf(event.target) + 1]
  if (next) enter(next)
}
function done() {
  if (!props.disabled) emit('done')
}
</script>

<template>
  <form
    ref="box"
    class="ask"
    data-own-keys
    :aria-label="label"
    @submit.prevent="done"
    @keydown.enter.exact.stop="goOn"
    @keydown.esc.stop.prevent="emit('cancel')"
    @keydown.ctrl.enter.stop.prevent="done"
  >
    <div class="asked">
      <p v-if="again" class="small muted mb-1">What you had typed stands here again.</p>
      <slot />
      <div class="do">
        <BButton type="submit" variant="primary" :disabled="disabled">{{ action }}</BButton>
        <BButton type="button" variant="outline-secondary" @click="emit('cancel')">Leave it</BButton>
        <span class="muted small"><kbd>Ctrl+Enter</kbd> {{ small(action) }} · <kbd>Esc</kbd> leave it</span>
      </div>
    </div>
    <slot name="below" />
  </form>
</template>
