<script setup lang="ts">
// A pile of slips, the most pressing first. Arrows move in it, Enter opens; only one slip is a tab stop.
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { deafen, useKeys } from './keys'
import type { SlipGroup } from './slip'
import MoreRows from './MoreRows.vue'
import VerdictMark from './VerdictMark.vue'

const props = defineProps<{
  label: string
  groups: SlipGroup[]
  loading?: boolean
  /** how many more there are than are given */ more?: number | undefined
}>()
const route = useRoute()
const router = useRouter()
const list = ref<HTMLElement>()
const unfolded = ref<string[]>([])
const shown = (g: SlipGroup) =>
  !g.folded || unfolded.value.includes(g.title) || g.slips.some((s) => s.to === route.path)
function fold(title: string) {
  unfolded.value = unfolded.value.includes(title)
    ? unfolded.value.filter((t) => t !== title)
    : [...unfolded.value, title]
}
const visible = computed(() => props.groups.map((g) => (shown(g) ? g : { ...g, slips: [] })))
const all = computed(() => visible.value.flatMap((g) => g.slips))
/** The place of the slip that is open; what its address has besides, such as a note that came along, makes no difference. */
const place = computed(() => (all.value.some((s) => s.to === route.fullPath) ? route.fullPath : route.path))
const opened = computed(() => all.value.findIndex((s) => s.to === place.value))
const at = ref(-1)
const stop = computed(() => (at.value >= 0 && at.value < all.value.length ? at.value : Math.max(0, opened.value)))

function move(step: number) {
  if (all.value.length === 0) return
  const inPile = list.value?.contains(document.activeElement)
  const from = inPile || at.value >= 0 ? stop.value : opened.value
  at.value = Math.min(all.value.length - 1, Math.max(0, from + step))
  void nextTick(() => list.value?.querySelectorAll<HTMLElement>('a.slip')[at.value]?.focus())
}

// Where the slip that is open stood among the slips of one's own turn, which are the first group.
let stood = 0
watch(
  () => props.groups[0]?.slips.findIndex((s) => s.to === place.value) ?? -1,
  (i) => (stood = i >= 0 ? i : stood),
  { immediate: true },
)
/** Opens what comes next of one's own turn, when a slip is finished; where nothing does, it stays open with what came of it. */
function next() {
  const own = props.groups[0]?.slips.filter((s) => s.to !== place.value) ?? []
  const slip = own[Math.min(stood, own.length - 1)]
  if (!slip) return
  deafen()
  void router.push(slip.to)
}
defineExpose({ next })

useKeys(() => [
  { key: 'ArrowDown', label: 'next slip', run: () => move(1) },
  { key: 'ArrowUp', label: 'slip before', run: () => move(-1), quiet: true },
])
const index = (group: number, i: number) => visible.value.slice(0, group).reduce((n, g) => n + g.slips.length, i)
</script>

<template>
  <nav ref="list" class="pile" :aria-label="label">
    <slot />
    <template v-for="(group, g) in groups" :key="group.title">
      <header>
        <h2>
          {{ group.title }} <span v-if="!group.open" class="muted">{{ loading ? '…' : group.slips.length }}</span>
        </h2>
        <span v-if="group.note" class="muted">{{ group.note }}</span>
      </header>
      <p v-if="group.sum" class="worth num">{{ group.sum }}</p>
      <p v-if="group.slips.length === 0 && !loading" class="empty">{{ group.empty }}</p>
      <p v-else-if="group.folded" class="folded muted">
        <template v-for="line in group.folded" :key="line">{{ line }}<br /></template>
        <button type="button" class="linkish" :aria-expanded="shown(group)" @click="fold(group.title)">
          {{ shown(group) ? 'Fold' : 'Show them' }}
        </button>
      </p>
      <ul v-if="shown(group)">
        <li v-for="(slip, i) in group.slips" :key="slip.to">
          <RouterLink
            class="slip"
            :class="{ on: slip.to === place }"
            :aria-current="slip.to === place ? 'page' : undefined"
            :to="slip.to"
            :tabindex="index(g, i) === stop ? 0 : -1"
            @focus="at = index(g, i)"
          >
            <VerdictMark :verdict="slip.verdict" only />
            <b :title="slip.title">{{ slip.title }}</b>
            <span class="num">{{ slip.figure }}</span>
            <span class="sub"
              ><span :class="{ about: slip.about || !slip.mono }" :title="slip.about || slip.left"
                ><span :class="{ mono: slip.mono }">{{ slip.left }}</span
                >{{ slip.about ? ` ${slip.about}` : '' }}</span
              ><span :title="slip.right">{{ slip.right }}</span></span
            >
          </RouterLink>
        </li>
      </ul>
    </template>
    <MoreRows :more="more" />
    <slot name="end" />
  </nav>
</template>
