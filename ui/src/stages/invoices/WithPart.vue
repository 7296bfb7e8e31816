<script setup lang="ts">
// Whom an invoice is with, of those whose turn it may be, and who has it open just now: one key takes it over, one hands it on.
import { computed, onUnmounted, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap, type InvoiceSheet } from '@/api/client'
import { presentOn } from '@/api/live'
import PickField from '@/parts/PickField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import TextField from '@/parts/TextField.vue'
import { useJob } from '@/parts/job'
import { useKeys } from '@/parts/keys'
import { showInstant } from '@/parts/numbers'
import { colleaguesQuery } from '@/parts/questions'
import { today } from '@/parts/session'
import { handed, receivers, turnOf } from './turns'

const props = defineProps<{ inv: InvoiceSheet }>()
const emit = defineEmits<{
  /** A panel of it opens: any other closes. */
  opens: []
  /** It is somebody else's turn now. */
  gone: []
}>()
const { data: colleagues } = useQuery(colleaguesQuery)
const { send, busy, trouble, forget } = useJob({ within: '.ask', says: 'all' })
const panel = ref<{ to: string; note: string }>()
const can = (job: string) => props.inv.may.includes(job)
const choices = computed(() =>
  receivers(
    (colleagues.value ?? []).filter((c) => c.name !== props.inv.with?.name),
    [props.inv.turn ?? ''],
    !!props.inv.with,
  ),
)
const others = computed(() => presentOn(props.inv.number))

/** Whoever has it open is seen; that it could not be said does not matter. */
const present = (leaves: boolean) =>
  void api.POST('/api/present', { body: { invoice: props.inv.number, leaves } }).catch(() => undefined)
present(false)
onUnmounted(() => present(true))

const take = () =>
  send(
    () =>
      unwrap(
        api.POST('/api/invoices/{number}/take', {
          params: { path: { number: props.inv.number } },
          body: props.inv.with ? { from: props.inv.with.name } : {},
        }),
      ),
    { done: `Invoice ${props.inv.number} is with you.` },
  )
function open() {
  emit('opens')
  forget()
  panel.value = { to: choices.value[0]?.value ?? '', note: '' }
}
async function hand() {
  const { to, note } = panel.value!
  const mine = props.inv.with?.you || (!props.inv.with && can('takeInvoice'))
  const done = await send(
    () => unwrap(api.POST('/api/invoices/hand', { body: { invoices: [props.inv.number], to, note } })),
    {
      after: () => (panel.value = undefined),
      done: (h) => handed(h),
    },
  )
  if (done && mine) emit('gone')
}
defineExpose({ close: () => (panel.value = undefined) })
useKeys(() => [
  ...(can('takeInvoice') ? [{ key: 'w', label: 'take it over', run: () => void take(), quiet: true }] : []),
  ...(can('handInvoices') && choices.value.length ? [{ key: 'd', label: 'hand it over', run: open, quiet: true }] : []),
])
</script>

<template>
  <div v-if="inv.turn || others.length" class="mt-1">
    <template v-if="inv.with">
      With <b>{{ inv.with.you ? 'you' : inv.with.name }}</b><span v-if="inv.with.by && inv.with.at" class="muted">
        · {{ inv.with.by === inv.with.name ? 'taken over' : `handed over by ${inv.with.by}` }}
        {{ showInstant(inv.with.at, today) }}</span
      ><template v-if="inv.with.note">: “{{ inv.with.note }}”</template>
    </template>
    <span v-else-if="inv.turn" class="muted">{{ turnOf(inv.turn) }}</span>
    <span v-if="others.length" role="status">
      · {{ others.join(', ') }} {{ others.length > 1 ? 'have' : 'has' }} it open
    </span>
    <button v-if="can('takeInvoice')" type="button" class="linkish ms-2" :disabled="busy" @click="take">
      Take it over
    </button>
    <button
      v-if="can('handInvoices') && choices.length && !panel"
      type="button"
      class="linkish ms-2"
      :disabled="busy"
      @click="open"
    >
      Hand it over…
    </button>
    <span v-if="trouble && !panel" class="outside-text ms-2" role="alert">{{ trouble }}</span>
    <SmallForm
      v-if="panel"
      action="Hand it over"
      label="Hand it over"
      :disabled="busy"
      @done="hand"
      @cancel="panel = undefined"
    >
      <div class="entry">
        <div>
          <label for="hand-to">To</label>
          <PickField id="hand-to" v-model="panel.to" :options="choices" />
        </div>
        <div>
          <label for="hand-note">What they should know</label>
          <TextField id="hand-note" v-model="panel.note" autocomplete="off" />
        </div>
      </div>
      <p v-if="trouble" class="text-danger mb-0" role="alert">{{ trouble }}</p>
    </SmallForm>
  </div>
</template>
