<script setup lang="ts">
// Whose turn it is, by role and person, for whoever leads the work: what is chosen is handed over in one act.
import { computed, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap, type InvoiceSlip } from '@/api/client'
import MoreRows from '@/parts/MoreRows.vue'
import PickField from '@/parts/PickField.vue'
import TextField from '@/parts/TextField.vue'
import TickBox from '@/parts/TickBox.vue'
import VerdictMark from '@/parts/VerdictMark.vue'
import { useJob } from '@/parts/job'
import { useKeys } from '@/parts/keys'
import { show, showDay, showInstant } from '@/parts/numbers'
import { placeOf } from '@/parts/places'
import { colleaguesQuery } from '@/parts/questions'
import { may, today } from '@/parts/session'
import { worth } from '../invoices/slips'
import { handed, receivers } from '../invoices/turns'
import LookFrame from './LookFrame.vue'

const { data, error } = useQuery({ queryKey: ['turns'], queryFn: () => unwrap(api.GET('/api/turns')) })
const { data: colleagues } = useQuery(colleaguesQuery)
const { send, busy, trouble } = useJob({ says: 'all' })
const chosen = ref(new Set<number>())
const asked = ref<string>() // to whom, as chosen
const note = ref('')
const groups = computed(() => {
  const all = new Map<string, InvoiceSlip[]>()
  for (const i of data.value?.rows ?? []) {
    const name = `${i.turn}${i.with ? ` · ${i.with}` : ''}`
    all.set(name, [...(all.get(name) ?? []), i])
  }
  return [...all.entries()].sort(([a], [b]) => a.localeCompare(b)).map(([name, rows]) => ({ name, rows }))
})
const picked = computed(() => (data.value?.rows ?? []).filter((i) => chosen.value.has(i.number)))
const choices = computed(() =>
  picked.value.length === 0
    ? []
    : receivers(
        colleagues.value ?? [],
        [...new Set(picked.value.map((i) => i.turn))],
        picked.value.some((i) => i.with),
      ),
)
/** As chosen, as long as that is one of the choices; else the first. */
const to = computed({
  get: () => choices.value.find((c) => c.value === asked.value)?.value ?? choices.value[0]?.value ?? '',
  set: (login) => (asked.value = login),
})
function tick(rows: InvoiceSlip[], on: boolean) {
  const next = new Set(chosen.value)
  for (const i of rows)
    if (on) next.add(i.number)
    else next.delete(i.number)
  chosen.value = next
}
const ready = computed(() => may('handInvoices') && picked.value.length > 0 && choices.value.length > 0)
async function hand() {
  if (!ready.value) return
  const invoices = picked.value.map((i) => i.number)
  await send(() => unwrap(api.POST('/api/invoices/hand', { body: { invoices, to: to.value, note: note.value } })), {
    after: () => {
      chosen.value = new Set()
      note.value = ''
    },
    done: (h) => handed(h),
  })
}
useKeys(() => (may('handInvoices') ? [{ key: 'Ctrl+Enter', label: 'hand over', run: () => void hand() }] : []))
</script>

<template>
  <LookFrame
    label="Whose turn"
    title="Whose turn"
    says="Held invoices, by the role whose turn it is and the person they are with."
    :error="error"
    :ready="data !== undefined"
  >
    <p v-if="!groups.length" class="muted">Nothing that is held is anybody’s turn.</p>
    <section v-for="g in groups" :key="g.name" :aria-label="g.name" class="mb-3">
      <h2 class="mb-1">
        <TickBox
          v-if="may('handInvoices')"
          :model-value="g.rows.every((i) => chosen.has(i.number))"
          @update:model-value="tick(g.rows, $event)"
          >{{ g.name }}</TickBox><template v-else>{{ g.name }}</template>
      </h2>
      <p class="muted small mb-1">{{ g.rows.length }} · {{ worth(g.rows) }}</p>
      <table class="grid turns" :aria-label="g.name">
        <colgroup>
          <col v-if="may('handInvoices')" class="tick" />
          <col v-for="c in 6" :key="c" />
        </colgroup>
        <thead>
          <tr>
            <th v-if="may('handInvoices')"><span class="visually-hidden">Chosen</span></th>
            <th class="named">Supplier</th>
            <th>Number</th>
            <th class="num">Total</th>
            <th>Due</th>
            <th>Since</th>
            <th>Why</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="i in g.rows" :key="i.number">
            <td v-if="may('handInvoices')">
              <input
                type="checkbox"
                class="form-check-input m-1"
                :aria-label="`${i.supplier} ${i.supplierNumber}`"
                :checked="chosen.has(i.number)"
                @change="tick([i], !chosen.has(i.number))"
              />
            </td>
            <td><VerdictMark :verdict="i.verdict" only /> {{ i.supplier }}</td>
            <td class="mono">
              <RouterLink :to="placeOf.invoice(i.number)">{{ i.supplierNumber }}</RouterLink>
            </td>
            <td class="num">{{ show(i.total) }} {{ i.currency }}</td>
            <td>{{ showDay(i.due, today) }}</td>
            <td>{{ showInstant(i.since, today) }}</td>
            <td>{{ i.summary }}</td>
          </tr>
        </tbody>
      </table>
    </section>
    <MoreRows :more="data?.more" />
    <p v-if="trouble" class="outside-text" role="alert">{{ trouble }}</p>
    <template v-if="may('handInvoices') && groups.length" #foot>
      <div class="bar">
        <BButton variant="primary" :disabled="!ready || busy" @click="hand"
          >Hand over {{ picked.length || '' }}</BButton
        >
        <label for="hand-to" class="ms-2">to</label>
        <PickField id="hand-to" v-model="to" :options="choices" style="width: 190px" :disabled="!choices.length" />
        <label for="hand-note" class="ms-2">saying</label>
        <TextField id="hand-note" v-model="note" autocomplete="off" style="width: 220px" />
        <span v-if="picked.length && !choices.length" class="outside-text">Nobody else has all of these roles.</span>
        <span class="sum">{{ picked.length }} chosen{{ picked.length ? ` · ${worth(picked)}` : '' }}</span>
      </div>
    </template>
  </LookFrame>
</template>

<style scoped>
.turns {
  table-layout: fixed;
}
.tick {
  width: 48px;
}
</style>
