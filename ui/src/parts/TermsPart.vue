<script setup lang="ts">
// The terms of payment of one order or one invoice, where they are its own, and how they are set.
import { computed, ref } from 'vue'
import { api, unwrap, type TermsSeen } from '@/api/client'
import EntryField from './EntryField.vue'
import SmallForm from './SmallForm.vue'
import TermsFields from './TermsFields.vue'
import { useJob } from './job'
import { saidTerms, typedTerms, untypedTerms, type TypedTerms } from './terms'

const props = defineProps<{
  kind: 'orders' | 'invoices'
  of: { number: number; version: number; terms?: TermsSeen; may: string[] }
}>()
const seen = computed(() => props.of.terms)
const may = computed(() => props.of.may.includes(props.kind === 'orders' ? 'setOrderTerms' : 'setInvoiceTerms'))
const form = ref<TypedTerms>()
const note = ref('')
const { at, busy, send, forget } = useJob({ within: '.ask' })
function open() {
  forget()
  note.value = ''
  if (seen.value) form.value = typedTerms(seen.value.terms)
}
async function set(own: boolean) {
  const body = {
    note: note.value,
    version: props.of.version,
    ...(own && form.value ? { terms: untypedTerms(form.value) } : {}),
  }
  const path = { params: { path: { number: props.of.number } }, body }
  await send(
    async () =>
      props.kind === 'orders'
        ? void (await unwrap(api.POST('/api/orders/{number}/terms', path)))
        : void (await unwrap(api.POST('/api/invoices/{number}/terms', path))),
    { after: () => (form.value = undefined), done: own ? 'The terms are set.' : 'The supplier’s terms hold again.' },
  )
}
</script>

<template>
  <p v-if="seen && !form && (seen.note || may)" :class="seen.note ? 'finding within' : 'muted mb-1'">
    <template v-if="seen.note"
      ><b>Terms of its own:</b> {{ saidTerms(seen.terms) }}.
      <span class="muted">{{ seen.by }}: {{ seen.note }}</span></template
    ><template v-else>Terms of the supplier: {{ saidTerms(seen.terms) }}.</template>
    <button v-if="may" type="button" class="linkish ms-1" @click="open">Other terms…</button>
    <slot />
  </p>
  <SmallForm v-if="form" action="Set the terms" :disabled="busy" @done="set(true)" @cancel="form = undefined">
    <p class="mb-2">
      <b>Terms of payment for this {{ kind === 'orders' ? 'order and its invoices' : 'invoice' }}</b
      >, in the place of the supplier’s. What a run holds stays as it is.
    </p>
    <TermsFields id="own-terms" v-model="form" :at="at" />
    <div class="mt-2">
      <EntryField id="own-terms-note" v-model="note" label="Why" :error="at('note')" />
    </div>
    <button v-if="seen?.note" type="button" class="linkish mt-2" :disabled="busy" @click="set(false)">
      Take the supplier’s again
    </button>
  </SmallForm>
</template>
