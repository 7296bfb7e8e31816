<script setup lang="ts">
// A pile of slips, the most pressing first. Arrows move in it, Enter opens; only one slip is a tab stop.
import { computed, nextTick, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useKeys } from './keys'
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
const all = computed(() => props.groups.flatMap((g) => g.slips))
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

/** Opens the slip after the one that is open, or the first; for when a slip is finished. */
function next() {
  const slip = all.value[opened.value + 1] ?? all.value[0]
  if (slip) void router.push(slip.to)
}
defineExpose({ next })

useKeys(() => [
  { key: 'ArrowDown', label: 'next slip', run: () => move(1) },
  { key: 'ArrowUp', label: 'slip before', run: () => move(-1), quiet: true },
])
const index = (group: number, i: number) => props.groups.slice(0, group).reduce((n, g) => n + g.slips.length, i)
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
      <p v-if="group.slips.length === 0 && !loading" class="empty">{{ group.empty }}</p>
      <ul>
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
              ><span :class="{ mono: slip.mono }">{{ slip.left }}</span
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
