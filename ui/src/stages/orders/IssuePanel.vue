<script setup lang="ts">
// What goes out once an order is issued, to be looked at before: one act issues it and tells the supplier.
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import type { FirstSending, Outgoing } from '@/api/client'
import SmallForm from '@/parts/SmallForm.vue'
import TickBox from '@/parts/TickBox.vue'
import PapersAlong from './PapersAlong.vue'
import LetterFields from '@/parts/LetterFields.vue'
import { useKeptPanel } from '@/parts/kept'
import { proposed, type Telling } from '@/parts/telling'

const props = defineProps<{ letter: Outgoing; busy: boolean; problem: (field: string) => string | undefined }>()
const emit = defineEmits<{
  issue: [send: FirstSending | undefined, telling: Telling]
  prices: [on: boolean]
  cancel: []
}>()
// What is changed in the letter is kept while it is about the same order as it was proposed.
const fresh = () => ({ on: JSON.stringify(proposed(props.letter)), telling: proposed(props.letter) })
const { draft, kept, send, leave } = useKeptPanel(`issue.${useRoute().path}`, fresh, () => !!props.problem(''))
const again = kept && draft.value.on === fresh().on
if (!again) draft.value = fresh()
else if (draft.value.telling.prices !== fresh().telling.prices) emit('prices', draft.value.telling.prices) // the paper is as it goes out
const telling = computed({ get: () => draft.value.telling, set: (t) => (draft.value.telling = t) })
watch(
  () => telling.value.prices,
  (on) => emit('prices', on),
)
/** Another number is free than the one that was looked at: subject and text bear it from now on. */
watch(
  () => props.letter.number,
  (now, before) => {
    telling.value.subject = telling.value.subject.replaceAll(String(before), String(now))
    telling.value.text = telling.value.text.replaceAll(String(before), String(now))
  },
)
const made = ref('')
watch(
  () => props.letter.paper,
  (paper) => {
    URL.revokeObjectURL(made.value)
    const bytes = Uint8Array.from(atob(paper), (c) => c.charCodeAt(0))
    made.value = URL.createObjectURL(new Blob([bytes], { type: 'application/pdf' }))
  },
  { immediate: true },
)
onBeforeUnmount(() => URL.revokeObjectURL(made.value))
const paper = computed(() => `${made.value}#toolbar=0&navpanes=0&view=FitH`)
/** Nobody is named to be told: the order is only issued. */
const later = computed(() => telling.value.way === 'otherwise' && telling.value.to.trim() === '')
const both = () => {
  send()
  emit('issue', later.value ? undefined : { ...telling.value, number: props.letter.number }, telling.value)
}
function only() {
  send()
  emit('issue', undefined, telling.value)
}
const action = computed(() => {
  if (telling.value.way === 'mail') return 'Issue and send'
  return later.value ? 'Issue, and tell them later' : 'Issue, and note as told'
})
</script>

<template>
  <div class="letter">
    <SmallForm
      class="send"
      label="Issue and send the order"
      :action="action"
      :disabled="busy"
      :again="again"
      @done="both"
      @cancel="(leave(), emit('cancel'))"
    >
      <p class="mb-2">
        <b>Issue order {{ letter.number }} and send it.</b> The paper shown is exactly what goes out.
        <button type="button" class="linkish" @click="only">Issue it without sending</button>
      </p>
      <LetterFields v-model="telling" :contact="letter.contact" :problem="problem" />
      <PapersAlong v-model="telling.papers" :papers="letter.papers" :problem="problem('papers')" />
      <TickBox id="send-prices" v-model="telling.prices" class="mt-2">With prices</TickBox>
      <div class="text-danger" role="alert">{{ problem('send') ?? problem('from') }}</div>
      <template #below
        ><div>
          <iframe :key="made" :src="paper" class="paper mt-2" title="What the supplier gets"></iframe></div
      ></template>
    </SmallForm>
  </div>
</template>
