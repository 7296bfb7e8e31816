<script setup lang="ts">
// What is on hold of an invoice or an order, by whom and why, with what puts a hold there and takes one off.
import { computed, ref, watch } from 'vue'
import { api, unwrap, type Hold, type HoldEntry } from '@/api/client'
import { useJob } from '@/parts/job'
import { showInstant } from '@/parts/numbers'
import { placeOf } from '@/parts/places'
import { may, today } from '@/parts/session'
import HoldForm from './HoldForm.vue'
import SmallForm from './SmallForm.vue'
import TextField from './TextField.vue'

const props = defineProps<{
  holds: Hold[]
  invoice?: number
  order?: number
  /** The lines of an order, of which one may be held. */
  lines?: { no: number; description: string }[]
}>()
/** What stands open: a new hold, or the taking off of the first. */
const panel = defineModel<string | undefined>('panel', { required: true })
const { send, at, trouble, forget } = useJob({ within: '.ask', says: 'all' })
const open = computed(() => props.holds.filter((h) => !h.ended && h.reason !== 'question'))
/** Those of the orders stand on an invoice's sheet as well, and are told so. */
const own = computed(() => open.value.filter((h) => !props.invoice || !h.order))
const lifting = ref<number>()
const note = ref('')
watch(
  panel,
  (p) => {
    forget()
    note.value = ''
    lifting.value = p === 'lift' ? own.value[0]?.number : undefined
  },
  { immediate: true },
)
const said = computed(() => (props.invoice ? `Invoice ${props.invoice}` : `Order ${props.order}`))
const on = (h: Hold) =>
  h.line ? `Line ${h.line} on hold` : h.order && props.invoice ? `Order ${h.order} on hold` : 'On hold'
const says = (h: Hold) =>
  `No ${(h.blocks ?? []).join(' or ')}${h.ends ? ` ${h.ends}` : ''}.${h.clears ? ` Taken off by whoever is ${h.clears}.` : ''}`
function close() {
  lifting.value = undefined
  panel.value = props.order ? '' : undefined
}
const hold = (body: HoldEntry) =>
  send(
    () =>
      props.order
        ? unwrap(api.POST('/api/orders/{number}/hold', { params: { path: { number: props.order } }, body }))
        : unwrap(api.POST('/api/invoices/{number}/hold', { params: { path: { number: props.invoice! } }, body })),
    { after: close, done: `${said.value} is on hold.` },
  )
const lift = (number: number) =>
  send(
    () => unwrap(api.POST('/api/holds/{number}/lift', { params: { path: { number } }, body: { note: note.value } })),
    { after: close, done: `The hold on ${said.value.toLowerCase()} is taken off.` },
  )
</script>

<template>
  <div>
    <div v-for="h in open" :key="h.number" class="finding outside">
      <div class="said">
        <span>
          <b>{{ on(h) }}: {{ h.reasonText }}.</b> {{ h.note ? `${h.note} ` : '' }}({{ h.by }},
          {{ showInstant(h.at, today) }})
          <span class="muted">{{ says(h) }}</span>
        </span>
        <RouterLink v-if="invoice && h.order" :to="placeOf.order(h.order)">Order {{ h.order }}</RouterLink>
        <button
          v-else-if="!h.whose && may('liftHold')"
          type="button"
          class="linkish"
          :aria-label="`Take it off… hold ${h.number}`"
          @click="((lifting = h.number), (note = ''))"
        >
          Take it off…
        </button>
      </div>
      <SmallForm v-if="lifting === h.number" action="Take the hold off" @done="lift(h.number)" @cancel="close">
        <label for="lift">Note</label>
        <TextField id="lift" v-model="note" autocomplete="off" aria-describedby="lift-trouble" />
        <div id="lift-trouble" class="small text-danger" role="alert">{{ trouble }}</div>
      </SmallForm>
    </div>
    <HoldForm
      v-if="panel === 'hold'"
      :lines="lines"
      :invoice="!!invoice"
      :at="at"
      :trouble="trouble"
      @done="hold"
      @cancel="close"
    />
  </div>
</template>
