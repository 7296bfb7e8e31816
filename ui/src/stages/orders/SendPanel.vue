<script setup lang="ts">
// Tells the supplier about an order: shows exactly what goes out, and sends it by mail or notes that it was told otherwise.
import { computed, ref, watch } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { api, unwrap } from '@/api/client'
import PickField from '@/parts/PickField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import TextField from '@/parts/TextField.vue'
import TickBox from '@/parts/TickBox.vue'
import { useJob } from '@/parts/job'
import { tell } from '@/parts/notice'

const props = defineProps<{
  number: number
  kind: 'order' | 'reminder' | 'cancellation' | 'return'
  returned?: number
}>()
const emit = defineEmits<{ done: []; cancel: [] }>()
const client = useQueryClient()
const way = ref<'mail' | 'otherwise'>('mail')
const to = ref('')
const subject = ref('')
const text = ref('')
const prices = ref(true)
const version = ref(0) // of the order whose paper is shown
const { refusal, busy, send } = useJob({
  within: '.ask',
  says: ['', 'from', 'version'],
  faced: async (r) => {
    if (r.problem.kind !== 'changed') return
    await client.invalidateQueries({ queryKey: ['letter', props.number] })
    version.value = letter.value?.version ?? 0 // the paper below is the new one; sending again sends that
  },
})
const titles = {
  order: 'Send the order.',
  reminder: 'Remind the supplier.',
  cancellation: 'Tell the supplier of the cancellation.',
  return: 'Tell the supplier of the return.',
}

const { data: letter, error } = useQuery({
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
    if (!l || subject.value) return
    version.value = l.version
    to.value = l.to
    subject.value = l.subject
    text.value = l.text
    if (!l.to) way.value = 'otherwise'
  },
  { immediate: true },
)
const paper = computed(() =>
  props.kind === 'order'
    ? `/api/orders/${props.number}/pdf?prices=${prices.value}`
    : props.kind === 'return'
      ? `/api/returns/${props.returned}/note`
      : undefined,
)
const state = (f: string) => (refusal.value?.at(f) ? false : undefined)

const tellSupplier = () =>
  send(async () => {
    await unwrap(
      api.POST('/api/orders/{number}/send', {
        params: { path: { number: props.number } },
        body: {
          version: version.value,
          kind: props.kind,
          way: way.value,
          to: to.value,
          subject: subject.value,
          text: text.value,
          prices: prices.value,
          ...(props.returned ? { return: props.returned } : {}),
        },
      }),
    )
    tell(
      way.value === 'mail'
        ? `The mail to ${to.value} is kept with the order, where it shows once it is handed over.`
        : 'Noted with the order as told.',
    )
    await client.invalidateQueries()
    emit('done')
  })
</script>

<template>
  <SmallForm
    class="send"
    :label="titles[kind]"
    :action="way === 'mail' ? 'Send' : 'Note as told'"
    :disabled="busy || !letter"
    @done="tellSupplier"
    @cancel="emit('cancel')"
  >
    <div v-if="error" class="text-danger" role="alert">{{ error.message }}</div>
    <p class="mb-2">
      <b>{{ titles[kind] }}</b> {{ paper ? 'The paper below is exactly what goes out.' : '' }} Every sending is kept
      with the order.
    </p>
    <p v-if="letter?.changes.length" class="mb-2">Changed since the last sending: {{ letter.changes.join('; ') }}.</p>
    <div class="d-flex flex-wrap gap-3 mb-2">
      <div>
        <label for="send-way">How</label>
        <PickField
          id="send-way"
          v-model="way"
          :options="[
            { value: 'mail', text: 'by mail' },
            { value: 'otherwise', text: 'told otherwise' },
          ]"
        />
      </div>
      <div class="flex-grow-1">
        <label for="send-to">{{ way === 'mail' ? 'To' : 'Who was told, and how' }}</label>
        <TextField
          id="send-to"
          v-model="to"
          data-first
          autocomplete="off"
          :state="state('to')"
          aria-describedby="send-to-error"
        />
        <div id="send-to-error" class="small text-danger">{{ refusal?.at('to') }}</div>
        <div v-if="letter?.contact && way === 'mail'" class="small muted">{{ letter.contact }}</div>
      </div>
    </div>
    <template v-if="way === 'mail'">
      <label for="send-subject">Subject</label>
      <TextField
        id="send-subject"
        v-model="subject"
        autocomplete="off"
        :state="state('subject')"
        aria-describedby="send-subject-error"
      />
      <div id="send-subject-error" class="small text-danger">{{ refusal?.at('subject') }}</div>
      <label for="send-text" class="mt-2">Text</label>
      <BFormTextarea id="send-text" v-model="text" rows="5" />
    </template>
    <div v-if="kind === 'order'" class="mt-2 d-flex gap-3">
      <TickBox id="send-prices" v-model="prices">With prices</TickBox>
      <a :href="`/api/orders/${number}/xml`">As UBL (XML)</a>
    </div>
    <div class="text-danger" role="alert">
      {{
        refusal && (!refusal.problem.field || ['from', 'version'].includes(refusal.problem.field))
          ? refusal.message
          : ''
      }}
    </div>
    <template #below>
      <iframe
        v-if="paper"
        :key="version"
        :src="`${paper}#toolbar=0&navpanes=0&view=FitH`"
        class="paper mt-2"
        title="What the supplier gets"
      ></iframe>
      <a v-if="paper" :href="paper" target="_blank" rel="noopener">Open the paper by itself</a>
    </template>
  </SmallForm>
</template>
