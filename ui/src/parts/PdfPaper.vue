<script setup lang="ts">
// A PDF as it came, a page at a time: larger, smaller, turned, searched. The reader is loaded when the first one is shown.
import { computed, nextTick, onBeforeUnmount, ref, shallowRef, useTemplateRef, watch } from 'vue'
import type { PDFDocumentProxy, RenderTask } from 'pdfjs-dist'
import type { PaperPart } from '@/api/client'
import PaperParts from './PaperParts.vue'
import { frameOf, type Spot } from './spot'
import TextField from './TextField.vue'

const props = defineProps<{
  url: string
  name: string
  /** A place to be shown: on which page, in thousandths of it. */
  lit?: ({ page: number } & Spot) | undefined
  /** What may be put from it into a field. */
  parts?: PaperPart[] | undefined
}>()
const pdf = shallowRef<PDFDocumentProxy>()
const page = ref(1)
const zoom = ref(1)
const turn = ref(0)
const words = ref('')
const trouble = ref('')
const said = ref('')
/** The text of the page, for who hears it. */
const text = ref('')
const canvas = useTemplateRef<HTMLCanvasElement>('canvas')
const frame = useTemplateRef<HTMLElement>('frame')
const spot = useTemplateRef<HTMLElement>('spot')
const marks = ref<{ left: string; top: string; width: string; height: string }[]>([])
const pages = computed(() => pdf.value?.numPages ?? 0)

let drawing: RenderTask | undefined
let opened = 0
async function open(url: string) {
  const mine = ++opened
  trouble.value = ''
  said.value = ''
  await pdf.value?.loadingTask.destroy()
  pdf.value = undefined
  try {
    const [reader, worker, answer] = await Promise.all([
      import('pdfjs-dist'),
      import('pdfjs-dist/build/pdf.worker.min.mjs?url'),
      fetch(url),
    ])
    if (!answer.ok) throw new Error('The file cannot be fetched.')
    reader.GlobalWorkerOptions.workerSrc = worker.default
    const data = new Uint8Array(await answer.arrayBuffer())
    const document = await reader.getDocument({ data, isEvalSupported: false, enableXfa: false, useWasm: false })
      .promise
    if (mine !== opened) return void document.loadingTask.destroy()
    pdf.value = document
    page.value = 1
    await nextTick()
    await draw()
  } catch (e) {
    if (mine === opened) trouble.value = `This PDF cannot be shown: ${(e as Error).message}`
  }
}
async function draw() {
  const at = canvas.value
  if (!pdf.value || !at || !frame.value) return
  const shown = await pdf.value.getPage(page.value)
  const whole = shown.getViewport({ scale: 1, rotation: (shown.rotate + turn.value) % 360 })
  const scale = (Math.max(200, frame.value.clientWidth - 2) / whole.width) * zoom.value
  const view = shown.getViewport({ scale, rotation: (shown.rotate + turn.value) % 360 })
  const sharp = window.devicePixelRatio || 1
  drawing?.cancel()
  at.width = Math.floor(view.width * sharp)
  at.height = Math.floor(view.height * sharp)
  at.style.width = `${Math.floor(view.width)}px`
  at.style.height = `${Math.floor(view.height)}px`
  drawing = shown.render({ canvas: at, viewport: view, transform: [sharp, 0, 0, sharp, 0, 0] })
  try {
    await drawing.promise
  } catch {
    return // it was drawn anew meanwhile
  }
  const { Util } = await import('pdfjs-dist')
  const items = (await shown.getTextContent()).items.filter((i) => 'str' in i)
  text.value = items.map((i) => i.str).join(' ')
  const wanted = words.value.trim().toLowerCase()
  marks.value =
    wanted === '' || turn.value
      ? []
      : items
          .filter((i) => i.str.toLowerCase().includes(wanted))
          .map((i) => {
            const [, , , , left, bottom] = Util.transform(view.transform, i.transform) as number[]
            const height = i.height * scale
            return {
              left: `${left}px`,
              top: `${bottom! - height}px`,
              width: `${i.width * scale}px`,
              height: `${height}px`,
            }
          })
}
/** Goes to the next page that has the words, from the one after this; round to this one. */
async function find() {
  const wanted = words.value.trim().toLowerCase()
  said.value = ''
  if (!pdf.value || wanted === '') return void draw()
  for (let n = 1; n <= pages.value; n++) {
    const at = ((page.value - 1 + n) % pages.value) + 1
    const items = (await (await pdf.value.getPage(at)).getTextContent()).items
    if (items.some((i) => 'str' in i && i.str.toLowerCase().includes(wanted))) {
      page.value = at
      said.value = `On page ${at}.`
      return void draw()
    }
  }
  said.value = 'Not on any page.'
}
const go = (by: number) => (page.value = Math.min(pages.value, Math.max(1, page.value + by)))
const grow = (by: number) => (zoom.value = Math.min(4, Math.max(0.5, Math.round((zoom.value + by) * 100) / 100)))
function keys(event: KeyboardEvent) {
  if (event.target instanceof HTMLInputElement || event.ctrlKey || event.metaKey || event.altKey) return
  const done: Record<string, () => void> = {
    '+': () => grow(0.25),
    '-': () => grow(-0.25),
    t: () => (turn.value = (turn.value + 90) % 360),
    PageDown: () => go(1),
    PageUp: () => go(-1),
  }
  const act = done[event.key]
  if (!act) return
  event.preventDefault()
  event.stopPropagation()
  act()
}
watch(() => props.url, open, { immediate: true })
watch([page, zoom, turn], () => void draw())
watch([() => props.lit, pages], ([lit]) => {
  if (lit && lit.page <= pages.value) page.value = lit.page
  void nextTick(() => spot.value?.scrollIntoView({ block: 'nearest', inline: 'nearest' }))
})
const place = computed(() =>
  props.lit && props.lit.page === page.value && !turn.value ? frameOf(props.lit) : undefined,
)
onBeforeUnmount(() => {
  opened++
  drawing?.cancel()
  void pdf.value?.loadingTask.destroy()
})
</script>

<template>
  <section :aria-label="`The paper ${name}`" @keydown="keys">
    <p v-if="trouble" class="outside-text" role="alert">{{ trouble }}</p>
    <template v-else-if="pdf">
      <div class="d-flex flex-wrap gap-2 align-items-center mb-2">
        <template v-if="pages > 1">
          <button type="button" class="linkish" :disabled="page === 1" @click="go(-1)">Before</button>
          <span class="small">page {{ page }} of {{ pages }}</span>
          <button type="button" class="linkish" :disabled="page === pages" @click="go(1)">Next</button>
        </template>
        <button type="button" class="linkish" @click="grow(-0.25)">Smaller</button>
        <button type="button" class="linkish" @click="grow(0.25)">Larger</button>
        <button type="button" class="linkish" @click="turn = (turn + 90) % 360">Turn</button>
        <form class="d-flex gap-1" @submit.prevent="find">
          <TextField
            v-model="words"
            class="paper-words"
            aria-label="Words on the paper"
            placeholder="find"
            style="width: 90px"
          />
        </form>
        <span class="small" role="status">{{ said }}</span>
      </div>
      <div
        ref="frame"
        class="paper-frame"
        role="group"
        tabindex="0"
        :aria-label="`Page ${page}: + − larger, smaller; T turn; Page Up and Down`"
      >
        <div class="position-relative d-inline-block">
          <canvas ref="canvas" role="img" :aria-label="text || 'a page without text'" />
          <span v-if="place" ref="spot" class="place" :style="place" />
          <span v-for="(m, i) in marks" :key="i" class="mark" :style="m" />
          <PaperParts
            v-if="parts?.length && !turn"
            :parts="parts"
            :page="page"
            :lit="lit"
            @page="(n) => (page = n)"
            @said="(s) => (said = s)"
          />
        </div>
      </div>
    </template>
    <p v-else class="muted">The paper is opened…</p>
  </section>
</template>

<style scoped>
.mark {
  position: absolute;
  background: rgb(255 196 0 / 40%);
  pointer-events: none;
}
</style>
