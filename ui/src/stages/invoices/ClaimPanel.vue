<script setup lang="ts">
// Claims what of an invoice does not agree: says first what that books, what is paid and kept back, and what the supplier reads.
import { computed, nextTick, ref, watch } from 'vue'
import { api, unwrap, type ClaimLine, type InvoiceSheet } from '@/api/client'
import LedgerEntry from '@/parts/LedgerEntry.vue'
import LetterFields from '@/parts/LetterFields.vue'
import NumberField from '@/parts/NumberField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import TextField from '@/parts/TextField.vue'
import TickBox from '@/parts/TickBox.vue'
import { useDraft } from '@/parts/draft'
import { useJob } from '@/parts/job'
import { price, sent, show } from '@/parts/numbers'
import { usePreview } from '@/parts/preview'
import { proposed, type Telling } from '@/parts/telling'

const props = defineProps<{ inv: InvoiceSheet }>()
const emit = defineEmits<{ done: [state: string, entry?: number]; cancel: [] }>()
interface Draft {
  typed: Record<string, string> // by line and what it is for; what is not typed is as proposed
  waiting: boolean
  note: string
  untold: boolean
  letter?: Telling
}
const { draft, clear } = useDraft<Draft>(`claim.${props.inv.number}`, () => ({
  typed: {},
  waiting: false,
  note: '',
  untold: false,
}))
const path = { params: { path: { number: props.inv.number } } }
const { busy, send, at: problem, trouble } = useJob({ within: '.ask', says: 'all' })

const key = (l: ClaimLine) => `${l.line} ${l.for}`
const first = ref<ClaimLine[]>() // as proposed
const lines = () => {
  if (!first.value || Object.keys(draft.value.typed).length === 0) return undefined
  return first.value.map((l) => {
    const typed = draft.value.typed[key(l)]
    return {
      line: l.line,
      for: l.for,
      quantity: l.for !== 'goods' ? '' : typed === undefined ? l.quantity : sent(typed, l.mostQuantity) || '0',
      net: l.for === 'goods' ? '' : typed === undefined ? l.net : sent(typed, l.mostNet) || '0',
    }
  })
}
const letterOf = ({ way, to, subject, text }: Telling) => ({ way, to, subject, text })
const asked = () => ({
  version: props.inv.version,
  waiting: draft.value.waiting,
  note: draft.value.note,
  lines: lines(),
})
const body = () => ({
  ...asked(),
  letter: draft.value.untold ? undefined : letterOf(telling.value),
})
const { preview, again } = usePreview([() => [draft.value.typed, draft.value.waiting], () => props.inv.version], () =>
  unwrap(api.POST('/api/invoices/{number}/claim/preview', { ...path, body: asked() })),
)
void again()
watch(preview, (p) => {
  if (!p || lines()) return
  if (!first.value) void nextTick(() => box.value?.scrollIntoView({ block: 'start' }))
  first.value = p.lines
  if (lines()) void again() // what was typed before was kept
  if (p.letter && !p.letter.to) write()
})
watch(
  () => draft.value.waiting,
  () => (first.value = undefined),
)
const telling = computed({
  get: () => draft.value.letter ?? proposed(preview.value?.letter),
  set: (t) => (draft.value.letter = t),
})
const box = ref<HTMLElement>()
const writes = ref(false)
function write() {
  draft.value.letter = telling.value
  writes.value = true
}
const waits = computed(() => props.inv.findings.some((f) => f.verdict === 'waiting'))
const shown = computed(() => preview.value?.lines ?? first.value ?? [])
function fault(i: number, name: string) {
  const field = `lines[${i}].${name}`
  return problem(field) ?? preview.value?.problems.find((p) => p.field === field)?.sentence
}
const value = (l: ClaimLine) => draft.value.typed[key(l)] ?? show(l.for === 'goods' ? l.quantity : l.net)
const booked = computed(() => ['verified', 'released'].includes(props.inv.state))
const nothing = computed(() => !preview.value || Number(preview.value.net) === 0)
const action = computed(() =>
  nothing.value || !preview.value
    ? 'Claim'
    : `${booked.value ? 'Claim' : preview.value.waits ? 'Go on waiting, claim' : 'Pay what agrees, claim'} ${show(preview.value.gross)}`,
)
async function done() {
  const captured = await send(() => unwrap(api.POST('/api/invoices/{number}/claim', { ...path, body: body() })))
  if (!captured) return
  clear()
  emit('done', captured.state, captured.entry)
}
</script>

<template>
  <SmallForm
    label="Claim a credit note"
    :action="action"
    :disabled="busy || nothing"
    @done="done"
    @cancel="emit('cancel')"
  >
    <p ref="box" class="mb-2">
      <b>{{ booked ? 'Claim a credit note.' : 'Pay what agrees, claim the rest.' }}</b>
      {{
        preview && shown.length === 0
          ? booked
            ? 'Everything that it bills is here, at the order’s price.'
            : 'Nothing of it is too much or too dear; settle what differs below.'
          : 'What is claimed is not paid; it is kept back until its credit note comes.'
      }}
    </p>
    <table v-if="shown.length" class="grid mb-2">
      <thead>
        <tr>
          <th class="named">Line</th>
          <th>For</th>
          <th class="num">Billed at</th>
          <th class="num">At most</th>
          <th class="num" style="width: 124px">Claimed</th>
          <th class="num">Net</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(l, i) in shown" :key="key(l)">
          <td>{{ l.line }} · {{ l.description }}</td>
          <td>
            {{ l.for === 'goods' ? 'goods not here' : `price, agreed ${price(l.agreed)}` }}
          </td>
          <td class="num">{{ price(l.price) }}</td>
          <td class="num">{{ l.for === 'goods' ? `${show(l.mostQuantity)} ${l.unitName}` : show(l.mostNet) }}</td>
          <td class="num">
            <NumberField
              :id="`claim-${i}`"
              :model-value="value(l)"
              :label="`${l.description}, claimed`"
              :whole="l.for === 'goods' ? l.mostQuantity : l.mostNet"
              :error="fault(i, l.for === 'goods' ? 'quantity' : 'net')"
              @update:model-value="(v: string) => (draft.typed[key(l)] = v)"
            />
          </td>
          <td class="num">{{ show(l.net) }}</td>
        </tr>
      </tbody>
    </table>
    <TickBox v-if="waits && !booked" id="claim-waiting" v-model="draft.waiting"
      >Claim goods as well that are still awaited</TickBox
    >
    <p v-for="s in preview?.accepted" :key="s" class="small mb-1">Accepted with it, within your authority: {{ s }}</p>
    <p v-for="s in preview?.against" :key="s" class="small outside-text mb-1">Settle first: {{ s }}</p>
    <label for="claim-note">{{ preview?.accepted.length ? 'Why not all of it is claimed' : 'Note' }}</label>
    <TextField
      id="claim-note"
      v-model="draft.note"
      data-first
      autocomplete="off"
      :state="problem('note') ? false : undefined"
      aria-describedby="claim-trouble"
    />
    <div id="claim-trouble" class="small text-danger" role="alert">{{ trouble }}</div>
    <template #below>
      <div v-if="preview && !nothing" class="before mt-3">
        <div>
          <h2>It books</h2>
          <LedgerEntry v-if="preview.books" :entry="preview.books" />
          <p v-else class="muted">Nothing yet: the invoice waits for goods.</p>
        </div>
        <div>
          <h2>It leaves open</h2>
          <p class="mb-0">
            To pay <b>{{ show(preview.owed) }} {{ inv.currency }}</b
            >, kept back till the credit note comes <b>{{ show(preview.gross) }} {{ inv.currency }}</b
            >.
          </p>
          <h2 class="mt-3">The letter</h2>
          <TickBox
            id="claim-told"
            :model-value="!draft.untold"
            @update:model-value="(v: boolean) => (draft.untold = !v)"
            >Tell the supplier</TickBox
          >
          <template v-if="!draft.untold">
            <LetterFields v-if="writes" v-model="telling" :contact="preview.contact ?? ''" :problem="problem" />
            <template v-else>
              <p class="letter-text mb-1" tabindex="0" aria-label="The letter">{{ telling.text }}</p>
              <span class="muted small">Mail with PDF to {{ telling.to }}</span>
              <button type="button" class="linkish ms-2" @click="write">Change…</button>
            </template>
          </template>
        </div>
      </div>
    </template>
  </SmallForm>
</template>
