<script setup lang="ts">
// Photographs of the goods, taken or dropped. They are made smaller here before they are sent and kept.
import { ref } from 'vue'
import { upload, type Photo } from '@/api/client'
import FilePick from '@/parts/FilePick.vue'

const props = defineProps<{ disabled?: boolean }>()
const photos = defineModel<{ sha256: string; picture: string }[]>({ required: true })
const trouble = ref('')
const busy = ref(0)
const edge = 1600
const thumb = 160

async function drawn(file: File, most: number): Promise<HTMLCanvasElement> {
  const picture = await createImageBitmap(file)
  const scale = Math.min(1, most / Math.max(picture.width, picture.height))
  const canvas = document.createElement('canvas')
  canvas.width = Math.max(1, Math.round(picture.width * scale))
  canvas.height = Math.max(1, Math.round(picture.height * scale))
  canvas.getContext('2d')!.drawImage(picture, 0, 0, canvas.width, canvas.height)
  picture.close()
  return canvas
}

async function take(files: FileList | File[] | null | undefined) {
  trouble.value = ''
  for (const file of files ?? []) {
    busy.value++
    try {
      const large = await drawn(file, edge).catch(() => undefined)
      if (!large) {
        trouble.value = `${file.name} is no picture that can be shown here.`
        continue
      }
      const blob = await new Promise<Blob | null>((done) => large.toBlob(done, 'image/jpeg', 0.82))
      if (!blob) continue
      const name = file.name.replace(/\.\w+$/, '') + '.jpg'
      const kept = await upload<Photo>('/api/photos', [new File([blob], name, { type: 'image/jpeg' })])
      if (!photos.value.some((p) => p.sha256 === kept.sha256))
        photos.value.push({ sha256: kept.sha256, picture: (await drawn(file, thumb)).toDataURL('image/jpeg', 0.7) })
    } catch (e) {
      trouble.value = (e as Error).message
    } finally {
      busy.value--
    }
  }
}
defineExpose({ take })
</script>

<template>
  <div
    class="photos"
    @dragover.prevent
    @drop.prevent="(e: DragEvent) => !props.disabled && void take(e.dataTransfer?.files)"
  >
    <figure v-for="(p, i) in photos" :key="p.sha256">
      <img :src="p.picture" :alt="`Photograph ${i + 1}`" />
      <button type="button" class="linkish" :aria-label="`Leave out photograph ${i + 1}`" @click="photos.splice(i, 1)">
        Leave out
      </button>
    </figure>
    <FilePick
      v-if="!disabled"
      id="delivery-photos"
      label="Photographs"
      accept="image/*"
      multiple
      camera
      size="sm"
      @files="take"
      >Add photographs…</FilePick
    >
    <span class="muted small">{{ busy ? 'Making them smaller…' : 'or drop them here' }}</span>
    <div class="small text-danger" role="alert">{{ trouble }}</div>
  </div>
</template>
