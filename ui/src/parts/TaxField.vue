<script setup lang="ts">
// A line's tax: a rate in per cent, or a tax code; what the code stands for is echoed.
import { computed } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { companyQuery } from '@/api/queries'
import TextField from '@/parts/TextField.vue'
import { read, show } from './numbers'

defineProps<{ id: string; label: string; error?: string }>()
const typed = defineModel<string>({ required: true })
const { data: frame } = useQuery(companyQuery)
const codes = computed(() => (frame.value?.taxes ?? []).filter((t) => !t.ended))
const echo = computed(() => {
  const code = codes.value.find((t) => t.code.toLowerCase() === typed.value.trim().toLowerCase())
  if (!code) return ''
  if (['AE', 'K'].includes(code.category)) return 'reverse charge'
  const rate = code.rates.at(-1)
  return rate ? `${show(rate.rate)} %` : ''
})
const wrong = computed(() => {
  const text = typed.value.trim()
  return text !== '' && !/\p{L}/u.test(text) && read(text) === undefined ? 'Not a rate.' : ''
})
</script>

<template>
  <div>
    <TextField
      :id="id"
      v-model="typed"
      autocomplete="off"
      :list="codes.length ? `${id}-codes` : undefined"
      :aria-label="label"
      :aria-describedby="`${id}-said`"
      :state="error || wrong ? false : undefined"
    />
    <datalist v-if="codes.length" :id="`${id}-codes`">
      <option v-for="c in codes" :key="c.code" :value="c.code">{{ c.name }}</option>
    </datalist>
    <div :id="`${id}-said`" class="small" :class="error || wrong ? 'text-danger' : 'muted'">
      {{ error || wrong || echo }}
    </div>
  </div>
</template>
