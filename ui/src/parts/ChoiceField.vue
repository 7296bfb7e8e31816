<script setup lang="ts">
// A choice by typing: the beginnings of the code, the name or the other side's code. Enter takes the first that fits.
import { computed, nextTick, ref, watch } from 'vue'
import { fits as fitsText, type Choice } from './choice'

const props = withDefaults(
  defineProps<{
    id: string
    label: string
    choices: Choice[]
    /** What fits no choice stays as typed, in `typed`. */
    free?: boolean
    state?: boolean | undefined
    placeholder?: string
    described?: string | undefined
  }>(),
  { free: false, state: undefined, placeholder: '', described: undefined },
)
const value = defineModel<string>({ required: true })
const typed = defineModel<string>('typed', { default: '' })
const emit = defineEmits<{ chosen: [choice: Choice] }>()

const text = ref('')
const open = ref(false)
const active = ref(0)
const input = ref<HTMLInputElement>()

const chosen = computed(() => props.choices.find((c) => c.value === value.value))
watch(
  [chosen, value, typed],
  () => {
    if (document.activeElement !== input.value || chosen.value) text.value = chosen.value?.text ?? typed.value
  },
  { immediate: true },
)
const named = (c: Choice) => [c.value, c.text].some((t) => t.toLowerCase() === text.value.trim().toLowerCase())
const fitting = computed(() => {
  const fits = props.choices.filter((c) => fitsText(c, text.value))
  const exact = fits.findIndex(named)
  if (exact > 0) fits.unshift(...fits.splice(exact, 1))
  return fits.slice(0, 12)
})

function type(event: Event) {
  text.value = (event.target as HTMLInputElement).value
  typed.value = text.value
  value.value = ''
  active.value = 0
  open.value = text.value.trim() !== ''
}
function take(choice: Choice | undefined) {
  open.value = false
  if (!choice) return
  const news = choice.value !== value.value
  value.value = choice.value
  text.value = choice.text
  typed.value = ''
  if (news) emit('chosen', choice)
}
/** Takes what stands there for the choice that it names, or the only one that fits. */
function settle(first: boolean) {
  if (!value.value && text.value.trim() !== '') {
    const exact = fitting.value.find(named)
    if (exact) take(exact)
    else if (first || (fitting.value.length === 1 && !props.free)) take(fitting.value[active.value])
  }
  open.value = false
  early = props.choices.length === 0 && text.value.trim() !== ''
}
// Whoever types faster than the choices arrive has chosen all the same.
let early = false
watch(
  () => props.choices,
  () => early && settle(!props.free),
)
function press(event: KeyboardEvent) {
  if (event.key === 'Enter' && !event.ctrlKey) settle(!props.free || open.value)
  else if (event.key === 'Escape' && open.value) {
    open.value = false
    event.stopPropagation()
  } else if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
    event.preventDefault()
    event.stopPropagation()
    if (!open.value) open.value = true
    else
      active.value = Math.max(
        0,
        Math.min(fitting.value.length - 1, active.value + (event.key === 'ArrowDown' ? 1 : -1)),
      )
    void nextTick(() => document.getElementById(`${props.id}-${active.value}`)?.scrollIntoView({ block: 'nearest' }))
  }
}
const shown = computed(() => open.value && fitting.value.length > 0)
</script>

<template>
  <div class="choice">
    <input
      :id="id"
      ref="input"
      class="form-control"
      :class="{ 'is-invalid': state === false }"
      type="text"
      role="combobox"
      autocomplete="off"
      aria-autocomplete="list"
      :aria-label="label"
      :aria-expanded="shown"
      :aria-controls="shown ? `${id}-list` : undefined"
      :aria-activedescendant="shown ? `${id}-${active}` : undefined"
      :aria-invalid="state === false ? true : undefined"
      :aria-describedby="described"
      :placeholder="placeholder"
      :value="text"
      @input="type"
      @keydown="press"
      @blur="settle(false)"
    />
    <ul v-if="shown" :id="`${id}-list`" role="listbox" :aria-label="label">
      <li
        v-for="(c, i) in fitting"
        :id="`${id}-${i}`"
        :key="c.value"
        role="option"
        :aria-selected="i === active"
        @mousedown.prevent="take(c)"
      >
        <span>{{ c.text }}</span> <span class="muted">{{ c.also }}</span>
      </li>
    </ul>
  </div>
</template>
