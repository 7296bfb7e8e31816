<script setup lang="ts">
// What is left of the budgets of a year is given to them in the next: all that have something left, but for what is taken out.
import { computed, ref } from 'vue'
import { api, unwrap } from '@/api/client'
import EntryField from '@/parts/EntryField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import TickBox from '@/parts/TickBox.vue'
import { useJob } from '@/parts/job'
import { show, sums } from '@/parts/numbers'

const props = defineProps<{ year: string; currency: string; budgets: { code: string; name: string; left: string }[] }>()
const emit = defineEmits<{ left: [] }>()
const without = ref<string[]>([])
const reason = ref('')
const next = computed(() => String(Number(props.year) + 1))
const chosen = computed(() => props.budgets.filter((b) => !without.value.includes(b.code)))
const sum = computed(() => sums(chosen.value.map((b) => ({ amount: b.left, currency: props.currency }))))
const { send, busy, trouble } = useJob({ within: '.ask', says: 'all' })
const carry = () =>
  send(
    () =>
      unwrap(
        api.POST('/api/budget-carries', {
          body: { year: props.year, budgets: chosen.value.map((b) => b.code), reason: reason.value },
        }),
      ),
    { done: `${sum.value} are carried over from ${props.year} to ${next.value}.`, after: () => emit('left') },
  )
</script>

<template>
  <SmallForm
    class="mb-3"
    :action="`Carry over to ${next}`"
    label="Carry over"
    :disabled="busy || !chosen.length"
    @done="carry"
    @cancel="emit('left')"
  >
    <p class="mb-2">
      <b>What is left of {{ year }} is given to {{ next }}.</b> It is taken off {{ year }}, so that both years together
      have as much as before; to take it back, change both amounts.
    </p>
    <TickBox
      v-for="b in budgets"
      :key="b.code"
      :model-value="!without.includes(b.code)"
      @update:model-value="(on: boolean) => (without = on ? without.filter((c) => c !== b.code) : [...without, b.code])"
      >{{ b.code }} {{ b.name }}: {{ show(b.left) }}</TickBox
    >
    <p class="mt-2 mb-2">Together {{ sum || `0 ${currency}` }}.</p>
    <div class="entry">
      <EntryField id="carry-reason" v-model="reason" label="Why" hint="empty: that it is carried over" data-first />
    </div>
    <p v-if="trouble" class="text-danger mb-0" role="alert">{{ trouble }}</p>
  </SmallForm>
</template>
