<script setup lang="ts">
// Asks in place for a reason before something is done, and says first what it will book.
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import SmallForm from '@/parts/SmallForm.vue'
import TextField from '@/parts/TextField.vue'
import TickBox from '@/parts/TickBox.vue'
import PickField from '@/parts/PickField.vue'
import { useKeptPanel } from '@/parts/kept'

const props = defineProps<{
  id: string
  title: string
  books: string
  label: string
  action: string
  options?: Record<string, string>
  error?: string
  optional?: boolean
  choose?: string
  /** What the supplier is told of it by mail, and where; the reason is put in its place. */
  letter?: { to: string; text: string } | undefined
}>()
const emit = defineEmits<{ done: [text: string, option: string, tell: boolean]; cancel: [] }>()
const fresh = () => ({ text: '', untold: false, option: Object.keys(props.options ?? {})[0] ?? '' })
const name = `reason.${useRoute().path}.${props.title}`
const { draft: typed, kept, send, leave: stay } = useKeptPanel(name, fresh, () => !!props.error)
const option = computed({
  get: () => (typed.value.option in (props.options ?? {}) ? typed.value.option : fresh().option),
  set: (o) => (typed.value.option = o),
})
const tells = computed(() => !!props.letter?.to && !typed.value.untold)
function done() {
  send()
  emit('done', typed.value.text, option.value, tells.value)
}
function leave() {
  stay()
  emit('cancel')
}
</script>

<template>
  <SmallForm :action="action" :again="kept" @done="done" @cancel="leave">
    <p class="mb-2">
      <b>{{ title }}</b> {{ books }}
    </p>
    <div v-if="options" class="mb-2">
      <label :for="`${id}-option`">{{ choose ?? 'Reason' }}</label>
      <PickField
        :id="`${id}-option`"
        v-model="option"
        :options="Object.entries(options).map(([value, text]) => ({ value, text }))"
      />
    </div>
    <label :for="id">{{ label }}</label>
    <TextField
      :id="id"
      v-model="typed.text"
      data-first
      autocomplete="off"
      :state="error ? false : undefined"
      :aria-describedby="`${id}-error`"
    />
    <div :id="`${id}-error`" class="small text-danger">{{ error }}</div>
    <template v-if="letter?.to">
      <TickBox
        :id="`${id}-told`"
        :model-value="!typed.untold"
        class="mt-2"
        @update:model-value="(v: boolean) => (typed.untold = !v)"
        >Tell the supplier by mail, {{ letter.to }}</TickBox
      >
      <p v-if="tells" class="letter-text mb-1" tabindex="0" aria-label="The letter">
        {{ letter.text.replace('…', typed.text || '…') }}
      </p>
    </template>
  </SmallForm>
</template>
