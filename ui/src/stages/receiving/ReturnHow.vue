<script setup lang="ts">
// What a return asks for, when and why.
import PickField from '@/parts/PickField.vue'
import TextField from '@/parts/TextField.vue'
import { today } from '@/parts/session'
import type { ReturnDraft } from './returning'

defineProps<{ problem: (field: string) => string | undefined }>()
const draft = defineModel<ReturnDraft>({ required: true })
</script>

<template>
  <div class="d-flex flex-wrap gap-3">
    <div>
      <label for="return-outcome">What is asked for</label>
      <PickField
        id="return-outcome"
        v-model="draft.outcome"
        :options="[
          { value: 'credit', text: 'credit: not expected again' },
          { value: 'replacement', text: 'replacement: expected again' },
        ]"
      />
    </div>
    <div>
      <label for="return-day" class="d-block">Day</label>
      <TextField
        id="return-day"
        v-model="draft.day"
        type="date"
        :max="today"
        :state="problem('day') ? false : undefined"
        aria-describedby="return-day-error"
      />
      <div id="return-day-error" class="small text-danger">{{ problem('day') }}</div>
    </div>
    <div style="flex: 1 1 200px">
      <label for="return-reason">Reason, as on the return note</label>
      <TextField
        id="return-reason"
        v-model="draft.reason"
        autocomplete="off"
        :state="problem('reason') ? false : undefined"
        aria-describedby="return-reason-error"
      />
      <div id="return-reason-error" class="small text-danger">{{ problem('reason') }}</div>
    </div>
  </div>
</template>
