<script setup lang="ts">
// How a supplier knows us, by which names it goes, and what is always written to it.
import { ref } from 'vue'
import { api, unwrap, type SupplierSheet } from '@/api/client'
import EntryField from '@/parts/EntryField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import { useJob } from '@/parts/job'
import { useKept } from '@/parts/kept'
import { may } from '@/parts/session'

const props = defineProps<{ supplier: SupplierSheet }>()
const form = ref<{ customerNumber: string; otherNames: string; standingText: string }>()
const { again, done: kept } = useKept(form, () => `known.${props.supplier.code}`)
const { send, busy, at } = useJob({ within: '.ask' })
const known = () => props.supplier.known ?? { customerNumber: '', otherNames: [], standingText: '' }
const change = () => (form.value = { ...known(), otherNames: known().otherNames.join('; ') })
const keep = () =>
  send(
    () =>
      unwrap(
        api.POST('/api/suppliers/{code}/known', {
          params: { path: { code: props.supplier.code } },
          body: {
            ...form.value!,
            otherNames: form
              .value!.otherNames.split(';')
              .map((n) => n.trim())
              .filter(Boolean),
          },
        }),
      ),
    { done: 'How it knows us is changed.', after: kept },
  )
</script>

<template>
  <h2 class="mb-1">
    How it knows us
    <button v-if="may('saveKnown') && !form" type="button" class="linkish" @click="change">Change</button>
  </h2>
  <SmallForm
    v-if="form"
    action="Keep it"
    label="How it knows us"
    :again="again"
    :disabled="busy"
    @done="keep"
    @cancel="form = undefined"
  >
    <div class="entry">
      <EntryField
        id="known-customer"
        v-model="form.customerNumber"
        label="Our customer number there"
        hint="printed on orders, claims and advices; its papers are known by it"
        :error="at('customerNumber')"
      />
      <EntryField
        id="known-names"
        v-model="form.otherNames"
        label="Other names it goes by"
        hint="separated by a semicolon; its papers and e-invoices are known by them"
        :error="at('otherNames')"
      />
    </div>
    <label for="known-standing">Written on every order and return note</label>
    <BFormTextarea id="known-standing" v-model="form.standingText" rows="3" aria-describedby="known-standing-error" />
    <div id="known-standing-error" class="small text-danger">{{ at('standingText') }}</div>
  </SmallForm>
  <ul v-else class="plain mb-3">
    <li>
      our customer number: <span v-if="known().customerNumber" class="mono">{{ known().customerNumber }}</span><span
        v-else
        class="muted"
        >none</span
      >
    </li>
    <li v-if="known().otherNames.length">also called: {{ known().otherNames.join('; ') }}</li>
    <li v-if="known().standingText" class="standing">always written to it: {{ known().standingText }}</li>
  </ul>
</template>

<style scoped>
.standing {
  white-space: pre-line;
}
</style>
