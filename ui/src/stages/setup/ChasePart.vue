<script setup lang="ts">
// After how many days what is awaited is chased: of all suppliers, or of one.
import { computed, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap, type ChaseDays } from '@/api/client'
import EntryField from '@/parts/EntryField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import { useJob } from '@/parts/job'
import { may as allowed, person } from '@/parts/session'

const props = defineProps<{ supplier?: string }>()
const { data } = useQuery({
  queryKey: ['chase', () => props.supplier],
  queryFn: () =>
    unwrap(api.GET('/api/chase', { params: { query: props.supplier ? { supplier: props.supplier } : {} } })),
})
const may = computed(
  () => allowed('saveChase') && (props.supplier !== undefined || person.value?.roles.includes('administrator')),
)
const form = ref<ChaseDays>()
const { send, busy, at } = useJob({ within: '.ask' })
const keep = () =>
  send(
    () =>
      unwrap(
        api.POST('/api/chase', {
          body: { days: form.value!, ...(props.supplier ? { supplier: props.supplier } : {}) },
        }),
      ),
    { done: 'What is chased is changed.', after: () => (form.value = undefined) },
  )
const what = [
  { key: 'acknowledgement', text: 'an order that nobody acknowledged', label: 'Not acknowledged, days since issue' },
  { key: 'goods', text: 'goods that are late', label: 'Late goods, days since wanted' },
  { key: 'invoice', text: 'an invoice that waits for goods', label: 'Waiting invoice, days since it waits' },
  { key: 'notice', text: 'goods that are not announced', label: 'Not announced, days before wanted' },
] as const
const says = (key: keyof ChaseDays) => {
  const days = data.value?.own[key] || data.value?.otherwise[key] || ''
  const many = `${days} ${days === '1' ? 'day' : 'days'}`
  if (key === 'notice') return days === 'never' ? 'no notice is required' : `${many} before they are wanted`
  return days === 'never' ? 'never' : `after ${many}`
}
const whose = (key: keyof ChaseDays) =>
  data.value?.own[key] ? '' : props.supplier ? ', as of all suppliers' : ', as nobody said otherwise'
</script>

<template>
  <h2>
    What is chased
    <button v-if="may && data && !form" type="button" class="linkish" @click="form = { ...data.own }">Change</button>
  </h2>
  <SmallForm
    v-if="form"
    action="Keep it"
    label="What is chased"
    :disabled="busy"
    @done="keep"
    @cancel="form = undefined"
  >
    <div class="entry">
      <EntryField
        v-for="w in what"
        :id="`chase-${w.key}`"
        :key="w.key"
        v-model="form[w.key]"
        :label="w.label"
        :hint="`never, or a number; empty: ${data?.otherwise[w.key]}`"
        :error="at(w.key)"
      />
    </div>
  </SmallForm>
  <ul v-if="data" class="plain mb-3">
    <li v-for="w in what" :key="w.key">
      {{ w.text }}: {{ says(w.key) }}<span class="muted">{{ whose(w.key) }}</span>
    </li>
  </ul>
</template>
