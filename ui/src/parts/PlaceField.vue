<script setup lang="ts">
// Where goods go or came: a place on the company's list, chosen by typing; what is typed and stands on no list is elsewhere, this once.
import { computed } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { companyQuery } from '@/api/queries'
import ChoiceField from './ChoiceField.vue'
import type { Choice } from './choice'

defineProps<{ id: string; error?: string | undefined }>()
const place = defineModel<string>('place', { required: true })
const elsewhere = defineModel<string>('elsewhere', { required: true })
const { data: frame } = useQuery(companyQuery)
const chosen = computed({
  get: () => (elsewhere.value ? '' : place.value),
  set: (v) => (place.value = v),
})
const choices = computed<Choice[]>(() => {
  const all = (frame.value?.places ?? []).filter((p) => !p.ended)
  const named = all.map((p) => ({ value: p.name, text: p.name, also: p.address }))
  const before = place.value && !all.some((p) => p.name === place.value)
  return before ? [...named, { value: place.value, text: place.value, also: '' }] : named
})
const usual = computed(() => frame.value?.places.find((p) => p.own)?.name ?? '')
</script>

<template>
  <ChoiceField
    :id="id"
    v-model="chosen"
    v-model:typed="elsewhere"
    label="Place"
    free
    :choices="choices"
    :placeholder="usual"
    :state="error ? false : undefined"
    :described="`${id}-said`"
    style="width: 150px"
  />
  <div :id="`${id}-said`" class="small" :class="error ? 'text-danger' : 'muted'">
    {{ error ?? (elsewhere ? 'elsewhere, this once' : '') }}
  </div>
</template>
