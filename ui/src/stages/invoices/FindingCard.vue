<script setup lang="ts">
// One finding with the ways to settle it; each way says first what it books and leaves open.
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import type { Approver, Candidate, Finding } from '@/api/client'
import PickField from '@/parts/PickField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import { placeOf } from '@/parts/places'
import VerdictMark from '@/parts/VerdictMark.vue'
import { show, showDay, showInstant } from '@/parts/numbers'
import { today } from '@/parts/session'
import TickBox from '@/parts/TickBox.vue'
import TextField from '@/parts/TextField.vue'
import { useKeptPanel } from '@/parts/kept'

const props = defineProps<{
  finding: Finding
  rank: number
  open: boolean
  trouble: string
  /** Who may approve it. */
  approvers?: Approver[]
  /** Further open differences of its kind. */
  others?: number
  /** This person may take its acceptance back. */
  mayTakeBack?: boolean
}>()
const emit = defineEmits<{
  toggle: []
  accept: [note: string, all: boolean]
  back: [note: string]
  approve: [note: string, to: string]
  way: [way: string]
  tie: [candidate: Candidate]
  cancel: []
}>()
const { kind, line, other, order, charge } = props.finding
const route = useRoute()
const invoice = String(route.params['number'])
const name = [route.path, kind, line, other ?? order ?? 0, charge ?? ''].join('.')
const fresh = () => ({ note: '', to: '', all: false })
const { draft, kept, clear, send, leave } = useKeptPanel(name, fresh, () => !!props.trouble)
const chosen = ref('')
/** The ways that are in this person's hands. */
const mine = computed(() => props.finding.ways.filter((w) => !w.whose))
const back = ref<{ note: string }>()
const noted = computed(() => ['accept', 'approve', 'pass'].includes(chosen.value))
/** What the supplier did last time. */
const before = computed(() => props.finding.before)
/** What it may be about, and which of it is meant. */
const candidates = computed(() => props.finding.candidates ?? [])
const picked = ref(0)
const id = computed(() => `finding-${props.finding.kind}-${props.finding.line}`)

watch(
  () => props.open,
  (now) => {
    if (now) chosen.value = mine.value[0]?.way ?? ''
    if (now && !draft.value.to) draft.value.to = props.approvers?.[0]?.login ?? ''
  },
)
/** Chooses the way above or below, from wherever one types. */
async function move(step: number) {
  const ways = mine.value.map((w) => w.way)
  if (ways.length === 0) return
  chosen.value = ways[(ways.indexOf(chosen.value) + step + ways.length) % ways.length] ?? ''
  await nextTick()
  document.getElementById(noted.value ? `${id.value}-note` : `${id.value}-${chosen.value}`)?.focus()
}
watch(
  () => props.finding.accepted,
  (accepted) => {
    back.value = undefined
    if (!accepted) return
    draft.value = fresh() // taken back, it is settled anew
    clear()
  },
)
function go() {
  send()
  if (chosen.value === 'approve' || chosen.value === 'pass')
    emit('approve', draft.value.note, chosen.value === 'pass' ? draft.value.to : '')
  else if (chosen.value === 'accept') emit('accept', draft.value.note, draft.value.all && !!props.others)
  else if (chosen.value === 'tie') emit('tie', candidates.value[picked.value]!)
  else if (chosen.value) emit('way', chosen.value)
}
</script>

<template>
  <div class="finding" :class="finding.accepted ? 'accepted' : finding.verdict">
    <div class="said">
      <span>
        <VerdictMark :verdict="finding.accepted ? 'within' : finding.verdict" only />
        {{ finding.sentence }}
        <span v-if="finding.accepted" class="muted"
          >Accepted by {{ finding.accepted.by }}, {{ showInstant(finding.accepted.at, today) }}:
          {{ finding.accepted.note }}</span
        >
        <span v-else-if="finding.ways.length" class="muted nowrap">{{ finding.turn }}’s turn</span>
        <span v-if="before && !finding.accepted" class="muted d-block small"
          >Last time,
          <RouterLink :to="placeOf.invoice(before.invoice)">invoice of {{ showDay(before.date, today) }}</RouterLink
          >: {{ show(before.amount) }} {{ before.currency }} accepted by {{ before.by }}: {{ before.note }}</span
        >
      </span>
      <RouterLink v-if="kind === 'likely_duplicate'" :to="placeOf.alike(invoice)">Side by side</RouterLink>
      <button v-if="mayTakeBack" type="button" class="linkish" @click="back = { note: '' }">Take back…</button>
      <button
        v-if="finding.ways.length"
        type="button"
        class="linkish"
        :aria-expanded="open"
        :aria-controls="id"
        @click="emit('toggle')"
      >
        Settle… <kbd>{{ rank }}</kbd>
      </button>
    </div>
    <SmallForm
      v-if="back && mayTakeBack"
      action="Take the acceptance back"
      @done="emit('back', back.note)"
      @cancel="back = undefined"
    >
      <label :for="`${id}-back`">Why it is taken back; the difference is open again</label>
      <TextField :id="`${id}-back`" v-model="back.note" autocomplete="off" :aria-describedby="`${id}-back-trouble`" />
      <div :id="`${id}-back-trouble`" class="small text-danger" role="alert">{{ trouble }}</div>
    </SmallForm>
    <SmallForm
      v-if="open"
      :id="id"
      :action="finding.ways.find((w) => w.way === chosen)?.label ?? 'Settle'"
      :disabled="!chosen"
      :again="kept"
      @done="go"
      @cancel="(leave(), emit('cancel'))"
      @keydown.up.prevent="move(-1)"
      @keydown.down.prevent="move(1)"
    >
      <fieldset>
        <legend class="visually-hidden">Ways to settle it</legend>
        <div v-for="w in finding.ways" :key="w.way" class="form-check">
          <input
            :id="`${id}-${w.way}`"
            v-model="chosen"
            class="form-check-input"
            type="radio"
            :name="id"
            :value="w.way"
            :disabled="w.whose !== ''"
          />
          <label class="form-check-label" :for="`${id}-${w.way}`"
            ><b>{{ w.label }}.</b> {{ w.books }} <span v-if="w.whose" class="muted">{{ w.whose }}</span></label
          >
          <fieldset v-if="w.way === 'tie' && chosen === 'tie'" class="ms-4 my-1" @keydown.up.stop @keydown.down.stop>
            <legend class="visually-hidden">What it may be, best first</legend>
            <div v-for="(c, i) in candidates" :key="i" class="form-check">
              <input
                :id="`${id}-candidate-${i}`"
                v-model="picked"
                class="form-check-input"
                type="radio"
                :name="`${id}-candidate`"
                :value="i"
              />
              <label class="form-check-label" :for="`${id}-candidate-${i}`"
                ><b>{{ c.supplier ?? `Order ${c.order}${c.line ? `, line ${c.line}` : ''}` }}</b> {{ c.about
                }}<template v-if="c.line">, {{ c.quantity }} at {{ c.price }}</template
                ><template v-if="c.day">, {{ showDay(c.day) }}</template>
                <span class="muted ms-1">
                  {{ (c.found ?? 1) > 1 ? `${c.found} lines: ` : '' }}{{ c.reasons.join(', ') }}</span
                ></label
              >
            </div>
          </fieldset>
        </div>
      </fieldset>
      <div v-if="chosen === 'pass'" class="mb-2">
        <label :for="`${id}-to`">To whom</label>
        <PickField
          :id="`${id}-to`"
          v-model="draft.to"
          :options="(approvers ?? []).map((a) => ({ value: a.login, text: a.name }))"
        />
      </div>
      <template v-if="noted">
        <label :for="`${id}-note`">{{ chosen === 'accept' ? 'Why it is accepted' : 'Note' }}</label>
        <TextField
          :id="`${id}-note`"
          v-model="draft.note"
          autocomplete="off"
          :state="trouble ? false : undefined"
          :aria-describedby="`${id}-trouble`"
        />
      </template>
      <TickBox v-if="chosen === 'accept' && others" :id="`${id}-all`" v-model="draft.all" class="mt-1"
        >and {{ others === 1 ? 'the other difference' : `the ${others} other differences` }} of its kind</TickBox
      >
      <div :id="`${id}-trouble`" class="small text-danger" role="alert">{{ trouble }}</div>
    </SmallForm>
  </div>
</template>
