<script setup lang="ts">
// What an order waits for an approver with, and the decision: approve, refuse, or pass on.
import { computed, ref } from 'vue'
import { api, unwrap, type OrderSheet } from '@/api/client'
import PickField from '@/parts/PickField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import TextField from '@/parts/TextField.vue'
import { useJob } from '@/parts/job'
import { useKept } from '@/parts/kept'
import { useKeys } from '@/parts/keys'
import { show, showInstant } from '@/parts/numbers'
import { today } from '@/parts/session'

const props = defineProps<{ order: OrderSheet }>()
const asked = computed(() => props.order.waits)
const changes = computed(() => (asked.value?.says.length ?? 0) > 0)
const may = (job: string) => props.order.may.includes(job)
const ways = computed(() => [
  {
    job: 'approveOrder',
    label: 'Approve it',
    books: changes.value ? 'The order is changed.' : 'It is issued today and goes out as it was written.',
  },
  {
    job: 'refuseOrder',
    label: 'Refuse it',
    books: changes.value ? 'The order stays as it is.' : 'The order ends here; its number is not used again.',
  },
  { job: 'passOrder', label: 'Pass it on', books: 'It is somebody else’s turn.' },
])
const whose = computed(() =>
  asked.value?.approvers.length
    ? `${asked.value.approvers.map((a) => a.name).join(', ')} may approve it.`
    : 'Nobody here has the authority; an administrator can give it.',
)
const mine = computed(() => ways.value.some((w) => may(w.job)))
const form = ref<{ way: string; note: string; to: string }>()
const others = computed(() => (asked.value?.approvers ?? []).map((a) => ({ value: a.login, text: a.name })))
const { send, trouble, forget } = useJob({ says: 'all' })
const { again, done: kept } = useKept(form, () => `approval.${props.order.number}`)
function begin() {
  forget()
  form.value = {
    way: ways.value.find((w) => may(w.job))?.job ?? '',
    note: '',
    to: others.value[0]?.value ?? '',
  }
}
const said: Record<string, string> = { approveOrder: 'Approved.', refuseOrder: 'Refused.', passOrder: 'Passed on.' }
async function decide({ way, note, to }: { way: string; note: string; to: string }) {
  const params = { path: { number: props.order.number } }
  const version = props.order.version
  const done = await send(
    () =>
      way === 'approveOrder'
        ? unwrap(api.POST('/api/orders/{number}/approve', { params, body: { version, note } }))
        : way === 'refuseOrder'
          ? unwrap(api.POST('/api/orders/{number}/refuse', { params, body: { version, note } }))
          : unwrap(api.POST('/api/orders/{number}/pass', { params, body: { version, note, to } })),
    { done: said[way] ?? '' },
  )
  if (done) kept()
}
useKeys(() => (asked.value && mine.value && !form.value ? [{ key: '1', label: 'decide', run: begin }] : []))
</script>

<template>
  <div v-if="asked" class="finding waiting mb-3">
    <p class="mb-1">
      <b>{{ changes ? 'A change waits for an approver.' : 'It waits for an approver.' }}</b>
      {{ show(asked.net) }} {{ asked.currency }} without tax is above the authority of {{ asked.by }}, who asked
      {{ showInstant(asked.at, today) }}.
    </p>
    <ul v-if="changes" class="mb-1">
      <li v-for="c in asked.says" :key="c">{{ c }}</li>
    </ul>
    <p v-for="o in asked.over" :key="o" class="mb-1 outside-text">{{ o }}</p>
    <p v-if="asked.passedTo" class="mb-1">
      Passed on to {{ asked.passedTo }} by {{ asked.passedBy
      }}<template v-if="asked.passedNote">: “{{ asked.passedNote }}”</template>.
    </p>
    <p v-if="asked.hands" class="mb-1 muted">{{ asked.hands }} {{ whose }}</p>
    <button v-if="mine && !form" type="button" class="linkish" @click="begin">Decide… <kbd>1</kbd></button>
    <SmallForm
      v-if="form"
      :action="ways.find((w) => w.job === form?.way)?.label ?? ''"
      :disabled="!form.way"
      :again="again"
      @done="decide(form)"
      @cancel="form = undefined"
    >
      <fieldset>
        <legend class="visually-hidden">Ways to decide</legend>
        <div v-for="w in ways" :key="w.job" class="form-check">
          <input
            :id="`order-${w.job}`"
            v-model="form.way"
            class="form-check-input"
            type="radio"
            name="order-decision"
            :value="w.job"
            :disabled="!may(w.job)"
          />
          <label class="form-check-label" :for="`order-${w.job}`"
            ><b>{{ w.label }}.</b> {{ w.books }}</label
          >
        </div>
      </fieldset>
      <div v-if="form.way === 'passOrder'" class="mb-2">
        <label for="order-to">To whom</label>
        <PickField id="order-to" v-model="form.to" :options="others" />
      </div>
      <label for="order-note">{{ form.way === 'refuseOrder' ? 'Why it is not ordered' : 'Note' }}</label>
      <TextField
        id="order-note"
        v-model="form.note"
        data-first
        autocomplete="off"
        :state="trouble ? false : undefined"
        aria-describedby="order-note-trouble"
      />
      <div id="order-note-trouble" class="small text-danger" role="alert">{{ trouble }}</div>
    </SmallForm>
  </div>
</template>
