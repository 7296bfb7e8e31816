<script setup lang="ts">
// A file as it came, where it is one that eyes read: a PDF or a picture. Of any other nothing is shown.
import { computed } from 'vue'
import type { PaperPart } from '@/api/client'
import PdfPaper from './PdfPaper.vue'
import type { Spot } from './spot'
import PicturePaper from './PicturePaper.vue'

const props = defineProps<{
  url: string
  name: string
  /** What it is, in words or by its media type. */
  kind: string
  /** A place to be shown: on which page, in thousandths of it. */
  lit?: ({ page: number } & Spot) | undefined
  /** What may be put from it into a field. */
  parts?: PaperPart[] | undefined
}>()
const isPdf = computed(() => /pdf/i.test(props.kind))
const isPicture = computed(() => /^(a picture|image\/)/.test(props.kind))
</script>

<template>
  <PdfPaper v-if="isPdf" :url="url" :name="name" :lit="lit" :parts="parts" />
  <PicturePaper v-else-if="isPicture" :url="url" :name="name" :kind="kind" :lit="lit" :parts="parts" />
</template>
