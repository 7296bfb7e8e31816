<script setup lang="ts">
// The kinds of charge that orders plan and invoices carry, with their code in e-invoices.
import { computed, ref } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { api, unwrap, type Frame } from '@/api/client'
import EntryField from '@/parts/EntryField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import TickBox from '@/parts/TickBox.vue'
import { useJob } from '@/parts/job'
import { useKept } from '@/parts/kept'
import { tell } from '@/parts/notice'
import { show } from '@/parts/numbers'
import LimitsPart from './LimitsPart.vue'
import { may } from '@/parts/session'

const props = defineProps<{ frame: Frame }>()
type Kind = Frame['charges'][number] & { known: boolean } // the name of a known kind stays
const client = useQueryClient()
const { at, send } = useJob({ within: '.ask' })
const form = ref<Kind>()
const limited = ref('') // the kind whose limits are looked at
const ofLimited = computed(() => props.frame.charges.find((k) => k.name === limited.value))
const allows = (k: Frame['charges'][number]) =>
  (k.limits ?? [])
    .flatMap((l) => [l.percent && `${show(l.percent)} %`, l.absolute && show(l.absolute)])
    .filter(Boolean)
    .join(', at most ')
const { again, done: kept } = useKept(form, (k) => `charge.${k.known ? k.name : 'new'}`)
async function keep({ name, standard, ended, taxCode = '', inGoods = false }: Kind) {
  const body = { name, standard, ended, taxCode, inGoods }
  if (!(await send(() => unwrap(api.POST('/api/charge-kinds', { body }))))) return
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
        <EntryField
          id="charge-tax-code"
          :model-value="form.taxCode ?? ''"
          label="Tax code"
          hint="proposed with it; blank: the goods’"
          maxlength="40"
          :error="at('taxCode')"
          @update:model-value="(v) => (form!.taxCode = v)"
        />
      </div>
      <TickBox :model-value="form.inGoods ?? false" @update:model-value="(v) => (form!.inGoods = v)"
        >A part of what the goods cost: spread over them by their value</TickBox
      >
      <TickBox v-if="form.known" v-model="form.ended">Offered no more</TickBox>
    </SmallForm>
    <table class="grid mb-3" style="max-width: 860px">
      <thead>
        <tr>
          <th>For</th>
          <th>Code in e-invoices</th>
          <th>Tax code</th>
          <th>Booked to</th>
          <th>A difference passes up to</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="k in frame.charges" :key="k.name">
          <td>{{ k.name }}</td>
          <td class="mono">{{ k.standard }}</td>
          <td class="mono">{{ k.taxCode }}</td>
          <td>{{ k.ended ? 'offered no more' : k.inGoods ? 'the goods' : 'charges' }}</td>
          <td>{{ allows(k) }}</td>
          <td class="nowrap">
            <button
              v-if="may('saveChargeKind')"
              type="button"
              class="linkish me-3"
              :aria-label="`Change ${k.name}`"
              @click="form = { ...k, known: true }"
            >
              Change
            </button>
            <button
              v-if="!k.ended"
              type="button"
              class="linkish me-3"
              :aria-label="`Limits of ${k.name}`"
              @click="limited = limited === k.name ? '' : k.name"
            >
              Limits
            </button>
          </td>
        </tr>
      </tbody>
    </table>
    <LimitsPart
      v-if="ofLimited"
      id="charge-limits"
      :name="ofLimited.name"
      :title="`Limits of ${ofLimited.name}`"
      :charge="ofLimited.name"
      level=""
      :limits="ofLimited.limits ?? []"
      :by="ofLimited.limitsBy"
      empty="None of its own: the company’s limit of charges counts."
      :kinds="['charge']"
    />
  </div>
</template>
