<script setup lang="ts">
// Who is spoken to at a supplier. One contact can serve several suppliers.
import { computed, ref } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { api, unwrap, type Contact, type SupplierSheet } from '@/api/client'
import MoreRows from '@/parts/MoreRows.vue'
import EntryField from '@/parts/EntryField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import PickField from '@/parts/PickField.vue'
import TickBox from '@/parts/TickBox.vue'
import { tell } from '@/parts/notice'
import { may as allowed } from '@/parts/session'
import { useJob } from '@/parts/job'
import { useKept } from '@/parts/kept'
import { purposes } from './supplier'

const props = defineProps<{ supplier: SupplierSheet }>()
const client = useQueryClient()
const { at, send, busy } = useJob({ within: '.ask' })
const may = computed(() => allowed('saveContact'))
const form = ref<Contact>()
const { again, done: kept } = useKept(form, (c) => `contact.${props.supplier.code}.${c.number ?? 'new'}`)
const other = ref(0)
const others = computed(() => [
  { value: 0, text: 'somebody new' },
  ...(props.supplier.others ?? []).map((c) => ({
    value: c.number ?? 0,
    text: [c.name, c.role].filter(Boolean).join(', '),
  })),
])
function add() {
  other.value = 0
  form.value = { name: '', role: '', mail: '', phone: '', language: '', purposes: [...purposes] }
}
function takeOther(number: number) {
  const known = props.supplier.others?.find((c) => c.number === number)
  if (known) form.value = { ...known, purposes: [...purposes] }
  else add()
}
function toggle(purpose: string) {
  const f = form.value
  if (f) f.purposes = f.purposes.includes(purpose) ? f.purposes.filter((p) => p !== purpose) : [...f.purposes, purpose]
}
async function keep(contact: Contact) {
  const done = await send(() =>
    unwrap(
      api.POST('/api/suppliers/{code}/contacts', { params: { path: { code: props.supplier.code } }, body: contact }),
    ),
  )
  if (!done) return
  kept()
  tell(contact.ended ? `${contact.name} is no contact of ${props.supplier.name} any more.` : `${contact.name} is kept.`)
  await client.invalidateQueries()
}
</script>

<template>
  <h2>Contacts <button v-if="may" type="button" class="linkish" @click="add">Add a contact</button></h2>
  <SmallForm v-if="form" :again="again" action="Keep the contact" @done="keep(form)" @cancel="form = undefined">
    <div class="entry">
      <div v-if="!supplier.contacts?.some((c) => c.number === form?.number) && others.length > 1">
        <label for="contact-other">Who</label>
        <PickField id="contact-other" v-model="other" :options="others" @update:model-value="takeOther" />
        <MoreRows :more="supplier.moreOthers" way="Open one of their suppliers to see them." />
      </div>
      <EntryField id="contact-name" v-model="form.name" label="Name" :error="at('name')" />
      <EntryField id="contact-role" v-model="form.role" label="Role" />
      <EntryField id="contact-mail" v-model="form.mail" label="Mail" :error="at('mail')" />
      <EntryField id="contact-phone" v-model="form.phone" label="Telephone" />
    </div>
    <TickBox
      v-for="p in purposes"
      :key="p"
      inline
      :model-value="form.purposes.includes(p)"
      @update:model-value="toggle(p)"
      >for {{ p }}</TickBox
    >
  </SmallForm>
  <p v-if="!supplier.contacts?.length && !form" class="muted">
    Nobody yet. Orders are mailed to a contact for ordering.
  </p>
  <ul class="plain mb-3">
    <li v-for="c in supplier.contacts ?? []" :key="c.number">
      <b>{{ c.name }}</b> {{ [c.role, c.mail, c.phone].filter(Boolean).join(' · ') }}
      <span class="muted">{{ c.purposes.length < purposes.length ? `(${c.purposes.join(', ')})` : '' }}</span>
      <template v-if="may">
        <button type="button" class="linkish" :aria-label="`Change ${c.name}`" @click="form = { ...c }">Change</button>
        <button
          type="button"
          class="linkish"
          :aria-label="`End ${c.name}`"
          :disabled="busy"
          @click="keep({ ...c, ended: true })"
        >
          End
        </button>
      </template>
    </li>
  </ul>
</template>
