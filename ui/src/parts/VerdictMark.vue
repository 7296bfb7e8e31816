<script setup lang="ts">
import type { Verdict } from '@/api/client'

defineProps<{ verdict: Verdict; text?: string; only?: boolean }>()
const words: Record<Verdict, string> = {
  agrees: 'agrees',
  within: 'within limit',
  outside: 'outside',
  waiting: 'waiting',
}
</script>

<template>
  <span class="verdict" :class="verdict">
    <svg viewBox="0 0 12 12" aria-hidden="true">
      <circle v-if="verdict === 'agrees'" cx="6" cy="6" r="5" fill="currentColor" />
      <template v-else-if="verdict === 'within'">
        <circle cx="6" cy="6" r="4.5" fill="none" stroke="currentColor" stroke-width="1.6" />
        <path d="M6 1.5a4.5 4.5 0 0 1 0 9z" fill="currentColor" />
      </template>
      <path v-else-if="verdict === 'outside'" d="M6 .8 11.4 11H.6z" fill="currentColor" />
      <circle
        v-else
        cx="6"
        cy="6"
        r="4.5"
        fill="none"
        stroke="currentColor"
        stroke-width="1.6"
        stroke-dasharray="2.4 1.6"
      />
    </svg>
    <span :class="{ 'visually-hidden': only }">{{ text ?? words[verdict] }}</span>
  </span>
</template>
