<script setup lang="ts">
// A supplier's statement that was kept, beside what is here now; what is missing is asked for by one mail.
import { computed, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { useRoute, useRouter } from 'vue-router'
import { api, unwrap } from '@/api/client'
import EntryField from '@/parts/EntryField.vue'
import KeptPapers from '@/parts/KeptPapers.vue'
import SmallForm from '@/parts/SmallForm.vue'
import { useJob } from '@/parts/job'
import { useKept } from '@/parts/kept'
import { useKeys } from '@/parts/keys'
import { showDay, showInstant } from '@/parts/numbers'
import { placeOf } from '@/parts/places'
import { may, today } from '@/parts/session'
import LookFrame from './LookFrame.vue'
import StatementPairs from './StatementPairs.vue'

const route = useRoute()
const router = useRouter()
const number = computed(() => Number(route.params['number']))
const { data, error } = useQuery({
  queryKey: ['supplier-statement', number],
  queryFn: () => unwrap(api.GET('/api/supplier-statements/{number}', { params: { path: { number: number.value } } })),
})
const form = ref<{ to: string; subject: string; text: string }>()
const { again, done: kept } = useKept(form, () => `statement.ask.${number.value}`)
const { send, busy, at } = useJob({ within: '.ask', says: ['to', 'text'] })
const ask = () => data.value?.mail && (form.value = { ...data.value.mail })
const mail = () =>
  send(
    () =>
      unwrap(
        api.POST('/api/supplier-statements/{number}/ask', {
          params: { path: { number: number.value } },
          body: form.value!,
        }),
      ),
    { done: `${data.value?.supplierName} is asked for what is missing.`, after: kept },
  )
useKeys(() => [
  { key: 'Escape', label: 'all statements', run: () => void router.push('/lookup/statements') },
  ...(data.value?.mail && may('askStatement') ? [{ key: 'a', label: 'ask for what is missing', run: ask }] : []),
])
</script>

<template>
  <LookFrame
    label="A supplier’s statement"
    :title="data ? `Statement of ${data.supplierName}, ${showDay(data.day, today)}` : ''"
    :says="data ? `kept by ${data.by}, ${showInstant(data.at ?? '', today)}; beside what is here now` : ''"
    :error="error"
    :ready="data !== undefined"
  >
    <template #head>
      <RouterLink v-if="data" class="ms-auto" :to="placeOf.supplier(data.supplier)">the supplier</RouterLink>
    </template>
    <template v-if="data">
      <SmallForm
        v-if="form"
        class="mb-3"
        action="Mail it"
        label="Ask for what is missing"
        :again="again"
        :disabled="busy"
        @done="mail"
        @cancel="form = undefined"
      >
        <EntryField id="ask-to" v-model="form.to" label="To" :error="at('to')" />
        <EntryField id="ask-subject" v-model="form.subject" label="Subject" :error="at('subject')" />
        <label for="ask-text">Text</label>
        <textarea id="ask-text" v-model="form.text" class="form-control" rows="9" data-first></textarea>
        <div class="small text-danger">{{ at('text') }}</div>
      </SmallForm>
      <div v-for="(a, i) in data.asked" :key="i" class="mb-2">
        <b>Asked for by {{ a.by }}, {{ showInstant(a.at, today) }}</b
        >, to {{ a.to }}
      </div>
      <StatementPairs :statement="data" />
      <KeptPapers on="statement" :of="number" />
    </template>
    <template #foot>
      <footer v-if="!form && data?.mail && may('askStatement')" class="bar">
        <BButton variant="primary" @click="ask">Ask for what is missing…</BButton>
      </footer>
    </template>
  </LookFrame>
</template>
