<script setup lang="ts">
// Where goods go or came: a place on the company's list, or elsewhere, this once.
import { computed, nextTick, ref, watch } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { companyQuery } from '@/api/queries'
import PickField from './PickField.vue'
import TextField from './TextField.vue'

const props = defineProps<{ id: string; error?: string | undefined }>()
const place = defineModel<string>('place', { required: true })
const elsewhere = defineModel<string>('elsewhere', { required: true })
const { data: frame } = useQuery(companyQuery)
const once = '*'
const free = ref(elsewhere.value !== '')
watch(elsewhere, (typed) => {
  if (typed !== '') free.value = true
})
const chosen = computed({
  get: () => (free.value ? once : place.value),
  set: (v) => {
    free.value = v === once
    if (free.value) void nextTick(() => document.getElementById(`${props.id}-elsewhere`)?.focus())
    else [place.value, elsewhere.value] = [v, '']
  },
})
const options = computed(() => {
  const names = (frame.value?.places ?? []).filter((p) => !p.ended).map((p) => p.name)
  if (!names.includes(place.value)) names.unshift(place.value)
  return [...names.map((n) => ({ value: n, text: n || 'as usual' })), { value: once, text: 'elsewhere, this once' }]
})
const address = computed(() => frame.value?.places.find((p) => p.name === place.value)?.address ?? '')
</script>

<template>
  <PickField :id="id" v-model="chosen" :options="options" :state="error ? false : undefined" :title="address" />
  <template v-if="free">
    <label :for="`${id}-elsewhere`" class="visually-hidden">Elsewhere, this once</label>
    <TextField
      :id="`${id}-elsewhere`"
      v-model="elsewhere"
      class="mt-1"
      autocomplete="off"
      maxlength="200"
      placeholder="place or address"
    />
  </template>
  <div v-if="error" class="small text-danger" role="alert">{{ error }}</div>
</template>
