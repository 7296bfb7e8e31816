<script setup lang="ts">
// What is to be known of a supplier: of a kind, for a time, shown where it matters.
import { computed, ref } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { api, unwrap, type SupplierNote, type SupplierSheet } from '@/api/client'
import EntryField from '@/parts/EntryField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import PickField from '@/parts/PickField.vue'
import TickBox from '@/parts/TickBox.vue'
import { tell } from '@/parts/notice'
import { showDay } from '@/parts/numbers'
import { may as allowed, today } from '@/parts/session'
import { useJob } from '@/parts/job'
import { useKept } from '@/parts/kept'

const props = defineProps<{ supplier: SupplierSheet }>()
const client = useQueryClient()
const { at, send, busy } = useJob({ within: '.ask' })
const may = computed(() => allowed('saveNote'))
const form = ref<SupplierNote>()
const { again, done: kept } = useKept(form, (n) => `note.${props.supplier.code}.${n.no ?? 'new'}`)
const kinds = ['general', 'delivery', 'quality', 'price', 'payment'].map((k) => ({ value: k, text: k }))
const stages = ['orders', 'receiving', 'invoices', 'payments']
const urgentFirst = computed(() =>
  [...(props.supplier.notes ?? [])].sort((a, b) => Number(b.urgent) - Number(a.urgent)),
)

const add = () =>
  (form.value = { kind: 'general', urgent: false, text: '', from: today.value, until: '', stages: [...stages] })
function toggle(stage: string) {
  const f = form.value
  if (f) f.stages = f.stages.includes(stage) ? f.stages.filter((x) => x !== stage) : [...f.stages, stage]
}
async function keep(note: SupplierNote) {
  const done = await send(() =>
    unwrap(api.POST('/api/suppliers/{code}/notes', { params: { path: { code: props.supplier.code } }, body: note })),
  )
  if (!done) return
  kept()
  tell(note.ended ? 'The note is taken off.' : 'The note is kept.')
  await client.invalidateQueries()
}
const capital = (text: string) => text.slice(0, 1).toUpperCase() + text.slice(1)
const validity = (n: SupplierNote) =>
  [n.from && `from ${showDay(n.from, today.value)}`, n.until && `until ${showDay(n.until, today.value)}`]
    .filter(Boolean)
    .join(' ')
</script>

<template>
  <h2>Notes <button v-if="may" type="button" class="linkish" @click="add">Add a note</button></h2>
  <SmallForm v-if="form" :again="again" action="Keep the note" @done="keep(form)" @cancel="form = undefined">
    <EntryField id="note-text" v-model="form.text" class="mb-2" label="What is to be known" :error="at('text')" />
    <div class="entry">
      <div>
        <label for="note-kind">Kind</label>
        <PickField id="note-kind" v-model="form.kind" :options="kinds" />
      </div>
      <EntryField id="note-from" v-model="form.from" type="date" label="From" />
      <EntryField id="note-until" v-model="form.until" type="date" label="Until (blank: no end)" :error="at('until')" />
      <TickBox v-model="form.urgent" class="tick">Urgent</TickBox>
    </div>
    <fieldset>
      <legend class="fs-6 fw-normal mb-0">Shown when used in</legend>
      <TickBox
        v-for="x in stages"
        :key="x"
        inline
        :model-value="form.stages.includes(x)"
        @update:model-value="toggle(x)"
        >{{ x }}</TickBox
      >
      <div class="small text-danger">{{ at('stages') }}</div>
    </fieldset>
  </SmallForm>
  <p v-if="!urgentFirst.length && !form" class="muted">
    None. A note is shown in the stages it is for, while it is valid.
  </p>
  <ul class="plain mb-3">
    <li v-for="n in urgentFirst" :key="n.no">
      <b :class="{ 'outside-text': n.urgent }">{{ n.urgent ? `Urgent, ${n.kind}` : capital(n.kind) }}</b>: {{ n.text }}
      <span class="muted">{{ [n.stages.join(', '), validity(n)].filter(Boolean).join('; ') }}</span>
      <template v-if="may">
        <button type="button" class="linkish" :aria-label="`Change note ${n.no}`" @click="form = { ...n }">
          Change
        </button>
        <button
          type="button"
          class="linkish"
          :aria-label="`Take off note ${n.no}`"
          :disabled="busy"
          @click="keep({ ...n, ended: true })"
        >
          Take off
        </button>
      </template>
    </li>
  </ul>
</template>
