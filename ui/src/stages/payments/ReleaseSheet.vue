<script setup lang="ts">
import { computed, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap } from '@/api/client'
import { paymentsQuery } from '@/api/queries'
import NoticeBar from '@/parts/NoticeBar.vue'
import VerdictMark from '@/parts/VerdictMark.vue'
import { useKeys } from '@/parts/keys'
import { warn } from '@/parts/notice'
import { distance, show, showDay } from '@/parts/numbers'
import { may as allowed, today } from '@/parts/session'
import TickBox from '@/parts/TickBox.vue'
import OpenClaims from './OpenClaims.vue'
import OpenCredits from './OpenCredits.vue'
import { isAhead, toPay } from '../invoices/slips'
import { useJob } from '@/parts/job'
import { placeOf } from '@/parts/places'
import { useArrive } from '@/parts/arrive'
import { runMade, runOfAll } from './alone'

const { data, isPending: loading } = useQuery(paymentsQuery)
const invoices = computed(() => data.value?.verified ?? [])
const credits = computed(() => data.value?.credits ?? [])
const claims = computed(() => data.value?.claims ?? [])
const chosen = ref<number[]>([])
const left = ref<Record<number, string>>({})
const { busy, send } = useJob()
const arrive = useArrive()
const clean = computed(() => invoices.value.filter((i) => !i.blocked && !i.hold))
const may = computed(() => allowed('releaseInvoices'))

/** Releases the chosen and, where that is asked, makes a run of just those that were released. */
async function release(andRun = false) {
  const numbers = chosen.value.filter((n) => invoices.value.some((i) => i.number === n))
  if (numbers.length === 0) {
    warn('Choose the invoices to release.')
    return
  }
  const shown = invoices.value
  const released = await send(() => unwrap(api.POST('/api/invoices/release', { body: { invoices: numbers } })), {
    after: (answer) => {
      left.value = Object.fromEntries(answer.left.map((l) => [l.invoice, l.why]))
      chosen.value = []
    },
    done: (answer) => {
      const stays = answer.left.length ? ` ${answer.left.length} stay as they are; the reason stands beside each.` : ''
      const sum = toPay(shown.filter((i) => answer.released.includes(i.number)))
      return `${answer.released.length} released for payment${sum && `, ${sum}`}.${stays}`
    },
    links: [{ to: '/payments/proposed-run', text: 'Propose a run' }],
  })
  const owed = shown.filter((i) => released?.released.includes(i.number) && Number(i.open))
  if (!andRun || !owed.length) return
  const made = await send(() => runOfAll(owed))
  if (made) await arrive(placeOf.run(made.number), runMade(made, toPay(owed)))
}
const toggle = (n: number) =>
  (chosen.value = chosen.value.includes(n) ? chosen.value.filter((c) => c !== n) : [...chosen.value, n])
const all = () => (chosen.value = chosen.value.length === clean.value.length ? [] : clean.value.map((i) => i.number))
useKeys(() =>
  may.value
    ? [
        { key: 'a', label: 'choose all that are clean', run: all },
        { key: 'Ctrl+Enter', label: 'release the chosen', run: () => void release() },
        ...(allowed('makeRun')
          ? [{ key: 'm', label: 'release, and make a run of them', run: () => void release(true) }]
          : []),
      ]
    : [],
)
</script>

<template>
  <section class="sheet" aria-label="Release invoices">
    <NoticeBar />
    <header>
      <h1>Release invoices for payment</h1>
      <p class="muted mb-0 mt-1">
        Verified invoices; what is lost first stands first, a discount or the due day. What is on hold, or names another
        bank account, stays until that is settled.
      </p>
    </header>
    <div class="body">
      <div v-if="!loading && invoices.length === 0" class="nothing">
        <h1>Nothing is to be released</h1>
        <p>Invoices appear here when they are verified.</p>
      </div>
      <table v-else class="grid">
        <thead>
          <tr>
            <th><span class="visually-hidden">Choose</span></th>
            <th>Invoice</th>
            <th>Order</th>
            <th class="num">To pay</th>
            <th>Due</th>
            <th>Discount</th>
            <th>State</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="i in invoices" :key="i.number">
            <td>
              <TickBox
                :model-value="chosen.includes(i.number)"
                :disabled="!may"
                :aria-label="`Release ${i.supplierNumber} of ${i.supplier}`"
                @update:model-value="toggle(i.number)"
              />
            </td>
            <td>
              <RouterLink :to="placeOf.invoice(i.number)" class="fw-semibold">{{ i.supplier }}</RouterLink><br /><span
                class="mono muted"
                >{{ i.supplierNumber }}</span
              ><span v-if="isAhead(i)" class="muted"> · money ahead</span>
            </td>
            <td class="mono">{{ i.order }}</td>
            <td class="num">
              {{ show(i.open) }} {{ i.currency
              }}<template v-if="i.open !== i.total"
                ><br /><span class="muted">of {{ show(i.total) }}</span></template
              >
            </td>
            <td class="nowrap">
              {{ showDay(i.due, today) }}<br /><span class="muted">{{ distance(i.due, today) }}</span>
            </td>
            <td class="nowrap">
              <template v-if="i.discountUntil >= today && Number(i.discount)"
                >{{ show(i.discount) }}<br /><span class="muted"
                  >until {{ showDay(i.discountUntil, today) }}, {{ Math.round(Number(i.yearly)) }} % a year</span
                ></template
              >
            </td>
            <td>
              <VerdictMark v-if="i.hold" verdict="outside" :text="`on hold: ${i.hold}`" />
              <VerdictMark v-else-if="i.blocked" verdict="outside" :text="i.summary" />
              <VerdictMark v-else verdict="agrees" text="clean" />
              <div v-if="i.blocked && i.turn" class="small muted">{{ i.turn }}’s turn</div>
              <div v-if="left[i.number]" class="small text-danger" role="alert">{{ left[i.number] }}</div>
            </td>
          </tr>
        </tbody>
      </table>
      <OpenCredits :credits="credits" />
      <OpenClaims :claims="claims" />
    </div>
    <div class="bar">
      <BButton variant="primary" :disabled="!may || busy || chosen.length === 0" @click="release()"
        >Release {{ chosen.length || '' }}</BButton
      >
      <BButton
        v-if="allowed('makeRun')"
        variant="outline-secondary"
        :disabled="!may || busy || chosen.length === 0"
        @click="release(true)"
        >Release, and make a run of them</BButton
      >
      <BButton variant="outline-secondary" :disabled="!may" @click="all">{{
        chosen.length && chosen.length === clean.length ? 'Choose none' : 'Choose all that are clean'
      }}</BButton>
      <span class="sum"
        >{{ chosen.length }} of {{ invoices.length }} chosen<template v-if="chosen.length"
          >: <b>{{ toPay(invoices.filter((i) => chosen.includes(i.number))) }}</b></template
        ><template v-if="invoices.length"> · all {{ toPay(invoices) }}</template></span
      >
    </div>
  </section>
</template>
