<script setup lang="ts">
// The papers that are kept with a document or with what is ordered: put there, looked at, saved, taken away.
import { computed, ref } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { api, unwrap, type KeptPaper } from '@/api/client'
import FilePick from './FilePick.vue'
import PaperFile from './PaperFile.vue'
import { keepPaper, type KeptWith } from './papers'
import { useJob } from './job'
import { tell } from './notice'
import { showInstant, size } from './numbers'
import { may, today } from './session'

const props = defineProps<{
  on: KeptWith['on']
  of: number | string
  /** What it says where there is none. */
  none?: string
}>()
const client = useQueryClient()
const query = computed(() => ({ on: props.on, of: String(props.of) }))
const { data, error } = useQuery({
  queryKey: ['papers', query],
  queryFn: () => unwrap(api.GET('/api/papers', { params: { query: query.value } })),
})
const shown = ref<number>()
const trouble = ref('')
const { send, busy } = useJob({ says: 'all' })
const over = ref(false)
/** Each file by itself: one that is refused keeps no other out. */
async function take(files: Iterable<File> | null | undefined) {
  over.value = false
  const refused: string[] = []
  let kept = 0
  for (const file of files ?? []) {
    try {
      await keepPaper(query.value, file)
      kept++
    } catch (e) {
      refused.push((e as Error).message)
    }
  }
  trouble.value = refused.join(' ')
  if (kept) tell(kept === 1 ? 'The paper is kept with it.' : `${kept} papers are kept with it.`)
  await client.invalidateQueries()
}
const away = (p: KeptPaper) =>
  send(() => unwrap(api.POST('/api/papers/{number}/away', { params: { path: { number: p.number } } })), {
    done: `${p.name} is taken away. It stays in the books and in the mails that it went with.`,
    after: () => (shown.value = undefined),
  })
const viewed = computed(() => data.value?.papers.find((p) => p.number === shown.value))
const canBeSeen = (p: KeptPaper) => /pdf|^image\//.test(p.kind)
</script>

<template>
  <section
    aria-label="Papers that are kept with it"
    class="kept-papers"
    :class="{ over }"
    @dragover.prevent.stop="over = may('attachPaper')"
    @dragleave="over = false"
    @drop.prevent.stop="(e: DragEvent) => may('attachPaper') && void take(e.dataTransfer?.files)"
  >
    <h2 class="mb-1">
      Papers kept with it
      <FilePick
        v-if="may('attachPaper')"
        link
        multiple
        label="Papers to be kept with it"
        accept=".pdf,.png,.jpg,.jpeg,.tif,.tiff,.xml,.csv,.txt,.docx,.xlsx,.odt,.ods"
        @files="take"
        >Add a paper…</FilePick
      >
    </h2>
    <p v-if="error" class="text-danger">{{ error.message }}</p>
    <p v-if="trouble" class="text-danger mb-1" role="alert">{{ trouble }}</p>
    <p v-if="data && !data.papers.length && none" class="muted mb-2">{{ none }}</p>
    <ul v-if="data?.papers.length" class="plain mb-2">
      <li v-for="p in data.papers" :key="p.number">
        <button
          v-if="canBeSeen(p)"
          type="button"
          class="linkish name"
          :aria-expanded="shown === p.number"
          @click="shown = shown === p.number ? undefined : p.number"
        >
          {{ p.name }}
        </button>
        <span v-else>{{ p.name }}</span>
        <span class="muted ms-1">{{ p.said }}, {{ size(p.size) }} · {{ p.by }}, {{ showInstant(p.at, today) }}</span>
        <template v-if="p.note"> · {{ p.note }}</template>
        <a class="linkish ms-2" :href="`/api/papers/${p.number}`" download :aria-label="`Save ${p.name}`">Save</a>
        <button
          v-if="p.may"
          type="button"
          class="linkish ms-2"
          :aria-label="`Take away ${p.name}`"
          :disabled="busy"
          @click="away(p)"
        >
          Take away
        </button>
      </li>
    </ul>
    <PaperFile
      v-if="viewed"
      :key="viewed.number"
      :url="`/api/papers/${viewed.number}`"
      :name="viewed.name"
      :kind="viewed.kind"
      class="mb-3"
    />
  </section>
</template>

<style scoped>
.kept-papers .linkish.name {
  margin-left: 0;
}
.kept-papers :deep(.paper-frame) {
  max-width: 760px; /* a page is read, not spread over the desk */
}
.kept-papers.over {
  outline: 2px dashed var(--bs-primary);
  outline-offset: 4px;
}
</style>
