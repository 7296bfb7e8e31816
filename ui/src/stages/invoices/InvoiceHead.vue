<script setup lang="ts">
// Of whom, about which order, under which number and day an invoice is keyed. What stands under the number already is said.
import { computed, ref, watch } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { useDebounceFn } from '@vueuse/core'
import { api, unwrap, type Numbered } from '@/api/client'
import { lostSince } from '@/api/live'
import { suppliersQuery } from '@/api/queries'
import ChoiceField from '@/parts/ChoiceField.vue'
import NumberField from '@/parts/NumberField.vue'
import PickField from '@/parts/PickField.vue'
import TextField from '@/parts/TextField.vue'
import VerdictMark from '@/parts/VerdictMark.vue'
import { show, showDay } from '@/parts/numbers'
import { today } from '@/parts/session'
import type { Paper } from './papers'
import { kindWords, type DraftInvoice } from './entry'
import { placeOf } from '@/parts/places'

const props = defineProps<{
  corrects: number
  problem: (field: string) => string | undefined
  /** How a field stands that was read from the paper. */
  mark: Paper['mark']
}>()
const emit = defineEmits<{ order: [] }>()
const draft = defineModel<DraftInvoice>({ required: true })
/** A name that is no supplier's yet. */
const unknown = defineModel<string>('unknown', { required: true })
const { data: suppliers } = useQuery(suppliersQuery)
const state = (field: string) => (props.problem(field) ? false : undefined)

/** It names an invoice, whose lines it takes back or whose prices it changes. */
const named = computed(() => ['credit_note', 'adjustment'].includes(draft.value.kind))
const kinds: { value: DraftInvoice['kind']; text: string }[] = [
  { value: 'credit_note', text: 'credit note' },
  { value: 'adjustment', text: 'debit note: a higher price' },
]
/** A debit note is about prices alone: what it asks more for one of what was invoiced is to be typed. */
function ofKind(kind: DraftInvoice['kind']) {
  if (kind !== 'adjustment') return
  for (const l of draft.value.lines) Object.assign(l, { price: '', credits: '' })
}
const given = ref<Numbered>()
const lookUp = useDebounceFn(async () => {
  const { supplier, number } = draft.value
  given.value =
    supplier && number.trim() && draft.value.kind !== 'credit_note' // those are a series of their own
      ? await unwrap(
          api.GET('/api/invoices/numbered', {
            params: { query: { supplier, number, ...(props.corrects ? { except: props.corrects } : {}) } },
          }),
        ).catch(() => undefined)
      : undefined
}, 200)
watch(
  () => [draft.value.supplier, draft.value.number, lostSince.value],
  () => void lookUp(),
  { immediate: true },
)
</script>

<template>
  <dl class="facts fields">
    <div>
      <dt>
        <label for="invoice-order">{{ corrects ? 'Order' : 'Order, note, item' }}</label>
      </dt>
      <dd>
        <TextField
          id="invoice-order"
          v-model="draft.order"
          class="mono"
          :class="mark('order')"
          autocomplete="off"
          :state="state('order')"
          style="width: 104px"
          @change="emit('order')"
        />
      </dd>
    </div>
    <div>
      <dt><label for="invoice-supplier">Supplier</label></dt>
      <dd>
        <ChoiceField
          id="invoice-supplier"
          v-model="draft.supplier"
          v-model:typed="unknown"
          label="Supplier"
          :class="mark('supplier')"
          :choices="(suppliers ?? []).map((s) => ({ value: s.code, text: s.name, also: s.code }))"
          :state="state('supplier')"
          style="width: 190px"
        />
      </dd>
    </div>
    <div>
      <dt>
        <label for="invoice-number">{{ kindWords[draft.kind] }} number</label>
      </dt>
      <dd>
        <TextField
          id="invoice-number"
          v-model="draft.number"
          class="mono"
          :class="mark('number')"
          autocomplete="off"
          :state="state('number')"
          style="width: 130px"
        />
      </dd>
    </div>
    <div>
      <dt>
        <label for="invoice-date">{{ named ? 'Date' : 'Invoice date' }}</label>
      </dt>
      <dd>
        <TextField
          id="invoice-date"
          v-model="draft.date"
          :class="mark('date')"
          type="date"
          :max="today"
          :state="state('date')"
        />
      </dd>
    </div>
    <div v-if="named">
      <dt><label for="invoice-kind">Kind</label></dt>
      <dd>
        <PickField id="invoice-kind" v-model="draft.kind" :options="kinds" @update:model-value="ofKind" />
      </dd>
    </div>
    <div v-if="named">
      <dt><label for="invoice-credited">Of invoice</label></dt>
      <dd>
        <TextField
          id="invoice-credited"
          v-model="draft.credited"
          class="mono"
          autocomplete="off"
          :state="state('credited')"
          style="width: 130px"
        />
      </dd>
    </div>
    <div v-if="draft.prepaid">
      <dt><label for="invoice-prepaid">Said to be paid before</label></dt>
      <dd>
        <NumberField
          id="invoice-prepaid"
          v-model="draft.prepaid"
          label="Said to be paid before"
          :error="problem('prepaid')"
          style="width: 120px"
        />
      </dd>
    </div>
  </dl>
  <div
    v-for="f in ['order', 'supplier', 'number', 'credited', 'date', 'postingDay', 'lines', 'currency']"
    :key="f"
    class="small text-danger"
    role="alert"
  >
    {{ problem(f) }}
  </div>
  <p v-for="n in given?.its ?? []" :key="n.number" class="finding outside mt-2" role="status">
    <VerdictMark verdict="outside" only /> An invoice of this number is here already:
    <RouterLink :to="placeOf.invoice(n.number)">Lagoon’s invoice {{ n.number }}</RouterLink
    >, {{ n.supplierNumber }} dated {{ showDay(n.date, today) }}, {{ show(n.total) }} {{ n.currency }}, taken in on
    {{ showDay(n.capturedOn, today) }}. Captured once more it is refused, or held as a likely second copy.
  </p>
  <p v-if="given?.others.length" class="small muted mt-2" role="status">
    Other suppliers have sent this number too:
    <template v-for="(n, i) in given.others" :key="n.number"
      ><template v-if="i">, </template
      ><RouterLink :to="placeOf.invoice(n.number)">{{ n.supplierName }} {{ n.supplierNumber }}</RouterLink></template
    >.
  </p>
</template>
