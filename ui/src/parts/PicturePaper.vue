<script setup lang="ts">
// A picture as it came, larger and smaller, with the place that is meant shown on it. A TIFF, which no browser shows, is drawn by
// the server, page by page.
import type { PaperPart } from '@/api/client'
import PaperParts from './PaperParts.vue'
import { frameOf, type Spot } from './spot'
import { computed, nextTick, onBeforeUnmount, ref, useTemplateRef, watch } from 'vue'

const props = defineProps<{
  url: string
  name: string
  kind: string
  /** A place to be shown: on which page, in thousandths of it. */
  lit?: ({ page: number } & Spot) | undefined
  /** What may be put from it into a field. */
  parts?: PaperPart[] | undefined
}>()
const zoom = ref(1)
const trouble = ref('')
const drawn = computed(() => /tiff/i.test(props.kind))
const page = ref(1)
const pages = ref(1)
const source = ref('')
let asked = 0
async function draw() {
  const mine = ++asked
  trouble.value = ''
  if (!drawn.value) return void (source.value = props.url)
  const answer = await fetch(`${props.url}/pages/${page.value}`)
  if (!answer.ok) {
    const problem = (await answer.json().catch(() => ({}))) as { sentence?: string }
    if (mine === asked) trouble.value = problem.sentence ?? 'The page cannot be fetched.'
    return
  }
  pages.value = Number(answer.headers.get('Lagoon-Pages') ?? 1)
  const picture = URL.createObjectURL(await answer.blob())
  if (mine !== asked) return URL.revokeObjectURL(picture)
  URL.revokeObjectURL(source.value)
  source.value = picture
}
onBeforeUnmount(() => {
  asked++
  URL.revokeObjectURL(source.value)
})
watch(
  () => props.url,
  () => ((page.value = 1), void draw()),
  { immediate: true },
)
watch(page, () => void draw())
const said = ref('')
const spot = useTemplateRef<HTMLElement>('spot')
const grow = (by: number) => (zoom.value = Math.min(4, Math.max(0.5, zoom.value + by)))
watch([() => props.lit, pages], ([lit]) => {
  if (lit && lit.page <= pages.value) page.value = lit.page
})
const place = computed(() =>
  props.lit && (!drawn.value || props.lit.page === page.value) ? frameOf(props.lit) : undefined,
)
watch(place, () => void nextTick(() => spot.value?.scrollIntoView({ block: 'nearest', inline: 'nearest' })))
</script>

<template>
  <section :aria-label="`The paper ${name}`">
    <p v-if="trouble" class="muted" role="status">{{ trouble }}</p>
    <template v-else>
      <div class="d-flex gap-2 mb-2">
        <template v-if="pages > 1">
          <button type="button" class="linkish" :disabled="page === 1" @click="page--">Before</button>
          <span class="small">page {{ page }} of {{ pages }}</span>
          <button type="button" class="linkish" :disabled="page === pages" @click="page++">Next</button>
        </template>
        <button type="button" class="linkish" @click="grow(-0.25)">Smaller</button>
        <button type="button" class="linkish" @click="grow(0.25)">Larger</button>
        <span class="small" role="status">{{ said }}</span>
      </div>
      <div class="paper-frame" role="group" tabindex="0" :aria-label="`The picture ${name}`">
        <div class="position-relative" :style="{ width: `${zoom * 100}%` }">
          <img
            v-if="source"
            :src="source"
            :alt="pages > 1 ? `The paper ${name}, page ${page}` : `The paper ${name}`"
            class="w-100 d-block"
            @error="trouble = 'This kind of picture cannot be shown here. Save it to look at it.'"
          />
          <span v-if="place" ref="spot" class="place" :style="place" />
          <PaperParts
            v-if="parts?.length"
            :parts="parts"
            :page="page"
            :lit="lit"
            @page="(n) => (page = n)"
            @said="(s) => (said = s)"
          />
        </div>
      </div>
    </template>
  </section>
</template>
