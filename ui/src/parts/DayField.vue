<script setup lang="ts">
// A day, typed as it is said: 28.11, 28/11, today, +3. It is shown as days are shown everywhere; a calendar opens on request.
import { ref, useTemplateRef, watch, type StyleValue } from 'vue'
import { readDay } from './days'
import { showDay } from './numbers'
import { today } from './session'

defineOptions({ inheritAttrs: false })
const props = withDefaults(
  defineProps<{
    id?: string | undefined
    state?: boolean | undefined
    min?: string | undefined
    max?: string | undefined
  }>(),
  { id: undefined, state: undefined, min: undefined, max: undefined },
)
/** A civil date; what cannot be read stands there as it was typed, for the server to refuse. */
const day = defineModel<string>({ required: true })
const emit = defineEmits<{
  /** The day was left, chosen or entered: while it is typed, 1.1 may become 1.11. */
  settled: [day: string]
}>()
const read = (text: string) => readDay(text, today.value, { min: props.min, max: props.max })
const said = (d: string) => (/^\d{4}-\d\d-\d\d$/.test(d) ? showDay(d, today.value) : d)
const typed = ref(said(day.value))
const calendar = useTemplateRef<HTMLInputElement>('calendar')
const typing = ref(false)
watch([day, today], () => {
  if (!typing.value) typed.value = said(day.value)
})
function type(v: string | number | null) {
  typing.value = true
  typed.value = String(v ?? '')
  day.value = read(typed.value) ?? ''
}
function leave() {
  if (typing.value && read(typed.value) === undefined) day.value = typed.value.trim()
  typing.value = false
  typed.value = said(day.value)
  emit('settled', day.value)
}
function picked(event: Event) {
  typing.value = false
  day.value = (event.target as HTMLInputElement).value
  leave()
}
</script>

<template>
  <span class="day-field" :style="$attrs['style'] as StyleValue">
    <BFormInput
      :id="id"
      v-bind="{ ...$attrs, style: undefined }"
      autocomplete="off"
      placeholder="day.month"
      :state="state ?? (typed && read(typed) === undefined && !typing ? false : undefined)"
      :model-value="typed"
      @update:model-value="type"
      @blur="leave"
      @keydown.enter="leave"
    />
    <button type="button" tabindex="-1" :aria-label="`Calendar`" title="Calendar" @click="calendar?.showPicker()">
      <svg viewBox="0 0 16 16" aria-hidden="true"><path d="M2 3.5h12v10H2zM2 6.5h12M5 2v3M11 2v3" /></svg>
    </button>
    <input
      ref="calendar"
      type="date"
      tabindex="-1"
      aria-hidden="true"
      :min="min"
      :max="max"
      :value="/^\d{4}-/.test(day) ? day : ''"
      @change="picked"
    />
  </span>
</template>
