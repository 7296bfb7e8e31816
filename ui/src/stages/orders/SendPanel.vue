<script setup lang="ts">
// Tells the supplier about an order: shows exactly what goes out, and sends it by mail or notes that it was told otherwise.
import { computed, ref, watch } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { api, unwrap } from '@/api/client'
import { useBeginning } from '@/parts/beginning'
import SmallForm from '@/parts/SmallForm.vue'
import TickBox from '@/parts/TickBox.vue'
import { useJob } from '@/parts/job'
import { useKept } from '@/parts/kept'
import { tell } from '@/parts/notice'
import PapersAlong from './PapersAlong.vue'
import LetterFields from '@/parts/LetterFields.vue'
import { proposed, told, type Telling } from '@/parts/telling'

const props = defineProps<{
  number: number
  kind: 'order' | 'reminder' | 'cancellation' | 'return'
  returned?: number
}>()
const emit = defineEmits<{ done: []; cancel: [] }>()
const client = useQueryClient()
const version = ref(0) // of the order whose paper is shown
const telling = ref<Telling>() // nothing yet
const { again, done: kept } = useKept(telling, () => `letter.${props.number}.${props.kind}.${version.value}`)
const {
  refusal,
  busy,
  send,
  at: problem,
} = useJob({
  within: '.ask',
  says: ['', 'from', 'version'],
  faced: async (r) => {
    if (r.problem.kind !== 'changed') return
    await client.invalidateQueries({ queryKey: ['letter', props.number] })
    version.value = letter.value?.version ?? 0 // the paper shown is the new one; sending again sends that
  },
})
const titles = {
  order: 'Send the order.',
  reminder: 'Remind the supplier.',
  cancellation: 'Tell the supplier of the cancellation.',
  return: 'Tell the supplier of the return.',
}

const { data: letter, error } = useBeginning({
  queryKey: ['letter', props.number, props.kind, props.returned],
  queryFn: () =>
    unwrap(
      api.GET('/api/orders/{number}/letter', {
        params: {
          path: { number: props.number },
          query: { kind: props.kind, ...(props.returned ? { return: props.returned } : {}) },
        },
      }),
    ),
})
watch(
  letter,
  (l) => {
    if (!l || telling.value) return
    version.value = l.version
    telling.value = proposed(l)
  },
  { immediate: true },
)
const paper = computed(() =>
  props.kind === 'order'
    ? `/api/orders/${props.number}/pdf?prices=${telling.value?.prices ?? true}`
    : props.kind === 'return'
      ? `/api/returns/${props.returned}/note`
      : undefined,
)

function tellSupplier() {
  const said = telling.value
  if (!said) return
  void send(async () => {
    await unwrap(
      api.POST('/api/orders/{number}/send', {
        params: { path: { number: props.number } },
        body: {
          version: version.value,
          kind: props.kind,
          ...said,
          ...(props.returned ? { return: props.returned } : {}),
        },
      }),
    )
    kept()
    tell(told(said))
    await client.invalidateQueries()
    emit('done')
  })
}
</script>

<template>
  <div class="letter">
    <div v-if="error" class="text-danger" role="alert">{{ error.message }}</div>
    <SmallForm
      v-if="telling"
      class="send"
      :label="titles[kind]"
      :action="telling.way === 'otherwise' ? 'Note as told' : 'Send'"
      :again="again"
      :disabled="busy"
      @done="tellSupplier"
      @cancel="emit('cancel')"
    >
      <p class="mb-2">
        <b>{{ titles[kind] }}</b> {{ paper ? 'The paper shown is exactly what goes out.' : '' }} Every sending is kept
        with the order.
      </p>
      <p v-if="letter?.changes.length" class="mb-2">Changed since the last sending: {{ letter.changes.join('; ') }}.</p>
      <LetterFields v-model="telling" :contact="letter?.contact ?? ''" :problem="problem" />
      <PapersAlong v-model="telling.papers" :papers="letter?.papers ?? []" :problem="problem('papers')" />
      <div v-if="kind === 'order'" class="mt-2 d-flex gap-3">
        <TickBox id="send-prices" v-model="telling.prices">With prices</TickBox>
        <a :href="`/api/orders/${number}/xml`">As UBL (XML)</a>
      </div>
      <div class="text-danger" role="alert">
        {{
          refusal && (!refusal.problem.field || ['from', 'version'].includes(refusal.problem.field))
            ? refusal.message
            : ''
        }}
      </div>
      <template #below
        ><div>
          <iframe
            v-if="paper"
            :key="version"
            :src="`${paper}#toolbar=0&navpanes=0&view=FitH`"
            class="paper mt-2"
            title="What the supplier gets"
          ></iframe>
          <a v-if="paper" :href="paper" target="_blank" rel="noopener">Open the paper by itself</a>
        </div></template
      >
    </SmallForm>
  </div>
</template>
