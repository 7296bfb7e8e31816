<script setup lang="ts">
// Our account at the bank: what it booked and nobody has placed, what no statement shows yet, and whether bank and ledger agree.
import { computed, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap } from '@/api/client'
import { bankQuery } from '@/api/queries'
import FilePick from '@/parts/FilePick.vue'
import NoticeBar from '@/parts/NoticeBar.vue'
import SmallForm from '@/parts/SmallForm.vue'
import TextField from '@/parts/TextField.vue'
import VerdictMark from '@/parts/VerdictMark.vue'
import { useJob } from '@/parts/job'
import { useKeys } from '@/parts/keys'
import { show, showDay } from '@/parts/numbers'
import { placeOf } from '@/parts/places'
import { current, may, today } from '@/parts/session'
import StandInPart from './StandInPart.vue'
import { askBank, takeFiles, toldOf, type BankLine } from './bank'

const { data, error } = useQuery(bankQuery)
const lines = computed(() => data.value?.lines ?? [])
const mine = computed(() => may('setBankLine'))
const { busy: typing, send: sendTyped, trouble, forget } = useJob({ within: '.ask', says: 'all' })
const { busy: clicking, send: sendClicked } = useJob()
const busy = computed(() => typing.value || clicking.value)
/** The line that somebody places by typing, and what they type. */
const asked = ref<{ line: BankLine; what: 'settlement' | 'aside'; invoice: string; note: string }>()
const isAsked = (l: BankLine) => asked.value?.line.statement === l.statement && asked.value.line.line === l.line
function ask(line: BankLine, what: 'settlement' | 'aside') {
  forget()
  asked.value = { line, what, invoice: '', note: '' }
}
interface Placing {
  what: 'settlement' | 'charge' | 'aside'
  invoice?: number
  settlement?: number
  note?: string
}
const place = (line: BankLine, body: Placing, done: string, send = sendClicked) =>
  send(
    () =>
      unwrap(
        api.POST('/api/bank/statements/{number}/lines/{line}/set', {
          params: { path: { number: line.statement, line: line.line } },
          body,
        }),
      ),
    {
      after: () => (asked.value = undefined),
      done: (set) =>
        done + (Number(set.rest) ? ` ${show(set.rest)} ${data.value?.currency} of the line are open.` : ''),
    },
  )
function placed() {
  const a = asked.value
  if (!a) return
  if (a.what === 'aside') void place(a.line, { what: 'aside', note: a.note }, 'The line is left aside.', sendTyped)
  else
    void place(
      a.line,
      { what: 'settlement', invoice: Number(a.invoice.replace(/\D/g, '')), note: a.note },
      `Invoice ${a.invoice} is set against it.`,
      sendTyped,
    )
}
const fetch = () => sendClicked(async () => toldOf(await askBank()), { done: (said) => said })
const take = (files: File[]) => sendClicked(async () => toldOf(await takeFiles(files)), { done: (said) => said })
useKeys(() =>
  may('takeBankAnswer') && !asked.value ? [{ key: 'Ctrl+Enter', label: 'ask the bank', run: () => void fetch() }] : [],
)
const sums = computed(() => {
  const d = data.value
  if (!d) return []
  const row = (text: string, amount: string, always = false) => ({
    text,
    amount,
    shown: always || Number(amount) !== 0,
  })
  const less = (a: string) => (a.startsWith('-') ? a.slice(1) : Number(a) ? `-${a}` : a)
  return [
    row(`The bank has, ${showDay(d.to, today.value)}`, d.closing, true),
    row('less what it had before the first statement', less(d.opening)),
    row('less what statements moved that are missing between', less(d.gaps)),
    row('less lines that are open', less(d.open)),
    row('less lines that are none of ours', less(d.aside)),
    row('with what is on no statement yet', d.notSeen),
    row('with what was booked before statements were read', d.before),
  ].filter((r) => r.shown)
})
</script>

<template>
  <section class="sheet" aria-label="Bank">
    <NoticeBar />
    <div v-if="error" class="nothing" role="alert">{{ error.message }}</div>
    <template v-else-if="data">
      <header>
        <h1>The bank</h1>
        <p class="muted mb-0 mt-1">
          Statements place themselves by the payments they name. What nobody ordered here waits for a person’s word.
        </p>
      </header>
      <div class="body" tabindex="0">
        <div v-if="data.statements.length === 0" class="nothing">
          <h1>No statement was read yet</h1>
          <p>Ask the bank, or take its files (camt.053, camt.054, pain.002) here.</p>
        </div>
        <template v-else>
          <p v-if="!lines.length" class="mb-3">
            <VerdictMark verdict="agrees" text="every line of every statement is placed" />
          </p>
          <h2 v-if="lines.length" class="mb-1">To be placed</h2>
          <table v-if="lines.length" class="grid mb-3">
            <thead>
              <tr>
                <th>Day</th>
                <th>The bank says</th>
                <th class="num">{{ data.currency }}</th>
                <th>It is</th>
              </tr>
            </thead>
            <tbody>
              <template v-for="l in lines" :key="`${l.line.statement}/${l.line.line}`">
                <tr>
                  <td class="nowrap">{{ showDay(l.line.day, today) }}</td>
                  <td>
                    <b>{{ l.line.name || 'nobody is named' }}</b> {{ l.line.text }}
                    <span class="d-block muted small"
                      ><RouterLink :to="placeOf.statement(l.line.statement)"
                        >statement {{ l.line.statement }}, line {{ l.line.line }}</RouterLink
                      ><template v-if="l.line.reference"> · {{ l.line.reference }}</template></span
                    >
                    <span v-if="l.line.trouble" class="d-block small outside-text">{{ l.line.trouble }}</span>
                  </td>
                  <td class="num nowrap">
                    <b>{{ show(l.line.rest) }}</b><span v-if="l.line.rest !== l.line.amount" class="d-block muted small"
                      >of {{ show(l.line.amount) }}</span
                    >
                  </td>
                  <td>
                    <template v-if="mine">
                      <button
                        v-for="r in l.recorded"
                        :key="`r${r.number}`"
                        type="button"
                        class="linkish d-block"
                        :disabled="busy"
                        @click="place(l.line, { what: 'settlement', settlement: r.number }, 'The line shows it.')"
                      >
                        what was recorded of invoice {{ r.invoice }}, {{ r.reference }}
                      </button>
                      <button
                        v-for="i in l.invoices"
                        :key="i.number"
                        type="button"
                        class="linkish d-block"
                        :disabled="busy"
                        @click="
                          place(
                            l.line,
                            { what: 'settlement', invoice: i.number },
                            `Invoice ${i.supplierNumber} is set against it.`,
                          )
                        "
                      >
                        {{ i.supplierNumber }} of {{ i.supplier }}
                      </button>
                      <button type="button" class="linkish d-block" @click="ask(l.line, 'settlement')">
                        {{ l.invoices.length ? 'another invoice…' : 'an invoice…' }}
                      </button>
                      <button
                        v-if="l.line.rest.startsWith('-')"
                        type="button"
                        class="linkish d-block"
                        :disabled="busy"
                        @click="place(l.line, { what: 'charge' }, 'It is booked as a charge of the bank.')"
                      >
                        a charge of the bank
                      </button>
                      <button type="button" class="linkish d-block" @click="ask(l.line, 'aside')">none of ours…</button>
                    </template>
                    <span v-else class="muted">a treasurer places it</span>
                  </td>
                </tr>
                <tr v-if="asked && isAsked(l.line)">
                  <td colspan="4">
                    <SmallForm
                      :action="asked.what === 'aside' ? 'Leave it aside' : 'Set it against the invoice'"
                      :disabled="busy"
                      @done="placed"
                      @cancel="asked = undefined"
                    >
                      <template v-if="asked.what === 'settlement'">
                        <label for="line-invoice"
                          >Number of the
                          {{ l.line.rest.startsWith('-') ? 'invoice that was paid' : 'credit note that came back' }},
                          ours</label
                        >
                        <TextField
                          id="line-invoice"
                          v-model="asked.invoice"
                          data-first
                          autocomplete="off"
                          inputmode="numeric"
                          aria-describedby="line-trouble"
                        />
                      </template>
                      <template v-else>
                        <label for="line-note">What it is, since it is none of ours; nothing is booked</label>
                        <TextField
                          id="line-note"
                          v-model="asked.note"
                          data-first
                          autocomplete="off"
                          aria-describedby="line-trouble"
                        />
                      </template>
                      <div id="line-trouble" class="small text-danger" role="alert">{{ trouble }}</div>
                    </SmallForm>
                  </td>
                </tr>
              </template>
            </tbody>
          </table>
          <h2 v-if="data.unseen.length" class="mb-1">In the ledger, on no statement yet</h2>
          <table v-if="data.unseen.length" class="grid mb-3">
            <tbody>
              <tr v-for="b in data.unseen" :key="b.entry">
                <td class="nowrap">{{ showDay(b.day, today) }}</td>
                <td>
                  {{ b.what }}
                  <RouterLink :to="placeOf.entry(b.entry)" class="muted small ms-1">entry {{ b.entry }}</RouterLink>
                </td>
                <td class="num">{{ show(b.amount) }}</td>
              </tr>
            </tbody>
          </table>
          <h2 class="mb-1">How the balances come together</h2>
          <table class="grid mb-3" style="max-width: 560px">
            <tbody>
              <template v-if="data.accounts.length > 1">
                <tr v-for="a in data.accounts" :key="a.iban" class="muted">
                  <td>
                    Account <span class="mono">{{ a.iban }}</span>, {{ showDay(a.to, today) }}
                  </td>
                  <td class="num">{{ show(a.closing) }}</td>
                </tr>
              </template>
              <tr v-for="s in sums" :key="s.text">
                <td>{{ s.text }}</td>
                <td class="num">{{ show(s.amount) }}</td>
              </tr>
              <tr class="total">
                <td>
                  <b>The ledger’s bank account</b>
                  <VerdictMark
                    class="ms-2"
                    :verdict="data.agrees ? 'agrees' : 'outside'"
                    :text="data.agrees ? 'agrees' : 'differs'"
                  />
                </td>
                <td class="num">
                  <b>{{ show(data.ledger) }} {{ data.currency }}</b>
                </td>
              </tr>
            </tbody>
          </table>
          <h2 class="mb-1">Statements</h2>
          <table class="grid">
            <thead>
              <tr>
                <th>Statement</th>
                <th>Days</th>
                <th class="num">Opening</th>
                <th class="num">Closing</th>
                <th>State</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="s in data.statements" :key="s.number">
                <td>
                  <RouterLink :to="placeOf.statement(s.number)" class="fw-semibold">{{ s.number }}</RouterLink>
                  <span class="muted ms-2">{{ s.ident }}</span>
                </td>
                <td class="nowrap">
                  {{ showDay(s.from, today) }}<template v-if="s.to !== s.from"> – {{ showDay(s.to, today) }}</template>
                </td>
                <template v-if="s.notification">
                  <td colspan="2" class="muted">a notification, without balances</td>
                </template>
                <template v-else>
                  <td class="num">{{ show(s.opening) }}</td>
                  <td class="num">{{ show(s.closing) }}</td>
                </template>
                <td>
                  <VerdictMark
                    :verdict="s.open ? 'waiting' : 'agrees'"
                    :text="s.open ? (s.open === 1 ? '1 line is open' : `${s.open} lines are open`) : 'placed'"
                  />
                </td>
              </tr>
            </tbody>
          </table>
          <p v-if="data.more" class="muted small mt-2">{{ data.more }} more are not shown here.</p>
        </template>
        <StandInPart v-if="current?.demo && may('setStandIn')" />
      </div>
      <div class="bar">
        <BButton v-if="may('takeBankAnswer')" variant="primary" :disabled="busy" @click="fetch">Ask the bank</BButton>
        <FilePick
          v-if="may('takeBankAnswer')"
          label="The bank’s files"
          accept=".xml"
          multiple
          :disabled="busy"
          @files="take"
          >Take its files</FilePick
        >
        <span class="sum">{{ lines.length ? `${lines.length} to be placed` : 'Nothing waits here' }}</span>
      </div>
    </template>
  </section>
</template>
