<script setup lang="ts" generic="T extends string">
// The tabs of a side: what stands beside a sheet, one at a time. Arrows go from one to the next.
const props = defineProps<{ tabs: { id: T; text: string }[]; label: string }>()
const chosen = defineModel<T>({ required: true })
function move(step: number, event: KeyboardEvent) {
  const at = props.tabs.findIndex((t) => t.id === chosen.value)
  const next = props.tabs[(at + step + props.tabs.length) % props.tabs.length]
  if (!next) return
  chosen.value = next.id
  const strip = event.currentTarget as HTMLElement
  strip.querySelectorAll<HTMLElement>('[role=tab]')[props.tabs.indexOf(next)]?.focus()
}
</script>

<template>
  <div
    class="tabs"
    role="tablist"
    :aria-label="label"
    @keydown.left.prevent="move(-1, $event)"
    @keydown.right.prevent="move(1, $event)"
  >
    <button
      v-for="t in tabs"
      :key="t.id"
      type="button"
      role="tab"
      :aria-selected="chosen === t.id"
      :tabindex="chosen === t.id ? 0 : -1"
      @click="chosen = t.id"
    >
      {{ t.text }}
    </button>
  </div>
</template>
