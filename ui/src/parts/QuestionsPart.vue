<script setup lang="ts">
// What colleagues ask and tell each other about a document: it is answered, passed on, taken back or seen where it stands.
import { computed, onMounted, ref, watch } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap, type Finding, type Question, type QuestionEntry } from '@/api/client'
import AskForm from './AskForm.vue'
import { useJob } from './job'
import { useKeys } from './keys'
import { showDay, showInstant } from './numbers'
import PickField from './PickField.vue'
import { placeOf } from './places'
import { colleaguesQuery } from './questions'
import { may, today } from './session'
import SmallForm from './SmallForm.vue'
import TextField from './TextField.vue'
import VerdictMark from './VerdictMark.vue'

const props = defineProps<{
  questions: Question[]
  invoice?: number
  order?: number
  /** What stands open on it. */
  findings?: Finding[]
  /** With what a question begins: what of the document it is about. */
  begins?: string
  /** Its supplier can be asked by mail. */
  supplier?: boolean
  /** It may be held back. */
  holds?: boolean
}>()
const emit = defineEmits<{
  /** A panel of it opens: any other closes. */
  opens: []
  /** It is somebody else's turn now. */
  gone: []
}>()
const panel = ref<{ do: 'ask' | 'answer' | 'pass'; number: number }>()
const text = ref('')
const to = ref('')
const { data: colleagues } = useQuery(colleaguesQuery)
const { send, at, trouble, forget, busy } = useJob({ within: '.ask', says: 'all' })
watch(panel, forget)

const open = computed(() => props.questions.filter((q) => q.state !== 'closed' || (q.kind === 'note' && !q.to)))
const earlier = computed(() => props.questions.filter((q) => !open.value.includes(q)))
const said = computed(() => (props.invoice ? `invoice ${props.invoice}` : `order ${props.order}`))
const can = (q: Question, job: string) => q.may.includes(job)
const toAnswer = computed(() => open.value.find((q) => can(q, 'answerQuestion')))
const toSee = computed(() => open.value.find((q) => can(q, 'seeQuestion')))

function show(what: 'ask' | 'answer' | 'pass', number = 0) {
  emit('opens')
  text.value = ''
  to.value = colleagues.value?.[0]?.login ?? ''
  panel.value = { do: what, number }
}
const close = () => (panel.value = undefined)
defineExpose({ close })
onMounted(() => {
  if (toAnswer.value && toAnswer.value.to !== 'the supplier') show('answer', toAnswer.value.number) // who is asked answers at once
})

async function ask(entry: QuestionEntry) {
  const on = props.invoice ? { invoice: props.invoice } : { order: props.order! }
  const asked = await send(() => unwrap(api.POST('/api/questions', { body: { ...entry, ...on } })), {
    after: close,
    done: entry.kind === 'note' ? `The note stands on ${said.value}.` : `The question about ${said.value} is put.`,
  })
  if (asked && entry.waits) emit('gone')
}
const path = (q: Question) => ({ params: { path: { number: q.number } } })
const answer = (q: Question) =>
  send(() => unwrap(api.POST('/api/questions/{number}/answer', { ...path(q), body: { text: text.value } })), {
    after: close,
    done: q.to === 'the supplier' ? 'The answer is noted.' : `${q.by} has your answer about ${said.value}.`,
  })
const pass = (q: Question) =>
  send(
    () => unwrap(api.POST('/api/questions/{number}/pass', { ...path(q), body: { text: text.value, to: to.value } })),
    {
      after: close,
      done: `Passed on to ${colleagues.value?.find((c) => c.login === to.value)?.name ?? to.value}.`,
    },
  )
const takeBack = (q: Question) =>
  send(() => unwrap(api.POST('/api/questions/{number}/taking-back', path(q))), { done: 'It is taken back.' })
const see = (q: Question) => send(() => unwrap(api.POST('/api/questions/{number}/seen', path(q))), { done: 'Seen.' })

const stepWords: Record<string, string> = {
  passed: 'passes it on to',
  answered: 'answers:',
  withdrawn: 'takes it back.',
  settled: 'ends it:',
  seen: 'has seen it.',
}
/** What one does next about it, with one key. */
const next = computed(() =>
  toAnswer.value
    ? { label: 'answer', run: () => show('answer', toAnswer.value!.number) }
    : toSee.value
      ? { label: 'seen', run: () => void see(toSee.value!) }
      : may('askQuestion')
        ? { label: 'ask or note', run: () => show('ask') }
        : undefined,
)
useKeys(() => (next.value ? [{ key: 'q', ...next.value }] : []))
</script>

<template>
  <div class="mb-2">
    <div v-for="q in open" :key="q.number" class="finding" :class="q.late ? 'outside' : 'waiting'">
      <div class="said">
        <span>
          <VerdictMark :verdict="q.late ? 'outside' : 'waiting'" only />
          <b class="ms-1"
            >{{ q.by }}{{ q.kind === 'note' ? '' : ' asks'
            }}{{ q.to ? `${q.kind === 'note' ? ' for' : ''} ${q.to}` : '' }}:</b
          >
          {{ q.text }}
          <span class="muted ms-1"
            >{{ showInstant(q.at, today)
            }}<template v-if="q.waits && q.state === 'open'">, held back till then</template
            ><template v-if="q.late">, to be answered by {{ showDay(q.remindOn, today) }}</template></span
          >
          <span v-for="m in q.replies" :key="m.mail" class="d-block"
            ><b>By mail:</b> {{ m.text.slice(0, 600) }}
            <span v-if="m.stranger" class="outside-text ms-1">{{ m.sender }} is no address of the supplier. </span>
            <RouterLink :to="placeOf.mail(m.mail)">Mail {{ m.mail }}</RouterLink></span
          >
          <span v-for="(s, i) in q.steps" :key="i" class="d-block"
            ><b>{{ s.by }}</b> {{ stepWords[s.what] }} {{ s.to ? `${s.to}. ` : '' }}{{ s.text }}
            <span class="muted">{{ showInstant(s.at, today) }}</span></span
          >
        </span>
        <span class="nowrap">
          <button v-if="can(q, 'answerQuestion')" type="button" class="linkish" @click="show('answer', q.number)">
            {{ q.to === 'the supplier' ? 'Note its answer…' : 'Answer…' }} <kbd v-if="q === toAnswer">Q</kbd>
          </button>
          <button v-if="can(q, 'seeQuestion')" type="button" class="linkish ms-2" :disabled="busy" @click="see(q)">
            Seen <kbd v-if="q === toSee && !toAnswer">Q</kbd>
          </button>
          <button v-if="can(q, 'passQuestion')" type="button" class="linkish ms-2" @click="show('pass', q.number)">
            Pass on…
          </button>
          <button
            v-if="can(q, 'takeBackQuestion')"
            type="button"
            class="linkish ms-2"
            :disabled="busy"
            @click="takeBack(q)"
          >
            Take back
          </button>
        </span>
      </div>
      <SmallForm
        v-if="panel?.number === q.number && panel.do !== 'ask'"
        :action="panel.do === 'answer' ? 'Answer' : 'Pass on'"
        @done="panel.do === 'answer' ? answer(q) : pass(q)"
        @cancel="close"
      >
        <template v-if="panel.do === 'pass'">
          <label for="question-to">To whom</label>
          <PickField
            id="question-to"
            v-model="to"
            :options="(colleagues ?? []).map((c) => ({ value: c.login, text: c.name }))"
          />
        </template>
        <label for="question-text">{{
          panel.do === 'answer'
            ? q.to === 'the supplier'
              ? 'What the supplier says'
              : `What ${q.by} is told`
            : 'A word with it'
        }}</label>
        <TextField id="question-text" v-model="text" autocomplete="off" aria-describedby="question-trouble" />
        <div id="question-trouble" class="small text-danger" role="alert">{{ trouble }}</div>
      </SmallForm>
    </div>
    <p v-if="trouble && !panel" class="outside-text" role="alert">{{ trouble }}</p>
    <details v-if="earlier.length" class="mt-2">
      <summary class="muted">
        {{ earlier.length === 1 ? 'One earlier question or note' : `${earlier.length} earlier questions and notes` }}
      </summary>
      <p v-for="q in earlier" :key="q.number" class="mb-1">
        <b>{{ q.by }}:</b> {{ q.text }} <span class="muted">{{ showInstant(q.at, today) }}</span>
        <span v-for="(s, i) in q.steps" :key="i" class="d-block"
          ><b>{{ s.by }}</b> {{ stepWords[s.what] }} {{ s.to ? `${s.to}. ` : '' }}{{ s.text }}
          <span class="muted">{{ showInstant(s.at, today) }}</span></span
        >
      </p>
    </details>
    <p v-if="may('askQuestion') && panel?.do !== 'ask'" class="mt-2 mb-0">
      <button type="button" class="linkish" @click="show('ask')">
        Ask, or leave a note… <kbd v-if="!toAnswer && !toSee">Q</kbd>
      </button>
    </p>
    <AskForm
      v-if="panel?.do === 'ask'"
      :begins="begins ?? ''"
      :findings="findings ?? []"
      :supplier="!!supplier"
      :holds="!!holds"
      :at="at"
      :trouble="trouble"
      @done="ask"
      @cancel="close"
    />
  </div>
</template>
