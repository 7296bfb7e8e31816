<script setup lang="ts">
// Where goods are delivered to, and who receives there.
import { computed, ref } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { api, unwrap, type Frame } from '@/api/client'
import EntryField from '@/parts/EntryField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import TickBox from '@/parts/TickBox.vue'
import { useJob } from '@/parts/job'
import { useKept } from '@/parts/kept'
import { colleaguesQuery } from '@/parts/questions'
import { may } from '@/parts/session'

defineProps<{ frame: Frame }>()
const client = useQueryClient()
const { data: colleagues } = useQuery(colleaguesQuery)
const { at, send, busy } = useJob({ within: '.ask' })
type Place = Frame['places'][number]
interface Typed {
  name: string
  address: string
  receivers: string[]
  ended: boolean
  /** It is on the list already, so its name stays. */
  there: boolean
}
const form = ref<Typed>()
const { again, done: kept } = useKept(form, (p) => `place.${p.there ? p.name : 'new'}`)
const open = (p?: Place) =>
  (form.value = {
    name: p?.name ?? '',
    address: p?.address ?? '',
    receivers: p?.receivers.map((r) => r.login) ?? [],
    ended: p?.ended ?? false,
    there: p !== undefined,
  })
const receivers = computed(() => (colleagues.value ?? []).filter((c) => c.roles.includes('receiver')))
function tick(login: string) {
  const all = form.value!.receivers
  form.value!.receivers = all.includes(login) ? all.filter((l) => l !== login) : [...all, login]
}
async function keep() {
  const { name, address, receivers, ended } = form.value!
  await send(() => unwrap(api.POST('/api/places', { body: { name, address, receivers, ended } })), {
    after: () => {
      kept()
      form.value = undefined
      void client.invalidateQueries()
    },
    done: ended ? `Nothing is ordered to ${name} any more.` : `${name} is on the list of places.`,
  })
}
</script>

<template>
  <section aria-label="Places of delivery">
    <h2>
      Places of delivery
      <button v-if="may('savePlace')" type="button" class="linkish" @click="open()">Add a place</button>
    </h2>
    <p class="muted small mb-2">
      Orders and deliveries choose one of them; another is written only as elsewhere, this once. The address stands on
      the order.
    </p>
    <SmallForm
      v-if="form"
      :again="again"
      action="Keep the place"
      label="Place of delivery"
      :disabled="busy"
      @done="keep"
      @cancel="form = undefined"
    >
      <div class="entry">
        <EntryField
          id="place-name"
          v-model="form.name"
          label="Name"
          :disabled="form.there"
          :data-first="form.there ? undefined : ''"
          :error="at('name')"
        />
        <EntryField
          id="place-address"
          v-model="form.address"
          label="Address"
          :data-first="form.there ? '' : undefined"
          :error="at('address')"
        />
      </div>
      <fieldset class="my-2">
        <legend class="fs-6 mb-1">Who receives there</legend>
        <div class="d-flex flex-wrap column-gap-3 row-gap-2">
          <TickBox
            v-for="c in receivers"
            :key="c.login"
            :model-value="form.receivers.includes(c.login)"
            @update:model-value="tick(c.login)"
            >{{ c.name }}</TickBox
          >
        </div>
        <div class="small text-danger">{{ at('receivers') }}</div>
      </fieldset>
      <TickBox v-if="form.there" v-model="form.ended">Nothing is ordered to it any more</TickBox>
    </SmallForm>
    <table v-if="frame.places.length" class="grid mb-3" style="max-width: 878px">
      <thead>
        <tr>
          <th>Place</th>
          <th>Address</th>
          <th>Who receives there</th>
          <th v-if="may('savePlace')"><span class="visually-hidden">Change</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="p in frame.places" :key="p.name" :class="{ muted: p.ended }">
          <td>{{ p.name }}<span v-if="p.own" class="muted"> · usual</span><span v-if="p.ended"> · ended</span></td>
          <td>{{ p.address }}</td>
          <td>{{ p.receivers.map((r) => r.name).join(', ') || 'any receiver' }}</td>
          <td v-if="may('savePlace')">
            <button type="button" class="linkish" @click="open(p)">
              Change<span class="visually-hidden"> {{ p.name }}</span>
            </button>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-else-if="!form" class="muted">No place yet: any text stands on an order.</p>
  </section>
</template>
