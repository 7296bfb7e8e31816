<script setup lang="ts">
// A picture as it came, larger and smaller, with the place that is meant shown on it.
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'

const props = defineProps<{
  url: string
  name: string
  /** A place to be shown, in thousandths of the picture. */
  lit?: { left: number; top: number; right: number; bottom: number } | undefined
}>()
const zoom = ref(1)
const failed = ref(false)
const spot = useTemplateRef<HTMLElement>('spot')
const grow = (by: number) => (zoom.value = Math.min(4, Math.max(0.5, zoom.value + by)))
const place = computed(() => {
  const l = props.lit
  const part = (n: number) => `${n / 10}%`
  return l
    ? {
        left: part(l.left - 6),
        top: part(l.top - 4),
        width: part(l.right - l.left + 12),
        height: part(l.bottom - l.top + 8),
      }
    : undefined
})
watch(place, () => void nextTick(() => spot.value?.scrollIntoView({ block: 'nearest', inline: 'nearest' })))
</script>

<template>
  <section :aria-label="`The paper ${name}`">
    <p v-if="failed" class="muted" role="status">This kind of picture cannot be shown here. Save it to look at it.</p>
    <template v-else>
      <div class="d-flex gap-2 mb-2">
        <button type="button" class="linkish" @click="grow(-0.25)">Smaller</button>
        <button type="button" class="linkish" @click="grow(0.25)">Larger</button>
      </div>
      <div class="paper" tabindex="0" :aria-label="`The picture ${name}`">
        <div class="position-relative" :style="{ width: `${zoom * 100}%` }">
          <img :src="url" :alt="`The paper ${name}`" class="w-100 d-block" @error="failed = true" />
          <span v-if="place" ref="spot" class="place" :style="place" />
        </div>
      </div>
    </template>
  </section>
</template>

<style scoped>
.paper {
  overflow: auto;
  max-height: calc(100vh - 190px);
  border: 1px solid var(--bs-border-color);
  background: #fff;
}
.place {
  position: absolute;
  border: 2px dashed #3c5c7d;
  pointer-events: none;
}
</style>
