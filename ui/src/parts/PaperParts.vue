<script setup lang="ts">
// What stands on a page of a paper, to be put into the field that has the focus: by a click, or marked by keys and taken.
import { computed, nextTick, onBeforeUnmount, onMounted, ref, useTemplateRef, watch } from 'vue'
import type { PaperPart } from '@/api/client'
import type { Spot } from './spot'
import { fieldIn, fits, put, takes } from './taken'

const props = defineProps<{
  parts: PaperPart[]
  page: number
  /** Where the field stands that has the focus: the keys go on from there. */
  lit?: ({ page: number } & Spot) | undefined
}>()
const emit = defineEmits<{ page: [page: number]; said: [sentence: string] }>()
const here = computed(() => props.parts.filter((p) => p.page === props.page))
const marked = ref<PaperPart>()
const mark = useTemplateRef<HTMLElement>('mark')
const where = (p: PaperPart) => ({
  left: `${p.left / 10}%`,
  top: `${p.top / 10}%`,
  width: `${(p.right - p.left) / 10}%`,
  height: `${(p.bottom - p.top) / 10}%`,
})
/** A click leaves the focus where it is: in the field that is filled. */
function take(part: PaperPart | undefined) {
  const field = fieldIn(document.activeElement)
  if (!part) return
  if (!field) emit('said', 'Go into a field first; what is clicked here goes into it.')
  else if (!fits(field, part)) emit('said', `“${part.text}” is no ${takes(field)}.`)
  else {
    put(field, part)
    marked.value = part
    emit('said', `“${part.text}” is in the field.`)
  }
}
watch(
  () => props.lit,
  () => (marked.value = undefined),
)
/** The keys leave mere words out: of a paper, figures are wanted. */
const sought = (field: Element, p: PaperPart) => fits(field, p) && (p.kind !== 'word' || /\d/.test(p.text))
function step(by: number) {
  const field = fieldIn(document.activeElement)
  if (!field) return
  const { lit } = props
  const at = props.parts.findIndex((p) =>
    marked.value ? p === marked.value : p.page === lit?.page && p.bottom > lit.top && p.right > lit.left,
  )
  const fitting = props.parts.map((_, i) => i).filter((i) => sought(field, props.parts[i]!))
  const to = by > 0 ? (fitting.find((i) => i > at) ?? fitting[0]) : (fitting.findLast((i) => i < at) ?? fitting.at(-1))
  const next = to === undefined ? undefined : props.parts[to]
  marked.value = next
  emit('said', next ? `“${next.text}”. Alt+Enter puts it into the field.` : 'Nothing on the paper fits this field.')
  if (next && next.page !== props.page) emit('page', next.page)
  void nextTick(() => mark.value?.scrollIntoView({ block: 'nearest', inline: 'nearest' }))
}
// Before the field itself hears it: a list of choices would open.
function press(event: KeyboardEvent) {
  if (!event.altKey || event.ctrlKey || event.metaKey || !fieldIn(document.activeElement)) return
  const done = { ArrowDown: () => step(1), ArrowUp: () => step(-1), Enter: () => take(marked.value) }[event.key]
  if (!done) return
  event.preventDefault()
  event.stopPropagation()
  done()
}
onMounted(() => document.addEventListener('keydown', press, true))
onBeforeUnmount(() => document.removeEventListener('keydown', press, true))
</script>

<template>
  <span
    v-for="(p, i) in here"
    :key="i"
    class="part"
    :style="where(p)"
    :title="`Put “${p.text}” into the field`"
    @mousedown.prevent="take(p)"
  />
  <span v-if="marked?.page === page" ref="mark" class="part marked" :style="where(marked)" />
</template>

<style scoped>
.part {
  position: absolute;
  cursor: copy;
}
.part:hover {
  background: rgb(255 196 0 / 35%);
}
.marked {
  outline: 2px solid var(--bs-primary);
  outline-offset: 2px;
  pointer-events: none;
}
</style>
