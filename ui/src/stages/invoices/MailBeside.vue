<script setup lang="ts">
// The mail that an invoice is keyed from, beside it: what it says, and the file that is its paper.
import { computed } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap, type PaperPart } from '@/api/client'
import type { Spot } from '@/parts/spot'
import PaperFile from '@/parts/PaperFile.vue'
import { placeOf } from '@/parts/places'

const props = defineProps<{
  number: number
  part: number
  /** What is shown on the paper. */
  lit?: ({ page: number } & Spot) | undefined
  /** What may be put from it into a field. */
  parts: PaperPart[]
}>()
const { data: mail, error } = useQuery({
  queryKey: ['mails', computed(() => props.number)],
  queryFn: () => unwrap(api.GET('/api/mails/{number}', { params: { path: { number: props.number } } })),
})
const file = computed(() => mail.value?.files.find((f) => f.no === props.part))
</script>

<template>
  <p v-if="error" class="text-danger" role="alert">{{ error.message }}</p>
  <template v-else-if="mail">
    <h2 class="mb-1">
      <RouterLink :to="placeOf.mail(number)">{{ mail.subject || 'A mail without a subject' }}</RouterLink>
    </h2>
    <p class="muted mb-2">{{ mail.senderName }} {{ mail.sender }}</p>
    <p v-if="file" class="mb-2">
      Its paper is
      <a :href="`/api/mails/${number}/files/${file.no}`" class="text-break" download>{{ file.name }}</a>,
      {{ file.kind }}.
    </p>
    <PaperFile
      v-if="file"
      :url="`/api/mails/${number}/files/${file.no}`"
      :name="file.name"
      :kind="file.kind"
      :lit="lit"
      :parts="parts"
    />
    <p v-if="parts.length" class="small muted mt-1 mb-0">
      A click on the paper puts what stands there into the field you are in; Alt+↓ and Alt+↑ go from one to the next,
      Alt+Enter takes it.
    </p>
    <p class="mail-text mt-2">{{ mail.text }}</p>
  </template>
</template>

<style scoped>
.mail-text {
  white-space: pre-wrap;
  overflow-wrap: anywhere;
}
</style>
