<script setup lang="ts">
// One statement of the bank, line by line, with what each line is.
import { ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap } from '@/api/client'
import AskReason from '@/parts/AskReason.vue'
import HistoryFold from '@/parts/HistoryFold.vue'
import NoticeBar from '@/parts/NoticeBar.vue'
import VerdictMark from '@/parts/VerdictMark.vue'
import { useJob } from '@/parts/job'
import { show, showDay, showInstant } from '@/parts/numbers'
import { placeOf } from '@/parts/places'
import { may, today } from '@/parts/session'
import type { BankLine } from './bank'

const props = defineProps<{ number: number }>()
const { data, error } = useQuery({
  queryKey: ['statement', props.number],
  queryFn: () => unwrap(api.GET('/api/bank/statements/{number}', { params: { path: { number: props.number } } })),
})
const { busy, send } = useJob()
const asked = ref<number>()
const free = (l: BankLine, reason: string) =>
  send(
    () =>
      unwrap(
        api.POST('/api/bank/statements/{number}/lines/{line}/free', {
          params: { path: { number: l.statement, line: l.line } },
          body: { reason },
        }),
      ),
    { after: () => (asked.value = undefined), done: 'The line is open again.' },
  )
const canFree = (l: BankLine) => may('freeBankLine') && l.sets.some((s) => s.freed)
</script>

<template>
  <section class="sheet" aria-label="Statement">
    <NoticeBar />
    <div v-if="error" class="nothing" role="alert">{{ error.message }}</div>
    <template v-else-if="data">
      <header>
        <div class="headline">
          <h1>
            {{ data.statement.notification ? 'Notification' : 'Statement' }}
            <span class="mono fw-medium">{{ data.statement.number }}</span>
          </h1>
          <RouterLink to="/payments/bank">the bank</RouterLink>
        </div>
        <dl class="facts">
          <div>
            <dt>The bank’s name of it</dt>
            <dd>{{ data.statement.ident }}</dd>
          </div>
          <div>
            <dt>Account</dt>
            <dd class="mono">{{ data.statement.iban }}</dd>
          </div>
          <template v-if="!data.statement.notification">
            <div>
              <dt>Opening, {{ showDay(data.statement.from, today) }}</dt>
              <dd>{{ show(data.statement.opening) }}</dd>
            </div>
            <div>
              <dt>Closing, {{ showDay(data.statement.to, today) }}</dt>
              <dd>{{ show(data.statement.closing) }} {{ data.currency }}</dd>
            </div>
          </template>
          <div>
            <dt>Taken in</dt>
            <dd>{{ showInstant(data.statement.at, today) }} by {{ data.statement.by }}</dd>
          </div>
        </dl>
      </header>
      <div class="body" tabindex="0">
        <table class="grid">
          <thead>
            <tr>
              <th>Day</th>
              <th>The bank says</th>
              <th class="num">{{ data.currency }}</th>
              <th>It is</th>
            </tr>
          </thead>
          <tbody>
            <template v-for="l in data.lines" :key="l.line">
              <tr>
                <td class="nowrap">{{ showDay(l.day, today) }}</td>
                <td>
                  <b>{{ l.name }}</b> {{ l.text }}
                  <span class="d-block muted small"
                    ><span class="mono">{{ l.iban }}</span> {{ l.reference }} {{ l.reason }}</span
                  >
                  <span v-if="l.trouble" class="d-block small outside-text">{{ l.trouble }}</span>
                </td>
                <td class="num">{{ show(l.amount) }}</td>
                <td>
                  <div v-for="(s, i) in l.sets" :key="i" class="py-1">
                    <RouterLink v-if="s.run" :to="placeOf.run(s.run)">{{ s.words }}</RouterLink>
                    <RouterLink v-else-if="s.invoice" :to="placeOf.invoice(s.invoice)">{{ s.words }}</RouterLink>
                    <template v-else>{{ s.words }}</template>
                    <span v-if="l.sets.length > 1" class="muted ms-1">{{ show(s.amount) }}</span>
                    <span v-if="s.note" class="d-block muted small">{{ s.note }}, {{ s.by }}</span>
                  </div>
                  <VerdictMark v-if="Number(l.rest)" verdict="waiting" :text="`${show(l.rest)} is open`" />
                  <button v-if="canFree(l)" type="button" class="linkish d-block mt-1" @click="asked = l.line">
                    Take back…
                  </button>
                </td>
              </tr>
              <tr v-if="asked === l.line">
                <td colspan="4">
                  <AskReason
                    id="line-back"
                    title="The line is open again."
                    books="What was booked for it is taken back by a counter-entry."
                    label="Why"
                    action="Take it back"
                    :disabled="busy"
                    @done="(reason: string) => free(l, reason)"
                    @cancel="asked = undefined"
                  />
                </td>
              </tr>
            </template>
          </tbody>
        </table>
        <HistoryFold :key="data.statement.number" class="mt-3" subject="statement" :number="data.statement.number" />
      </div>
    </template>
  </section>
</template>
