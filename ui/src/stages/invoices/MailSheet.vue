<script setup lang="ts">
// A mail: what it says and carries, what became of each file, and what is left to do with it.
import { computed, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import { api, unwrap } from '@/api/client'
import HistoryList from '@/parts/HistoryList.vue'
import NoticeBar from '@/parts/NoticeBar.vue'
import SmallForm from '@/parts/SmallForm.vue'
import EntryField from '@/parts/EntryField.vue'
import PaperFile from '@/parts/PaperFile.vue'
import { useDraft } from '@/parts/draft'
import { useJob } from '@/parts/job'
import { useKeys } from '@/parts/keys'
import { size, showInstant } from '@/parts/numbers'
import { placeOf } from '@/parts/places'
import { today } from '@/parts/session'

const props = defineProps<{ number: number }>()
const router = useRouter()
const { data: mail, error } = useQuery({
  queryKey: ['mails', computed(() => props.number)],
  queryFn: () => unwrap(api.GET('/api/mails/{number}', { params: { path: { number: props.number } } })),
})
const may = (job: string) => mail.value?.may.includes(job) ?? false
const path = computed(() => ({ path: { number: props.number } }))
const filing = ref(false)
const { draft, clear } = useDraft(`mail.${props.number}`, () => ({ order: '', supplier: '', note: '' }))
const { send, at, refusal, busy } = useJob({ within: '.ask' })
const file = () =>
  send(
    () => {
      const { order, supplier, note } = draft.value
      const body = { note, supplier, ...(order.trim() ? { order: Number(order) || -1 } : {}) }
      return unwrap(api.POST('/api/mails/{number}/filing', { params: path.value, body }))
    },
    {
      after: () => {
        clear()
        filing.value = false
      },
      done: `Mail ${props.number} is filed.`,
    },
  )
const open = () =>
  send(() => unwrap(api.POST('/api/mails/{number}/opening', { params: path.value })), {
    done: `Mail ${props.number} is to be looked at again.`,
  })
const answering = ref(false)
const { draft: words, clear: answered } = useDraft(`mail.answer.${props.number}`, () => ({ text: '' }))
const answer = () =>
  send(() => unwrap(api.POST('/api/mails/{number}/answer', { params: path.value, body: { text: words.value.text } })), {
    after: () => {
      answered()
      answering.value = false
    },
    done: `Mail ${props.number} is answered and put away.`,
  })
const carried: Record<string, string> = {
  waiting: 'goes out now',
  sent: 'sent',
  kept: 'kept, there is no mail server',
  failed: 'could not be sent',
}
function putAway() {
  if (!draft.value.supplier && mail.value?.suppliers.length === 1) draft.value.supplier = mail.value.suppliers[0]!
  answering.value = false
  filing.value = true
}
/** Keys an invoice from the mail, with the first file that is left as its paper. */
function key(part = mail.value?.left[0] ?? 0) {
  const supplier = mail.value?.suppliers.length === 1 ? mail.value.suppliers[0]! : ''
  void router.push(placeOf.keyingFromMail(props.number, part, supplier))
}
const states: Record<string, string> = {
  open: 'not an invoice, or not only?',
  done: 'dealt with',
  filed: 'filed',
  noise: 'written by a machine',
}
const decided: Record<string, string> = { filed: 'Filed', keyed: 'Keyed', opened: 'Opened again' }
/** The PDF or picture that stands beside the mail: the first of which nothing became yet. */
const paper = computed(() => {
  const all = mail.value?.files.filter((f) => /^a (PDF|picture)/.test(f.kind) && f.size) ?? []
  return all.find((f) => left(f.no)) ?? all[0]
})
const left = (no: number) => mail.value?.left.includes(no) ?? false
useKeys(() => [
  ...(may('keyInvoice') ? [{ key: 'k', label: 'key an invoice from it', run: () => key() }] : []),
  ...(may('answerMail')
    ? [{ key: 'a', label: 'answer it', run: () => void ((filing.value = false), (answering.value = true)) }]
    : []),
  ...(may('fileMail') ? [{ key: 'p', label: 'put it away', run: putAway }] : []),
  ...(may('openMail') ? [{ key: 'o', label: 'open it again', run: () => void open() }] : []),
])
</script>

<template>
  <section class="sheet" aria-label="Mail">
    <NoticeBar />
    <div v-if="error" class="nothing" role="alert">{{ error.message }}</div>
    <template v-else-if="mail">
      <header>
        <div class="headline">
          <h1>{{ mail.subject || 'A mail without a subject' }}</h1>
          <span class="fw-semibold">{{
            mail.state === 'open' && !mail.sender ? 'to be keyed' : states[mail.state]
          }}</span>
        </div>
        <dl class="facts">
          <div>
            <dt>From</dt>
            <dd>
              {{ mail.senderName }} <span class="mono">{{ mail.sender || 'nobody that can be read' }}</span>
            </dd>
          </div>
          <div v-if="mail.suppliers.length">
            <dt>Address of</dt>
            <dd>
              <RouterLink v-for="s in mail.suppliers" :key="s" :to="placeOf.supplier(s)" class="mono me-2">{{
                s
              }}</RouterLink>
            </dd>
          </div>
          <div v-if="mail.sentAt">
            <dt>Sent</dt>
            <dd>{{ showInstant(mail.sentAt, today) }}</dd>
          </div>
          <div>
            <dt>Taken in</dt>
            <dd>{{ showInstant(mail.takenAt, today) }}</dd>
          </div>
        </dl>
      </header>
      <div class="body" tabindex="0">
        <SmallForm
          v-if="answering"
          label="Answer the mail"
          action="Send the answer"
          :disabled="busy"
          @done="answer"
          @cancel="answering = false"
        >
          <label for="mail-answer"
            >Goes to {{ mail.sender }} under your name and the company’s; the mail is then put away</label
          >
          <BFormTextarea
            id="mail-answer"
            v-model="words.text"
            rows="6"
            :state="at('text') ? false : undefined"
            aria-describedby="mail-answer-trouble"
          />
          <div id="mail-answer-trouble" class="small text-danger" role="alert">
            {{ at('text') ?? at('from') ?? at('') }}
          </div>
        </SmallForm>
        <SmallForm
          v-if="filing"
          label="Put the mail away"
          action="Put it away"
          :disabled="busy"
          @done="file"
          @cancel="filing = false"
        >
          <p class="mb-2">
            <b>Put it away.</b> It is kept and found by its words; under an order it stands in the order’s thread. It
            can be opened again.
          </p>
          <div class="d-flex flex-wrap gap-3">
            <EntryField
              id="mail-order"
              v-model="draft.order"
              label="Paper of order"
              class="mono"
              :error="at('order')"
            />
            <EntryField
              id="mail-supplier"
              v-model="draft.supplier"
              label="or of supplier (code)"
              class="mono"
              :error="at('supplier')"
            />
            <div style="flex: 1 1 220px">
              <EntryField id="mail-note" v-model="draft.note" label="What it is" :error="at('note')" />
            </div>
          </div>
          <div class="small text-danger" role="alert">
            {{ refusal && !refusal.problem.field ? refusal.message : '' }}
          </div>
        </SmallForm>
        <p v-if="mail.leftOut" class="outside-text">
          Something of it could not be read: it is damaged, too large or nested too deep. The mail itself is kept whole.
        </p>
        <table v-if="mail.files.length" class="grid mb-3">
          <thead>
            <tr>
              <th class="named">File</th>
              <th>What it is</th>
              <th class="num">Size</th>
              <th>What became of it</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="f in mail.files" :key="f.no">
              <td>
                <a v-if="f.size" :href="`/api/mails/${number}/files/${f.no}`" class="text-break" download>{{
                  f.name
                }}</a>
                <span v-else class="text-break">{{ f.name }}</span>
              </td>
              <td>{{ f.kind }}</td>
              <td class="num">{{ f.size ? size(f.size) : '' }}</td>
              <td>
                <RouterLink v-if="f.invoice" :to="placeOf.invoice(f.invoice)">Invoice {{ f.invoice }}</RouterLink>
                <template v-else>
                  <span class="muted">{{ f.said }}</span>
                  <button
                    v-if="left(f.no) && may('keyInvoice')"
                    type="button"
                    class="linkish d-block"
                    @click="key(f.no)"
                  >
                    Key an invoice from it
                  </button>
                </template>
              </td>
            </tr>
          </tbody>
        </table>
        <p v-if="mail.text" class="mail-text">{{ mail.text }}</p>
        <p v-else class="muted">It has no text.</p>
        <blockquote v-for="(a, i) in mail.answers" :key="i" class="mail-text">
          <b>{{ a.by }}, {{ showInstant(a.at, today) }}, to {{ a.to }}</b>
          <span class="muted ms-1">{{ carried[a.state] ?? a.state }}{{ a.trouble ? `: ${a.trouble}` : '' }}</span
          ><br />{{ a.text }}
        </blockquote>
        <ul v-if="mail.decisions.length" class="plain">
          <li v-for="(d, i) in mail.decisions" :key="i">
            {{ decided[d.what] ?? d.what }}, {{ showInstant(d.at, today) }} by {{ d.by }}.
            <RouterLink v-if="d.order" :to="placeOf.order(d.order)">Order {{ d.order }}</RouterLink>
            <RouterLink v-else-if="d.supplier" :to="placeOf.supplier(d.supplier)">{{ d.supplier }}</RouterLink>
            <RouterLink v-if="d.invoice" class="ms-1" :to="placeOf.invoice(d.invoice)"
              >Invoice {{ d.invoice }}</RouterLink
            >
            {{ d.note }}
          </li>
        </ul>
        <p>
          <a :href="`/api/mails/${number}/files/0`" download>Save the mail as it came</a>
        </p>
      </div>
      <div class="bar">
        <BButton v-if="may('keyInvoice')" variant="primary" @click="key()">Key an invoice from it</BButton>
        <BButton v-if="may('answerMail')" variant="outline-secondary" @click="((filing = false), (answering = true))"
          >Answer it…</BButton
        >
        <BButton v-if="may('fileMail')" variant="outline-secondary" @click="putAway">Put it away…</BButton>
        <BButton v-if="may('openMail')" variant="outline-secondary" :disabled="busy" @click="open"
          >Open it again</BButton
        >
      </div>
    </template>
  </section>
  <aside class="side" aria-label="Evidence">
    <template v-if="mail">
      <PaperFile
        v-if="paper"
        :key="paper.no"
        :url="`/api/mails/${number}/files/${paper.no}`"
        :name="paper.name"
        :kind="paper.kind"
        class="mb-3"
      />
      <HistoryList :key="number" subject="mail" :number="number" />
    </template>
  </aside>
</template>

<style scoped>
.mail-text {
  white-space: pre-wrap;
  overflow-wrap: anywhere;
  max-width: 72ch;
}
</style>
