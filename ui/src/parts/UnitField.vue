<script setup lang="ts">
// A unit by its word or its UN/ECE Recommendation 20 code; a code that has no word here is taken as it is typed.
import { computed, ref, watch } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { companyQuery } from '@/api/queries'
import ChoiceField from './ChoiceField.vue'

// An absent boolean would count as false, which is a field in error.
withDefaults(
  defineProps<{
    id: string
    label: string
    state?: boolean | undefined
    described?: string | undefined
    placeholder?: string
  }>(),
  { state: undefined, described: undefined, placeholder: '' },
)
const code = defineModel<string>({ required: true })
const { data: frame } = useQuery(companyQuery)
const choices = computed(() => (frame.value?.units ?? []).map((u) => ({ value: u.code, text: u.name, also: u.code })))
const chosen = ref('')
const typed = ref('')
const meant = () => chosen.value || typed.value.trim().toUpperCase()
watch([chosen, typed], () => (code.value = meant()))
watch(
  [code, choices],
  () => {
    if (code.value === meant() && (chosen.value !== '' || !choices.value.some((c) => c.value === code.value))) return
    const known = choices.value.some((c) => c.value === code.value)
    chosen.value = known ? code.value : ''
    typed.value = known ? '' : code.value
  },
  { immediate: true },
)
</script>

<template>
  <ChoiceField
    :id="id"
    v-model="chosen"
    v-model:typed="typed"
    free
    :label="label"
    :choices="choices"
    :state="state"
    :described="described"
    :placeholder="placeholder"
  />
</template>
