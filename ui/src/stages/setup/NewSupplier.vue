<script setup lang="ts">
// Makes a supplier of what was typed, with the least that is needed; it is finished in Set up.
import { computed, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap } from '@/api/client'
import { suppliersQuery } from '@/api/queries'
import TextField from '@/parts/TextField.vue'
import { fits } from '@/parts/choice'
import { current } from '@/parts/session'
import { leastSupplier } from './supplier'
import { useJob } from '@/parts/job'
import { placeOf } from '@/parts/places'

const props = defineProps<{ id: string; name: string }>()
const emit = defineEmits<{ made: [code: string] }>()
const country = ref('')
const { data: suppliers } = useQuery(suppliersQuery)
/** Nobody is meant yet: what was typed begins no supplier's name or code. */
const nobody = computed(
  () => !!suppliers.value && !suppliers.value.some((s) => fits({ value: s.code, text: s.name }, props.name)),
)
const { send } = useJob()
async function make() {
  const name = props.name.trim()
  const made = await send(
    () =>
      unwrap(api.POST('/api/suppliers', { body: leastSupplier(name, country.value, current.value?.currency ?? '') })),
    {
      done: (m) => `${name} is made as ${m.number} and marked as incomplete.`,
      links: (m) => [{ to: placeOf.supplierEdit(m.number), text: 'Finish it' }],
    },
  )
  if (made) emit('made', made.number)
}
</script>

<template>
  <div v-if="nobody" class="small d-flex gap-2 align-items-center mt-1">
    <span class="muted">Nobody is called “{{ name }}” yet.</span>
    <label :for="id">Country</label>
    <TextField :id="id" v-model="country" autocomplete="off" maxlength="2" placeholder="IE" style="width: 54px" />
    <button type="button" class="linkish" :disabled="country.length !== 2" @click="make">Make this supplier now</button>
  </div>
</template>
