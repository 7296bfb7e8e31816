<script setup lang="ts">
// Mails a list as it is shown now.
import { ref } from 'vue'
import { api, unwrap } from '@/api/client'
import EntryField from '@/parts/EntryField.vue'
import PickField from '@/parts/PickField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import { useJob } from '@/parts/job'
import { useKeptPanel } from '@/parts/kept'
import { forms, type Asked } from './show'

const props = defineProps<{ list: string; asked: Asked; title: string }>()
const emit = defineEmits<{ close: [] }>()
const fresh = () => ({ to: '', text: '' })
const { draft, kept, clear } = useKeptPanel(`mail.${props.list}`, fresh, () => true)
const as = ref('pdf')
const { send, busy, at } = useJob({ within: '.ask', says: ['to', 'as'] })
const mail = () =>
  send(
    () =>
      unwrap(
        api.POST('/api/list-mails', { body: { list: props.list, asked: props.asked, as: as.value, ...draft.value } }),
      ),
    {
      done: (m) => `“${props.title}” goes to ${m.to}.`,
      after: () => {
        clear()
        emit('close')
      },
    },
  )
</script>

<template>
  <SmallForm
    class="mx-3"
    action="Mail it"
    label="Mail the list"
    :again="kept"
    :disabled="busy"
    @done="mail"
    @cancel="emit('close')"
  >
    <p class="mb-2">All rows of “{{ title }}”, as it is shown now, go out as one file.</p>
    <div class="entry">
      <EntryField id="list-to" v-model="draft.to" label="To" data-first :error="at('to')" />
      <div>
        <label for="list-as">As</label>
        <PickField id="list-as" v-model="as" :options="forms" />
      </div>
    </div>
    <EntryField id="list-text" v-model="draft.text" label="With the words" />
  </SmallForm>
</template>
