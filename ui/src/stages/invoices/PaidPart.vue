<script setup lang="ts">
// On what terms an invoice is paid, and to whom, where that is not its supplier: set with a reason, confirmed by another person.
import { computed, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap, type InvoiceSheet } from '@/api/client'
import { suppliersQuery } from '@/api/queries'
import AskReason from '@/parts/AskReason.vue'
import ChoiceField from '@/parts/ChoiceField.vue'
import EntryField from '@/parts/EntryField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import TermsPart from '@/parts/TermsPart.vue'
import type { Choice } from '@/parts/choice'
import { useJob } from '@/parts/job'

const props = defineProps<{ inv: InvoiceSheet }>()
const may = (job: string) => props.inv.may.includes(job)
const form = ref<{ payee: string; note: string }>()
const confirming = ref(false)
const { at, busy, send, trouble, forget } = useJob({ within: '.ask', says: 'all' })
const { data: suppliers } = useQuery({ ...suppliersQuery, enabled: () => form.value !== undefined })
const payees = computed<Choice[]>(() =>
  (suppliers.value ?? [])
    .filter((s) => !s.ended && s.code !== props.inv.payee?.code)
    .map((s) => ({ value: s.code, text: s.name, also: s.code })),
)
const path = computed(() => ({ params: { path: { number: props.inv.number } } }))
function open() {
  forget()
  form.value = { payee: '', note: '' }
}
const set = (payee: string) =>
  send(
    () =>
      unwrap(
        api.POST('/api/invoices/{number}/payee', {
          ...path.value,
          body: { payee, note: form.value!.note, version: props.inv.version },
        }),
      ),
    {
      after: () => (form.value = undefined),
      done: payee ? 'It is paid so once somebody else has confirmed it.' : 'Its supplier is paid again.',
    },
  )
const confirm = (checked: string) =>
  send(
    () =>
      unwrap(
        api.POST('/api/invoices/{number}/payee/confirm', {
          ...path.value,
          body: { payee: props.inv.payee!.code, iban: props.inv.payee!.iban, checked, version: props.inv.version },
        }),
      ),
    {
      after: () => (confirming.value = false),
      done: `${props.inv.payee?.name} is paid for invoice ${props.inv.number}.`,
    },
  )
</script>

<template>
  <TermsPart kind="invoices" :of="inv">
    <button v-if="may('setInvoicePayee') && !inv.payee && !form" type="button" class="linkish ms-2" @click="open">
      Another payee…
    </button>
  </TermsPart>
  <p v-if="inv.payee && !form" class="finding" :class="inv.payee.confirmed ? 'within' : 'outside'">
    <b>{{ inv.payee.name }} is paid for this one</b>, at {{ inv.payee.iban }}.
    <span class="muted">{{ inv.payee.by }}: {{ inv.payee.note }}</span>
    <span v-if="inv.payee.confirmed" class="muted ms-1"
      >{{ inv.payee.confirmed }} checked it: {{ inv.payee.checked }}</span
    >
    <template v-else> Nothing is paid until another person than {{ inv.payee.by }} confirms it.</template>
    <button v-if="inv.payee.mayConfirm && !confirming" type="button" class="linkish ms-1" @click="confirming = true">
      Confirm it
    </button>
    <button v-if="may('setInvoicePayee')" type="button" class="linkish ms-1" @click="open">Another payee…</button>
  </p>
  <SmallForm v-if="form" action="Set the payee" :disabled="busy" @done="set(form.payee)" @cancel="form = undefined">
    <p class="mb-2">
      <b>Who is paid for this invoice alone</b>, in the place of its supplier: who it was assigned to, say. Another
      person confirms it before it is paid.
    </p>
    <div class="entry">
      <div>
        <label for="payee">Payee, a supplier with a bank account</label>
        <ChoiceField
          id="payee"
          v-model="form.payee"
          label="Payee"
          :choices="payees"
          :state="at('payee') ? false : undefined"
          described="payee-said"
        />
        <div id="payee-said" class="small text-danger">{{ at('payee') }}</div>
      </div>
      <EntryField id="payee-note" v-model="form.note" label="Why" :error="at('note')" />
    </div>
    <button v-if="inv.payee" type="button" class="linkish mt-2" :disabled="busy" @click="set('')">
      Pay its supplier again
    </button>
  </SmallForm>
  <AskReason
    v-if="confirming"
    id="payee-checked"
    :title="`Confirm that ${inv.payee?.name} is paid for this invoice, at ${inv.payee?.iban}.`"
    books="Books nothing; it can be paid from then on."
    label="How it was checked"
    action="Confirm it"
    :error="trouble"
    @done="confirm"
    @cancel="confirming = false"
  />
</template>
