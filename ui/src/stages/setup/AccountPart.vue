<script setup lang="ts">
// What stands against a supplier's bank accounts: entered and confirmed by nobody else, or rejected by the bank.
import { computed, ref } from 'vue'
import { api, unwrap, type SupplierSheet } from '@/api/client'
import AskReason from '@/parts/AskReason.vue'
import { may } from '@/parts/session'
import { useJob } from '@/parts/job'

const props = defineProps<{ supplier: SupplierSheet }>()
interface Doubt {
  iban: string
  bic: string
  text: string
  may: boolean
}
const doubts = computed<Doubt[]>(() => {
  const s = props.supplier
  const entered = (by: string, iban: string, bic: string, what: string) =>
    `${by} entered the bank account ${iban}${bic ? ` (${bic})` : ''}; ${what} until somebody else confirms it.`
  const all: Doubt[] = (s.accounts ?? [])
    .filter((a) => a.by)
    .map((a) => ({
      iban: a.iban,
      bic: a.bic,
      may: a.mayConfirm ?? false,
      text: entered(a.by!, a.iban, a.bic, 'an invoice that names it is not released'),
    }))
  if (s.accountBy) {
    const what = s.payTo ? `and that ${s.payTo} is paid in its place; nothing is paid` : 'nothing is paid to it'
    all.unshift({
      iban: s.iban,
      bic: s.bic,
      may: s.mayConfirm ?? false,
      text: entered(s.accountBy, s.iban, s.bic, what),
    })
  } else if (s.accountRejected)
    all.unshift({
      iban: s.iban,
      bic: s.bic,
      may: true,
      text: `The bank rejected the last payment to ${s.iban}: ${s.accountRejected}. Change the account, or confirm that it is right.`,
    })
  return all
})
const confirming = ref<Doubt>()
const { send, trouble } = useJob({ says: 'all' })
const confirm = (checked: string) => {
  const { iban, bic } = confirming.value!
  return send(
    () =>
      unwrap(
        api.POST('/api/suppliers/{code}/account', {
          params: { path: { code: props.supplier.code } },
          body: { iban, bic, payTo: props.supplier.payTo, checked },
        }),
      ),
    {
      after: () => (confirming.value = undefined),
      done:
        iban === props.supplier.iban
          ? `The bank account of ${props.supplier.name} is confirmed; it can be paid.`
          : `The further account of ${props.supplier.name} is confirmed; its invoices may name it.`,
    },
  )
}
</script>

<template>
  <p v-for="d in doubts" :key="d.iban" class="outside-text mb-0 mt-1">
    {{ d.text }}
    <button v-if="d.may && may('confirmAccount')" type="button" class="linkish" @click="confirming = d">
      Confirm the account
    </button>
  </p>
  <p v-if="supplier.accountAlso?.length" class="outside-text mb-0 mt-1">
    The account belongs to {{ supplier.accountAlso.join(' and ') }} as well.
  </p>
  <AskReason
    v-if="confirming"
    id="account-checked"
    :title="`The account ${confirming.iban} is right.`"
    books="What you write stands under Decisions, for whoever asks later."
    label="How you checked it"
    action="Confirm it"
    :error="trouble"
    @done="confirm"
    @cancel="confirming = undefined"
  />
</template>
