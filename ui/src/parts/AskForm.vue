<script setup lang="ts">
// Asks a colleague about a document, with the figures already in the question; or leaves a note for one.
import { computed, watch } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { useRoute } from 'vue-router'
import type { Finding, QuestionEntry } from '@/api/client'
import { useKeptPanel } from './kept'
import NumberField from './NumberField.vue'
import PickField from './PickField.vue'
import { colleaguesQuery } from './questions'
import SmallForm from './SmallForm.vue'
import TickBox from './TickBox.vue'

const props = defineProps<{
  /** What stands open, one of which the question may be about. */
  findings: Finding[]
  /** With what the question begins where none of them is asked about. */
  begins: string
  /** Its supplier can be asked by mail. */
  supplier: boolean
  /** The document may be held back till the answer. */
  holds: boolean
  at: (field: string) => string | undefined
  trouble: string
}>()
const emit = defineEmits<{ done: [entry: QuestionEntry]; cancel: [] }>()
const { data: colleagues } = useQuery(colleaguesQuery)

const first = props.findings.findIndex((f) => !f.accepted)
const fresh = () => ({
  kind: 'question' as QuestionEntry['kind'],
  about: first,
  to: first >= 0 && props.findings[first]!.turn === 'receiver' ? 'role:receiver' : 'role:buyer',
  text: first >= 0 ? `${props.findings[first]!.sentence} ` : props.begins,
  waits: props.holds,
  days: '3',
})
const { draft, kept, send, leave } = useKeptPanel(`ask.${useRoute().path}`, fresh, () => !!props.trouble)
watch(
  () => draft.value.about,
  (now, before) => {
    const sentence = (i: number) => props.findings[i]?.sentence ?? ''
    if (draft.value.text.trim() === sentence(before).trim()) draft.value.text = sentence(now)
  },
)
const roles = ['buyer', 'receiver', 'clerk', 'approver', 'treasurer']
/** It leaves the house: nothing that was proposed for colleagues goes with it. */
const outside = computed(() => draft.value.to === 'role:supplier')
watch(outside, (now) => {
  const proposed = props.findings.some((x) => x.sentence.trim() === draft.value.text.trim())
  if (now && proposed) draft.value.text = ''
})
const note = computed(() => draft.value.kind === 'note')
const to = computed(() => [
  ...(note.value ? [{ value: '', text: 'whoever reads it' }] : []),
  ...(props.supplier && !note.value ? [{ value: 'role:supplier', text: 'the supplier, by mail' }] : []),
  ...roles.map((r) => ({ value: `role:${r}`, text: `a ${r}`.replace('a a', 'an a') })),
  ...(colleagues.value ?? []).map((c) => ({ value: c.login, text: `${c.name}, ${c.roles.join(', ')}` })),
])
/** What is asked is typed after the figures. */
function toEnd(event: FocusEvent) {
  if (event.target instanceof HTMLTextAreaElement)
    event.target.setSelectionRange(event.target.value.length, event.target.value.length)
}
function done() {
  send()
  const { kind, about, to, text, waits, days } = draft.value
  const finding = props.findings[about]
  const role = to.startsWith('role:') ? to.slice(5) : ''
  emit('done', {
    kind,
    text,
    ...(finding ? { finding: finding.kind, line: finding.line } : {}),
    ...(role ? { role } : to ? { person: to } : {}),
    ...(note.value ? {} : { waits: waits && props.holds, remindAfter: Number(days) || 0 }),
  })
}
</script>

<template>
  <SmallForm
    :action="note ? 'Leave the note' : 'Ask'"
    label="Ask a colleague"
    :again="kept"
    @done="done"
    @cancel="(leave(), emit('cancel'))"
  >
    <div class="d-flex flex-wrap gap-3 mb-2">
      <div>
        <label for="ask-kind">What</label>
        <PickField
          id="ask-kind"
          v-model="draft.kind"
          :options="[
            { value: 'question', text: 'a question' },
            { value: 'note', text: 'a note, nothing to answer' },
          ]"
        />
      </div>
      <div>
        <label for="ask-to">{{ note ? 'For' : 'Whom' }}</label>
        <PickField
          id="ask-to"
          v-model="draft.to"
          :options="to"
          :state="at('to') ? false : undefined"
          aria-describedby="ask-trouble"
        />
      </div>
      <div v-if="findings.length">
        <label for="ask-about">About</label>
        <PickField
          id="ask-about"
          v-model="draft.about"
          :options="[
            ...findings.map((_, i) => ({ value: i, text: `difference ${i + 1}` })),
            { value: -1, text: 'all of it' },
          ]"
        />
      </div>
      <div v-if="!note">
        <label for="ask-days">Remind after, days</label>
        <NumberField
          id="ask-days"
          v-model="draft.days"
          label="Remind after, days"
          :error="at('remindAfter')"
          style="width: 120px"
        />
      </div>
    </div>
    <label for="ask-text">{{
      outside
        ? 'What the supplier is asked: it goes out by mail, in its language but for your words'
        : 'For colleagues only; it stays in the history'
    }}</label>
    <BFormTextarea
      id="ask-text"
      v-model="draft.text"
      data-first
      rows="3"
      :state="at('text') ? false : undefined"
      aria-describedby="ask-trouble"
      @focus="toEnd"
    />
    <TickBox v-if="holds && !note" id="ask-waits" v-model="draft.waits" class="mt-1"
      >Hold the invoice back till the answer</TickBox
    >
    <div id="ask-trouble" class="small text-danger" role="alert">{{ trouble }}</div>
  </SmallForm>
</template>
