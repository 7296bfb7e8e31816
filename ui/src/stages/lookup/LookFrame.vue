<script setup lang="ts">
// A page of what can be looked up: what else there is on the left, its title and what it says, and what goes wrong with it.
import NoticeBar from '@/parts/NoticeBar.vue'
import ListRail from './ListRail.vue'

defineProps<{
  /** What the page is, where its title says which one. */
  label?: string
  title: string
  says?: string
  error?: Error | null | undefined
  /** What it shows is here. */
  ready: boolean
}>()
</script>

<template>
  <main class="desk looks">
    <ListRail />
    <section class="sheet" :aria-label="label ?? title">
      <NoticeBar />
      <div v-if="error" class="nothing" role="alert">{{ error.message }}</div>
      <slot v-else-if="!ready" name="waiting"></slot>
      <template v-else>
        <header>
          <div class="headline">
            <h1>{{ title }}</h1>
            <span v-if="says" class="muted small">{{ says }}</span>
            <slot name="head"></slot>
          </div>
        </header>
        <div class="body" tabindex="0"><slot></slot></div>
        <slot name="foot"></slot>
      </template>
    </section>
    <slot name="side"></slot>
  </main>
</template>
