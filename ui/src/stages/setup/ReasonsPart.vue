<script setup lang="ts">
// Reasons of holds of the company's own, beside those that every Lagoon has.
import { ref } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { api, unwrap, type Frame } from '@/api/client'
import EntryField from '@/parts/EntryField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import { useJob } from '@/parts/job'
import { useKept } from '@/parts/kept'
import { tell } from '@/parts/notice'
import { may } from '@/parts/session'

defineProps<{ frame: Frame }>()
const client = useQueryClient()
const { at, send, busy } = useJob({ within: '.ask' })
const form = ref<{ name: string }>()
const { again, done: kept } = useKept(form, () => 'hold-reason')
async function keep(name: string, ended: boolean) {
  if (!(await send(() => unwrap(api.POST('/api/hold-reasons', { body: { name, ended } }))))) return
  kept()
  tell(ended ? `“${name}” is offered no more.` : `“${name}” is offered as a reason of holds.`)
  await client.invalidateQueries()
}
</script>

<template>
  <div>
    <h2>
      Reasons of holds
      <button v-if="may('saveHoldReason')" type="button" class="linkish" @click="form = { name: '' }">
        Add a reason
      </button>
    </h2>
    <SmallForm
      v-if="form"
      :again="again"
      action="Keep the reason"
      @done="keep(form.name, false)"
      @cancel="form = undefined"
    >
      <EntryField
        id="reason-name"
        v-model="form.name"
        label="In a few words"
        hint="as it stands on sheets and in lists"
        :error="at('name')"
      />
    </SmallForm>
    <ul class="plain mb-3">
      <li v-for="r in frame.holdReasons" :key="r.code">
        {{ r.name }}
        <button
          v-if="may('saveHoldReason') && frame.ownReasons?.some((o) => o.name === r.code)"
          type="button"
          class="linkish"
          :aria-label="`Offer no more: ${r.name}`"
          :disabled="busy"
          @click="keep(r.name, true)"
        >
          Offer no more
        </button>
      </li>
    </ul>
  </div>
</template>
