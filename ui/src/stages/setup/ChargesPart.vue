<script setup lang="ts">
// The kinds of charge that orders plan and invoices carry, with their code in e-invoices.
import { ref } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { api, unwrap, type Frame } from '@/api/client'
import EntryField from '@/parts/EntryField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import TickBox from '@/parts/TickBox.vue'
import { useJob } from '@/parts/job'
import { useKept } from '@/parts/kept'
import { tell } from '@/parts/notice'
import { may } from '@/parts/session'

defineProps<{ frame: Frame }>()
type Kind = Frame['charges'][number] & { known: boolean } // the name of a known kind stays
const client = useQueryClient()
const { at, send } = useJob({ within: '.ask' })
const form = ref<Kind>()
const { again, done: kept } = useKept(form, (k) => `charge.${k.known ? k.name : 'new'}`)
async function keep({ name, standard, ended }: Kind) {
  if (!(await send(() => unwrap(api.POST('/api/charge-kinds', { body: { name, standard, ended } }))))) return
  kept()
  tell(`The kind of charge “${name.toLowerCase()}” is kept.`)
  await client.invalidateQueries()
}
</script>

<template>
  <div>
    <h2>
      Kinds of charge
      <button
        v-if="may('saveChargeKind')"
        type="button"
        class="linkish"
        @click="form = { name: '', standard: '', ended: false, known: false }"
      >
        Add a kind
      </button>
    </h2>
    <SmallForm v-if="form" :again="again" action="Keep the kind" @done="keep(form)" @cancel="form = undefined">
      <div class="entry">
        <EntryField
          id="charge-name"
          v-model="form.name"
          label="What it is for"
          hint="orders and invoices carry it under this name"
          :readonly="form.known"
          :error="at('name')"
        />
        <EntryField
          id="charge-standard"
          v-model="form.standard"
          label="Code in e-invoices"
          hint="of UNCL 7161, where it has one"
          maxlength="3"
          :error="at('standard')"
        />
      </div>
      <TickBox v-if="form.known" v-model="form.ended">Offered no more</TickBox>
    </SmallForm>
    <table class="grid mb-3" style="max-width: 640px">
      <thead>
        <tr>
          <th>For</th>
          <th>Code in e-invoices</th>
          <th></th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="k in frame.charges" :key="k.name">
          <td>{{ k.name }}</td>
          <td class="mono">{{ k.standard }}</td>
          <td class="muted">{{ k.ended ? 'offered no more' : '' }}</td>
          <td>
            <button
              v-if="may('saveChargeKind')"
              type="button"
              class="linkish d-block"
              :aria-label="`Change ${k.name}`"
              @click="form = { ...k, known: true }"
            >
              Change
            </button>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>
