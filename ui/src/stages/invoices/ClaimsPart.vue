<script setup lang="ts">
// What is claimed of an invoice, what became of it, and how it ends.
import { computed, ref } from 'vue'
import { api, unwrap, type Claim, type InvoiceSheet } from '@/api/client'
import LedgerEntry from '@/parts/LedgerEntry.vue'
import SmallForm from '@/parts/SmallForm.vue'
import TextField from '@/parts/TextField.vue'
import { useJob } from '@/parts/job'
import { useKept } from '@/parts/kept'
import { show, showInstant } from '@/parts/numbers'
import { placeOf } from '@/parts/places'
import { today } from '@/parts/session'

const props = defineProps<{ inv: InvoiceSheet }>()
const { busy, send, trouble, forget } = useJob({ within: '.ask', says: 'all' })
const ending = ref<{ claim: number; how: 'give-up' | 'withdraw'; note: string }>()
const { again, done: sent } = useKept(ending, (e) => `claim.${e.claim}.${e.how}`)
const claims = computed(() => props.inv.claims)
const stands = (c: Claim) => {
  if (c.pending) return 'waits with the invoice; nothing is booked yet'
  if (Number(c.left) === 0) return Number(c.credited) ? `settled, ${show(c.credited)} credited` : 'settled'
  return `${show(c.gross)} ${props.inv.currency} kept back${Number(c.credited) ? `, ${show(c.credited)} credited` : ''}`
}
const came = (c: Claim) => c.lines.filter((l) => Number(l.came) > 0)
const entry = (c: Claim) => (ending.value?.how === 'withdraw' ? c.withdrawn : c.givenUp)
function ask(c: Claim, how: 'give-up' | 'withdraw') {
  forget()
  ending.value = { claim: c.number, how, note: '' }
}
async function end() {
  const e = ending.value
  if (!e) return
  const call = { params: { path: { number: e.claim } }, body: { version: props.inv.version, note: e.note } }
  await send(
    () =>
      e.how === 'give-up'
        ? unwrap(api.POST('/api/claims/{number}/give-up', call))
        : unwrap(api.POST('/api/claims/{number}/withdraw', call)),
    {
      after: sent,
      done: e.how === 'give-up' ? `Claim ${e.claim} is given up.` : `Claim ${e.claim} is withdrawn: its goods came.`,
      links: (a) => (a.entry ? [{ to: placeOf.entry(a.entry), text: `Ledger entry ${a.entry}` }] : []),
    },
  )
}
</script>

<template>
  <section v-for="c in claims" :key="c.number" class="finding" :class="came(c).length ? 'outside' : 'within'">
    <div class="said">
      <span>
        <b>Claim {{ c.number }}: {{ stands(c) }}.</b>{{ ' ' }}
        <span class="muted"
          >{{ c.by }}, {{ showInstant(c.at, today) }}<template v-if="c.note">: {{ c.note }}</template
          ><template v-if="c.told"> · {{ c.told }}</template></span
        >
        <br />
        <template v-for="(l, i) in c.lines" :key="i"
          ><template v-if="i">; </template>{{ l.description }}:
          {{ l.for === 'goods' ? `${show(l.quantity)} ${l.unitName}` : 'price' }}, {{ show(l.net)
          }}<template v-if="l.left !== l.net"> (left {{ show(l.left) }})</template></template
        >.
        <b v-for="l in came(c)" :key="`came ${l.line}`"
          >{{ show(l.came) }} {{ l.unitName }} {{ l.description }} have come: withdraw, or go on claiming.
        </b>
        <span v-if="c.whose" class="muted small"> Giving it up: {{ c.whose }}</span>
      </span>
      <span v-if="Number(c.left)" class="nowrap">
        <button v-if="c.may.includes('withdrawClaim')" type="button" class="linkish" @click="ask(c, 'withdraw')">
          Withdraw…
        </button>
        <button v-if="c.may.includes('giveUpClaim')" type="button" class="linkish ms-2" @click="ask(c, 'give-up')">
          Give up…
        </button>
      </span>
    </div>
    <SmallForm
      v-if="ending && ending.claim === c.number"
      :key="ending.how"
      :action="ending.how === 'give-up' ? 'Give it up' : 'Withdraw it'"
      :disabled="busy"
      :again="again"
      @done="end"
      @cancel="ending = undefined"
    >
      <p class="mb-2">
        <template v-if="ending.how === 'give-up'"
          ><b>Give up.</b> {{ show(c.gross) }} {{ inv.currency }} is to be paid after all; it books:</template
        >
        <template v-else
          ><b>Withdraw.</b> What came is billed at its claimed price and is to be paid; it books:</template
        >
      </p>
      <LedgerEntry v-if="entry(c)" :entry="entry(c)!" />
      <label :for="`claim-end-${c.number}`">{{ ending.how === 'give-up' ? 'Why it is given up' : 'Note' }}</label>
      <TextField
        :id="`claim-end-${c.number}`"
        v-model="ending.note"
        data-first
        autocomplete="off"
        :state="trouble ? false : undefined"
        :aria-describedby="`claim-end-${c.number}-error`"
      />
      <div :id="`claim-end-${c.number}-error`" class="small text-danger" role="alert">{{ trouble }}</div>
    </SmallForm>
  </section>
</template>
