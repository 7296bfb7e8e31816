<script setup lang="ts">
import { computed, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap } from '@/api/client'
import AtBankPart from './AtBankPart.vue'
import AskReason from '@/parts/AskReason.vue'
import HistoryFold from '@/parts/HistoryFold.vue'
import LedgerEntry from '@/parts/LedgerEntry.vue'
import FilePick from '@/parts/FilePick.vue'
import NoticeBar from '@/parts/NoticeBar.vue'
import VerdictMark from '@/parts/VerdictMark.vue'
import { useKeys, type KeyAction } from '@/parts/keys'
import { tell, warn } from '@/parts/notice'
import { show, showDay, showInstant, sums } from '@/parts/numbers'
import { today } from '@/parts/session'
import { useArrive } from '@/parts/arrive'
import { useJob } from '@/parts/job'
import { placeOf } from '@/parts/places'
import { askBank, takeFiles, toldOf } from './bank'

const props = defineProps<{ number: number }>()
const arrive = useArrive()
const { data: run, error } = useQuery({
  queryKey: ['run', props.number],
  queryFn: () => unwrap(api.GET('/api/runs/{number}', { params: { path: { number: props.number } } })),
})

const states: Record<string, string> = {
  proposed: 'To be approved by a second person',
  approved: 'Approved; the file is to be sent',
  sent: 'Sent; waits for the bank’s answer',
  answered: 'Answered by the bank',
  discarded: 'Discarded',
  taken_back: 'Taken back before it was sent',
  lost: 'Declared lost: it never reached the bank',
}
const payment: Record<string, { text: string; verdict: 'agrees' | 'waiting' | 'outside' }> = {
  proposed: { text: 'proposed', verdict: 'waiting' },
  approved: { text: 'to be sent', verdict: 'waiting' },
  in_transit: { text: 'in payment', verdict: 'waiting' },
  settled: { text: 'paid', verdict: 'agrees' },
  rejected: { text: 'rejected', verdict: 'outside' },
  discarded: { text: 'discarded', verdict: 'agrees' },
}
const paying = computed(() => (run.value?.payments ?? []).filter((p) => p.endToEnd))
const worth = computed(() => sums(paying.value))
const may = (job: string) => run.value?.may.includes(job) ?? false
const mayApprove = computed(() => may('approveRun'))
const mayDiscard = computed(() => may('discardRun'))
const maySend = computed(() => may('sendRun'))
const mayTakeBack = computed(() => may('takeBackRun'))
const mayLose = computed(() => may('declareRunLost'))
const asking = ref(false)
const mayFetch = computed(() => may('takeBankAnswer'))

const { busy, send: give } = useJob()
/** Payments whose suppliers were not told of them. */
const untold = computed(() =>
  may('adviseRun') ? paying.value.filter((p) => !p.advised && ['in_transit', 'settled'].includes(p.state)).length : 0,
)
const toldState: Record<string, string> = {
  waiting: 'advice on its way',
  sent: 'advice mailed',
  kept: 'advice kept, not mailed',
  failed: 'advice could not be mailed',
}
const act = <T,>(call: () => Promise<T>, done?: string) => give(call, { done })
const advise = () =>
  give(() => unwrap(api.POST('/api/runs/{number}/advise', { params: { path: { number: props.number } } })), {
    done: (t) =>
      `${t.mailed === 1 ? '1 supplier is' : `${t.mailed} suppliers are`} told what is paid.${
        t.silent.length ? ` No mail address is known of ${t.silent.join(', ')}: save the advice and send it.` : ''
      }`,
  })
const body = () => ({ params: { path: { number: props.number } }, body: { version: run.value?.version ?? 0 } })
const changes = ref<string[]>([])
/** Approves the run, or goes to the one that is proposed in its place because something changed. */
const approve = () =>
  act(async () => {
    const made = await unwrap(api.POST('/api/runs/{number}/approve', body()))
    changes.value = made.changes
    if (made.state === 'proposed' && !made.changes.length)
      tell(`Run ${props.number} is approved by you. A second person approves it as well.`)
    else if (!made.changes.length)
      tell(
        `Run ${props.number} is approved: its payment file is written and its invoices are in payment, ${worth.value}.`,
      )
    else if (made.number === props.number)
      warn(new Error(`Run ${props.number} was not approved. ${made.changes.join(' ')}`))
    else
      await arrive(
        placeOf.run(made.number),
        `Run ${props.number} was not approved: ${made.changes.join(' ')} It is proposed again here.`,
      )
  }, '')
const takeBack = (reason: string) =>
  act(async () => {
    const lost = run.value?.state === 'sent'
    const path = lost ? '/api/runs/{number}/lost' : '/api/runs/{number}/take-back'
    const { params, body: seen } = body()
    await unwrap(api.POST(path, { params, body: { ...seen, reason } }))
    asking.value = false
    tell(`Run ${props.number} is ${lost ? 'declared lost' : 'taken back'}; its invoices are released again.`)
  }, '')
const discard = () =>
  act(
    () => unwrap(api.POST('/api/runs/{number}/discard', body())),
    `Run ${props.number} is discarded; its invoices can be paid by another.`,
  )
const send = () =>
  act(
    () => unwrap(api.POST('/api/runs/{number}/send', body())),
    `Run ${props.number} is sent to the bank: ${worth.value}.`,
  )
const fetchAnswer = () => act(async () => tell(toldOf(await askBank(), props.number)), '')
const take = (files: File[]) => act(async () => tell(toldOf(await takeFiles(files), props.number)), '')
useKeys(() => {
  const keys: KeyAction[] = []
  if (mayApprove.value) keys.push({ key: 'Ctrl+Enter', label: 'approve', run: () => void approve() })
  else if (maySend.value) keys.push({ key: 'Ctrl+Enter', label: 'send to the bank', run: () => void send() })
  else if (mayFetch.value)
    keys.push({ key: 'Ctrl+Enter', label: 'fetch the bank’s answer', run: () => void fetchAnswer() })
  if (untold.value) keys.push({ key: 't', label: 'tell the suppliers', run: () => void advise() })
  if (mayDiscard.value) keys.push({ key: 'x', label: 'discard', run: () => void discard() })
  return keys
})
</script>

<template>
  <section class="sheet" aria-label="Payment run">
    <NoticeBar />
    <div v-if="error" class="nothing" role="alert">{{ error.message }}</div>
    <template v-else-if="run">
      <header>
        <div class="headline">
          <h1>
            Payment run <span class="mono fw-medium">{{ run.number }}</span>
          </h1>
          <span class="fw-semibold">{{ states[run.state] }}</span>
        </div>
        <dl class="facts">
          <div>
            <dt>Due by</dt>
            <dd>{{ showDay(run.dueBy, today) }}</dd>
          </div>
          <div>
            <dt>Pay on</dt>
            <dd>
              {{ showDay(run.payOn, today) }}<template v-if="run.urgent">, <b>urgent</b></template>
            </dd>
          </div>
          <div>
            <dt>From</dt>
            <dd class="mono">{{ run.iban }}</dd>
          </div>
          <div>
            <dt>Made</dt>
            <dd>{{ showInstant(run.madeAt, today) }} by {{ run.madeBy }}</dd>
          </div>
          <div v-if="run.firstBy && run.state === 'proposed'">
            <dt>Approved</dt>
            <dd>by {{ run.firstBy }}; a second person approves it as well</dd>
          </div>
          <div v-if="run.approvedAt">
            <dt>Approved</dt>
            <dd>
              {{ showInstant(run.approvedAt, today) }} by {{ run.firstBy ? `${run.firstBy} and ` : ''
              }}{{ run.approvedBy }}
            </dd>
          </div>
        </dl>
      </header>
      <div class="body">
        <table class="grid mb-3">
          <thead>
            <tr>
              <th>Payment to</th>
              <th>Invoices</th>
              <th class="num">Discount</th>
              <th class="num">Amount</th>
              <th>State</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(p, k) in run.payments" :key="p.endToEnd || p.supplier + p.currency">
              <td>
                <b>{{ p.supplier }}</b><template v-if="p.payee">, paid to {{ p.payee }}</template
                ><br />
                <span v-if="p.written" class="small muted">to the bank as “{{ p.written }}”<br /></span
                ><span class="mono muted small">{{ p.iban }}</span>
                <div v-if="p.first" class="small outside-text">first payment to this account</div>
                <div v-if="p.also.length" class="small outside-text">
                  the account belongs to {{ p.also.join(' and ') }} as well
                </div>
              </td>
              <td>
                <div v-for="i in p.items" :key="i.invoice">
                  <RouterLink :to="placeOf.invoice(i.invoice)" class="mono">{{ i.supplierNumber }}</RouterLink>
                  <span class="muted ms-2">{{ show(i.amount) }}{{ i.ahead ? ' · money ahead' : '' }}</span>
                </div>
                <div v-for="(n, j) in p.nettings" :key="`n${j}`" class="small">
                  <RouterLink :to="placeOf.invoice(n.credit)" class="mono">{{ n.creditNumber }}</RouterLink>
                  {{ show(n.amount) }} taken off
                  <RouterLink :to="placeOf.invoice(n.invoice)" class="mono">{{ n.supplierNumber }}</RouterLink>
                </div>
              </td>
              <td class="num">
                <div v-for="i in p.items" :key="i.invoice">{{ Number(i.discount) ? show(i.discount) : ' ' }}</div>
              </td>
              <td class="num">
                <b>{{ p.endToEnd ? `${show(p.amount)} ${p.currency}` : 'nothing to pay' }}</b>
              </td>
              <td>
                <VerdictMark
                  :verdict="payment[p.state]!.verdict"
                  :text="p.endToEnd || p.state !== 'settled' ? payment[p.state]!.text : 'settled by credit'"
                />
                <div v-if="p.reason" class="small text-danger">{{ p.reason }}</div>
                <div v-if="p.endToEnd && ['in_transit', 'settled'].includes(p.state)" class="small">
                  <a :href="`/api/runs/${run.number}/advices/${k + 1}`" download class="d-inline-block py-1">{{
                    toldState[p.advised] ?? 'advice'
                  }}</a>
                </div>
              </td>
            </tr>
          </tbody>
        </table>
        <AskReason
          v-if="asking"
          id="run-back"
          :title="run.state === 'sent' ? 'The file never reached the bank.' : 'Take the run back before it is sent.'"
          :books="
            run.state === 'sent'
              ? 'Ask the bank first: if it has the file, everything is paid twice. The payments are undone and the invoices released again.'
              : 'The payments are undone by counter-entries and the invoices released again.'
          "
          label="Why"
          :action="run.state === 'sent' ? 'Declare it lost' : 'Take it back'"
          @done="takeBack"
          @cancel="asking = false"
        />
        <AtBankPart v-if="run.atBank" :at="run.atBank" :run="run.number" />
        <details v-if="run.entries.length">
          <summary class="mb-2">Ledger: {{ run.entries.length }} entries</summary>
          <LedgerEntry v-for="e in run.entries" :key="e.number" :entry="e" />
        </details>
        <HistoryFold :key="run.number" subject="run" :number="run.number" />
      </div>
      <div class="bar">
        <BButton v-if="mayApprove" variant="primary" :disabled="busy" @click="approve">Approve</BButton>
        <BButton v-if="maySend" variant="primary" :disabled="busy" @click="send">Send to the bank</BButton>
        <BButton
          v-if="mayFetch"
          :variant="maySend ? 'outline-secondary' : 'primary'"
          :disabled="busy"
          @click="fetchAnswer"
          >Fetch the bank’s answer</BButton
        >
        <FilePick v-if="mayFetch" label="The bank’s answer" accept=".xml" multiple :disabled="busy" @files="take"
          >Take an answer from a file</FilePick
        >
        <BButton v-if="untold" variant="outline-secondary" :disabled="busy" @click="advise">Tell the suppliers</BButton>
        <BButton v-if="mayDiscard" variant="outline-secondary" :disabled="busy" @click="discard">Discard</BButton>
        <BButton v-if="mayTakeBack" variant="outline-secondary" :disabled="busy" @click="asking = true"
          >Take it back…</BButton
        >
        <BButton v-if="mayLose" variant="outline-secondary" :disabled="busy" @click="asking = true"
          >It never reached the bank…</BButton
        >
        <a v-if="may('getRunFile')" :href="`/api/runs/${run.number}/file`" download>Save the payment file (pain.001)</a>
        <span class="sum"
          >{{ paying.length === 1 ? '1 payment' : `${paying.length} payments`
          }}<template v-if="worth"
            >, <b>{{ worth }}</b></template
          ><template v-if="run.mine && run.state === 'proposed'"
            >. It is your own: somebody else approves it.</template
          ></span
        >
      </div>
    </template>
  </section>
</template>
