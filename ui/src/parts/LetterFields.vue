<script setup lang="ts">
// What a supplier is told, and how: by mail, with its subject and text, or otherwise.
import PickField from '@/parts/PickField.vue'
import TextField from '@/parts/TextField.vue'
import type { Telling } from './telling'

const props = defineProps<{ contact: string; problem: (field: string) => string | undefined }>()
const telling = defineModel<Telling>({ required: true })
const state = (field: string) => (props.problem(field) ? false : undefined)
</script>

<template>
  <div class="d-flex flex-wrap gap-3 mb-2">
    <div>
      <label for="send-way">How</label>
      <PickField
        id="send-way"
        v-model="telling.way"
        :options="[
          { value: 'mail', text: 'by mail' },
          { value: 'otherwise', text: 'told otherwise' },
        ]"
      />
    </div>
    <div class="flex-grow-1">
      <label for="send-to">{{ telling.way === 'mail' ? 'To' : 'Who was told, and how' }}</label>
      <TextField
        id="send-to"
        v-model="telling.to"
        data-first
        autocomplete="off"
        :state="state('to')"
        aria-describedby="send-to-error"
      />
      <div id="send-to-error" class="small text-danger">{{ problem('to') }}</div>
      <div v-if="contact && telling.way === 'mail'" class="small muted">{{ contact }}</div>
    </div>
  </div>
  <template v-if="telling.way === 'mail'">
    <label for="send-subject">Subject</label>
    <TextField
      id="send-subject"
      v-model="telling.subject"
      autocomplete="off"
      :state="state('subject')"
      aria-describedby="send-subject-error"
    />
    <div id="send-subject-error" class="small text-danger">{{ problem('subject') }}</div>
    <label for="send-text" class="mt-2">Text</label>
    <BFormTextarea id="send-text" v-model="telling.text" rows="5" />
  </template>
</template>
