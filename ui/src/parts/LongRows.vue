<script setup lang="ts" generic="T extends { no: number }">
// The rows of a table that may be long: put there block by block, as they come near the eye or are gone to.
import { computed, nextTick, onBeforeUnmount, onMounted, ref, watch } from 'vue'

const props = defineProps<{
  rows: T[]
  columns: number
  /** About how high a row is, in pixels, before it is there. */
  height: number
}>()
const size = 10
const near = '600px 0px'
const pause = 60 // the first block is there to be worked on before the next are thought of

const blocks = computed(() =>
  Array.from({ length: Math.ceil(props.rows.length / size) }, (_, n) => ({
    n,
    rows: props.rows.slice(n * size, (n + 1) * size),
  })),
)
const there = ref(new Set([0]))
const anchor = ref<HTMLElement>()
let observer: IntersectionObserver | undefined
let later: ReturnType<typeof setTimeout> | undefined
onMounted(() => {
  observer = new IntersectionObserver(
    (seen) => {
      for (const s of seen) if (s.isIntersecting) put(Number((s.target as HTMLElement).dataset['block']))
    },
    { root: anchor.value?.closest('.body') ?? null, rootMargin: near },
  )
  later = setTimeout(watchAll, pause)
})
onBeforeUnmount(() => {
  clearTimeout(later)
  observer?.disconnect()
})
function watchAll() {
  for (const e of anchor.value?.parentElement?.querySelectorAll('tbody[data-block]') ?? []) observer?.observe(e)
}
function put(n: number) {
  there.value.add(n)
}
watch(
  () => blocks.value.length,
  () => void nextTick(watchAll),
)
/** Puts the row of a number there, if it is not yet. */
async function reach(no: number) {
  const n = Math.floor(props.rows.findIndex((r) => r.no === no) / size)
  if (n < 0 || there.value.has(n)) return
  put(n)
  await nextTick()
}
defineExpose({ reach })
</script>

<template>
  <tbody ref="anchor" hidden></tbody>
  <template v-for="b in blocks" :key="b.n">
    <tbody v-if="there.has(b.n)">
      <template v-for="row in b.rows" :key="row.no"><slot :row="row" /></template>
    </tbody>
    <tbody v-else :data-block="b.n" aria-hidden="true">
      <tr>
        <td :colspan="columns" :style="{ height: `${b.rows.length * height}px` }"></td>
      </tr>
    </tbody>
  </template>
</template>
