<script setup lang="ts">
// What an entry comes to before it is captured: findings, budgets that it exceeds, and what it would book.
import { computed } from 'vue'
import type { EntryPreview } from '@/api/client'
import LedgerEntry from '@/parts/LedgerEntry.vue'
import VerdictMark from '@/parts/VerdictMark.vue'

const props = defineProps<{ preview: EntryPreview; what: string; corrects: boolean }>()
const stops = computed(() => props.preview.findings.some((f) => f.verdict === 'outside'))
</script>

<template>
  <h2 v-if="preview.verdict" class="mt-2 mb-1">What it comes to</h2>
  <div v-for="(f, i) in preview.findings" :key="i" class="finding" :class="f.verdict">
    <VerdictMark :verdict="f.verdict" only /> {{ f.sentence }}
  </div>
  <p v-for="w in preview.warnings" :key="w" class="finding within">{{ w }}</p>
  <p v-if="preview.verdict === 'agrees'" class="finding agrees">
    {{ stops ? 'It is not released before that is settled, but otherwise everything' : 'Everything' }} agrees; the
    {{ what.toLowerCase() }} verifies when it is {{ corrects ? 'corrected' : 'captured' }}.
  </p>
  <template v-if="preview.books">
    <h2 class="mt-3 mb-1">What it books</h2>
    <LedgerEntry :entry="preview.books" />
  </template>
</template>
