<script setup lang="ts">
// Another note was just typed than that of a delivery which was begun: which of the two is meant is asked, and neither
// answer is given by one more Enter.
import { onMounted, useTemplateRef } from 'vue'
import { showInstant } from '@/parts/numbers'
import { today } from '@/parts/session'
import { saidOf, type DeliveryDraft } from './count'

defineProps<{ draft: DeliveryDraft; at: string; typed: string }>()
const emit = defineEmits<{ anew: []; goOn: [] }>()
const box = useTemplateRef<HTMLElement>('box')
onMounted(() => box.value?.focus())
</script>

<template>
  <div ref="box" class="nothing" role="alertdialog" aria-labelledby="other-note" tabindex="-1">
    <h1 id="other-note">Another delivery on this order was begun</h1>
    <p>
      {{ showInstant(at, today) }}: {{ saidOf(draft) }}, not booked. You typed note <b class="mono">{{ typed }}</b>.
    </p>
    <p class="d-flex gap-2 justify-content-center">
      <BButton variant="primary" @click="emit('anew')">Begin {{ typed }} anew</BButton>
      <BButton variant="outline-secondary" @click="emit('goOn')">Go on with {{ draft.note }}</BButton>
    </p>
  </div>
</template>
