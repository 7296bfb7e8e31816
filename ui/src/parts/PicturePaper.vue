<script setup lang="ts">
// A picture as it came, larger and smaller, with the place that is meant shown on it.
import type { PaperPart } from '@/api/client'
import PaperParts from './PaperParts.vue'
import { frameOf, type Spot } from './spot'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'

const props = defineProps<{
  url: string
  name: string
  /** A place to be shown, in thousandths of the picture. */
  lit?: Spot | undefined
  /** What may be put from it into a field. */
  parts?: PaperPart[] | undefined
}>()
const zoom = ref(1)
const failed = ref(false)
const said = ref('')
const spot = useTemplateRef<HTMLElement>('spot')
const grow = (by: number) => (zoom.value = Math.min(4, Math.max(0.5, zoom.value + by)))
const place = computed(() => (props.lit ? frameOf(props.lit) : undefined))
watch(place, () => void nextTick(() => spot.value?.scrollIntoView({ block: 'nearest', inline: 'nearest' })))
</script>

<template>
  <section :aria-label="`The paper ${name}`">
    <p v-if="failed" class="muted" role="status">This kind of picture cannot be shown here. Save it to look at it.</p>
    <template v-else>
      <div class="d-flex gap-2 mb-2">
        <button type="button" class="linkish" @click="grow(-0.25)">Smaller</button>
        <button type="button" class="linkish" @click="grow(0.25)">Larger</button>
        <span class="small" role="status">{{ said }}</span>
      </div>
      <div class="paper-frame" tabindex="0" :aria-label="`The picture ${name}`">
        <div class="position-relative" :style="{ width: `${zoom * 100}%` }">
          <img :src="url" :alt="`The paper ${name}`" class="w-100 d-block" @error="failed = true" />
          <span v-if="place" ref="spot" class="place" :style="place" />
          <PaperParts
            v-if="parts?.length"
            :parts="parts"
            :page="1"
            :lit="lit && { page: 1, ...lit }"
            @said="(s) => (said = s)"
          />
        </div>
      </div>
    </template>
  </section>
</template>
