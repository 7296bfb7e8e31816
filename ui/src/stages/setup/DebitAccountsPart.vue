<script setup lang="ts">
// The accounts of ours that money leaves.
import { ref } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { api, unwrap, type Frame } from '@/api/client'
import EntryField from '@/parts/EntryField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import TickBox from '@/parts/TickBox.vue'
import { useJob } from '@/parts/job'
import { useKept } from '@/parts/kept'
import { may } from '@/parts/session'

defineProps<{ frame: Frame }>()
const client = useQueryClient()
const { at, send, busy } = useJob({ within: '.ask' })
type Account = Frame['debitAccounts'][number]
const form = ref<{ iban: string; bic: string; name: string; ended: boolean; there: boolean }>()
const { again, done: kept } = useKept(form, (a) => `debit.${a.there ? a.iban : 'new'}`)
const open = (a?: Account) =>
  (form.value = {
    iban: a?.iban ?? '',
    bic: a?.bic ?? '',
    name: a?.name ?? '',
    ended: a?.ended ?? false,
    there: a !== undefined,
  })
async function keep() {
  const { iban, bic, name, ended } = form.value!
  await send(() => unwrap(api.POST('/api/debit-accounts', { body: { iban, bic, name, ended } })), {
    after: () => {
      kept()
      form.value = undefined
      void client.invalidateQueries()
    },
    done: ended ? `No run leaves ${name} any more.` : `Runs may leave ${name}.`,
  })
}
</script>

<template>
  <section aria-label="Accounts of ours">
    <h2>
      Accounts that money leaves
      <button v-if="may('saveDebitAccount')" type="button" class="linkish" @click="open()">Add an account</button>
    </h2>
    <SmallForm
      v-if="form"
      :again="again"
      action="Keep the account"
      label="Account of ours"
      :disabled="busy"
      @done="keep"
      @cancel="form = undefined"
    >
      <p class="mb-2">
        A further account in the company’s currency. Each run leaves one of them, and makes a file for it; the
        statements of all are read. In the ledger they are one account.
      </p>
      <div class="entry">
        <EntryField
          id="debit-iban"
          v-model="form.iban"
          class="mono"
          label="IBAN"
          :disabled="form.there"
          :error="at('iban')"
        />
        <EntryField id="debit-bic" v-model="form.bic" class="mono" label="BIC" :error="at('bic')" />
        <EntryField id="debit-name" v-model="form.name" label="Name" :error="at('name')" />
      </div>
      <TickBox v-if="form.there" v-model="form.ended">No run leaves it any more</TickBox>
    </SmallForm>
    <ul class="plain mb-3">
      <li v-for="a in frame.debitAccounts" :key="a.iban">
        <span class="mono">{{ a.iban }}</span> {{ a.own ? 'the company’s own' : a.name
        }}<span v-if="a.ended" class="muted"> · ended</span>
        <button
          v-if="!a.own && may('saveDebitAccount')"
          type="button"
          class="linkish ms-1"
          :aria-label="`Change ${a.name}`"
          @click="open(a)"
        >
          Change
        </button>
      </li>
    </ul>
  </section>
</template>
