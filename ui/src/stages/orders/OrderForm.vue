<script setup lang="ts">
// Enters an order at the speed of typing and issues it. What was agreed last is proposed and can be typed over.
import { computed, nextTick, ref, watch } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useDebounceFn } from '@vueuse/core'
import { useRouter } from 'vue-router'
import { api, Refusal, unwrap, type ItemChoice, type OrderEntry, type OrderPreview } from '@/api/client'
import { lostSince } from '@/api/live'
import ChoiceField, { type Choice } from '@/parts/ChoiceField.vue'
import NoticeBar from '@/parts/NoticeBar.vue'
import NumberField from '@/parts/NumberField.vue'
import TextField from '@/parts/TextField.vue'
import { useDraft } from '@/parts/draft'
import { useKeys } from '@/parts/keys'
import { tell, warn } from '@/parts/notice'
import { sent, show } from '@/parts/numbers'
import { has, today } from '@/parts/session'

interface Line {
  item: string
  text: string
  quantity: string
  unit: string
  price: string
  taxRate: string
  budget: string
}
const empty = (): Line => ({ item: '', text: '', quantity: '', unit: '', price: '', taxRate: '', budget: '' })
const router = useRouter()
const client = useQueryClient()
const { draft, clear, kept } = useDraft('order', () => ({
  supplier: '',
  wantedOn: '',
  requestedBy: '',
  place: '',
  note: '',
  lines: [empty()],
}))
const preview = ref<OrderPreview>()
const refusal = ref<Refusal>()
const busy = ref(false)

const { data: suppliers } = useQuery({ queryKey: ['suppliers'], queryFn: () => unwrap(api.GET('/api/suppliers')) })
const sellers = computed<Choice[]>(() => (suppliers.value ?? []).map((s) => ({ value: s.code, text: s.name, also: s.code })))
const seller = computed(() => suppliers.value?.find((s) => s.code === draft.value.supplier))
const { data: choices } = useQuery({
  queryKey: ['order-choices', computed(() => draft.value.supplier)],
  queryFn: () => unwrap(api.GET('/api/orders/choices', { params: { query: { supplier: draft.value.supplier } } })),
  enabled: computed(() => draft.value.supplier !== ''),
})
const items = computed<Choice[]>(() =>
  (choices.value?.items ?? []).map((i) => ({ value: i.code, text: i.code, also: `${i.name} · ${i.supplierCode}` })),
)
const budgets = computed<Choice[]>(() => (choices.value?.budgets ?? []).map((b) => ({ value: b.code, text: b.code, also: b.name })))
const itemOf = (l: Line): ItemChoice | undefined => choices.value?.items.find((i) => i.code === l.item)
const filled = (l: Line) => l.item !== '' || l.text.trim() !== '' || l.quantity.trim() !== ''
const lines = computed(() => draft.value.lines.filter(filled))
const at = (l: Line) => lines.value.indexOf(l)

function proposed(l: Line) {
  const item = itemOf(l)
  if (!item) return
  l.unit = item.unit
  if (l.price === '' && item.price !== undefined) l.price = show(item.price)
  if (l.budget === '') l.budget = item.budget ?? ''
  if (l.taxRate === '' && item.taxRate !== undefined) l.taxRate = show(item.taxRate)
}

function entry(): OrderEntry {
  const d = draft.value
  return {
    supplier: d.supplier,
    wantedOn: d.wantedOn,
    requestedBy: d.requestedBy,
    place: d.place,
    note: d.note,
    lines: lines.value.map((l) => ({
      item: l.item,
      description: l.item ? '' : l.text,
      quantity: sent(l.quantity) || '0',
      unit: l.unit,
      price: sent(l.price),
      taxCategory: sent(l.taxRate) === itemOf(l)?.taxRate ? (itemOf(l)?.taxCategory ?? '') : '', // another rate has another category
      taxRate: sent(l.taxRate) || '0',
      budget: l.budget,
    })),
  }
}
const ask = useDebounceFn(async () => {
  if (!draft.value.supplier || lines.value.length === 0) {
    preview.value = undefined
    return
  }
  preview.value = await unwrap(api.POST('/api/orders/preview', { body: entry() })).catch(() => undefined)
}, 200)
watch([draft, lostSince], () => void ask(), { deep: true, immediate: true })
watch(
  draft,
  (d) => {
    refusal.value = undefined
    if (d.lines.every(filled)) d.lines.push(empty())
  },
  { deep: true },
)

const problem = (field: string) => refusal.value?.at(field)
// What is wrong with what was typed is said at once, what is missing once the order is to be issued.
function lineProblem(l: Line, name: keyof Line): string | undefined {
  if (at(l) < 0) return undefined
  const field = `lines[${at(l)}].${name}`
  return problem(field) ?? (l[name].trim() === '' ? undefined : preview.value?.problems.find((p) => p.field === field)?.sentence)
}

async function issue() {
  if (busy.value || !may.value) return
  busy.value = true
  try {
    const answer = await unwrap(api.POST('/api/orders', { body: entry() }))
    clear()
    tell(`Order ${answer.number} is issued to ${seller.value?.name ?? draft.value.supplier}.`)
    await client.invalidateQueries()
    await router.push(`/orders/${answer.number}`)
  } catch (e) {
    refusal.value = e as Refusal
    if (!(e instanceof Refusal) || !e.problem.field) warn(e)
    await nextTick()
    document.querySelector<HTMLElement>('.sheet .is-invalid')?.focus()
  } finally {
    busy.value = false
  }
}
function throwAway() {
  clear()
  void router.push('/orders')
}

/** Enter goes to what is missing next: a known item needs its quantity only. */
function nextField(event: KeyboardEvent) {
  if (event.ctrlKey || !(event.target instanceof HTMLInputElement)) return
  event.preventDefault()
  const id = event.target.id
  void nextTick(() => {
    const [, name, no] = /^order-(quantity|budget)-(\d+)$/.exec(id) ?? []
    const line = no === undefined ? undefined : draft.value.lines[Number(no)]
    if (line && (name === 'budget' || (sent(line.price) !== '' && line.budget !== ''))) {
      document.getElementById(`order-item-${Number(no) + 1}`)?.focus()
      return
    }
    const fields = [...document.querySelectorAll<HTMLElement>('.sheet input:not(:disabled)')]
    fields[(fields.findIndex((f) => f.id === id) + 1) % fields.length]?.focus()
  })
}
const may = computed(() => has('buyer'))
useKeys(() => (may.value ? [{ key: 'Ctrl+Enter', label: 'issue the order', run: () => void issue() }] : []))
void nextTick(() => document.getElementById('order-supplier')?.focus())
</script>

<template>
  <section class="sheet" aria-label="Order entry">
    <NoticeBar />
    <header @keydown.enter="nextField">
      <div class="headline">
        <h1>Enter an order</h1>
        <span class="muted">{{ seller ? `${seller.code} · ${seller.currency}` : '' }}</span>
      </div>
      <dl class="facts fields">
        <div>
          <dt><label for="order-supplier">Supplier</label></dt>
          <dd>
            <ChoiceField
              id="order-supplier"
              v-model="draft.supplier"
              label="Supplier"
              :choices="sellers"
              :state="problem('supplier') ? false : undefined"
              described="order-supplier-error"
              style="width: 230px"
            />
          </dd>
        </div>
        <div>
          <dt><label for="order-wanted">Wanted by</label></dt>
          <dd>
            <TextField
              id="order-wanted"
              v-model="draft.wantedOn"
              type="date"
              :min="today"
              :state="problem('wantedOn') ? false : undefined"
              aria-describedby="order-wanted-error"
              style="width: 142px"
            />
          </dd>
        </div>
        <div>
          <dt><label for="order-requested">Asked for by</label></dt>
          <dd><TextField id="order-requested" v-model="draft.requestedBy" autocomplete="off" style="width: 170px" /></dd>
        </div>
        <div>
          <dt><label for="order-place">To</label></dt>
          <dd><TextField id="order-place" v-model="draft.place" autocomplete="off" style="width: 130px" /></dd>
        </div>
      </dl>
      <div id="order-supplier-error" class="small text-danger" role="alert">{{ problem('supplier') }}</div>
      <div id="order-wanted-error" class="small text-danger" role="alert">{{ problem('wantedOn') }}</div>
      <p v-for="w in preview?.warnings ?? []" :key="w" class="small mb-0 outside-text">{{ w }}</p>
    </header>
    <div class="body" @keydown.enter="nextField">
      <p v-if="!draft.supplier" class="muted">
        Type the beginning of the supplier’s name or code and press <kbd>Enter</kbd>. What was ordered there before is known: an item’s code
        and its quantity are enough for a line.
      </p>
      <table v-else class="grid">
        <thead>
          <tr>
            <th style="width: 30%">Item, or a description</th>
            <th class="num">Quantity</th>
            <th>Unit</th>
            <th class="num">Unit price</th>
            <th class="num">Tax %</th>
            <th style="width: 14%">Budget</th>
            <th class="num">Net</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(l, i) in draft.lines" :key="i">
            <td>
              <ChoiceField
                :id="`order-item-${i}`"
                v-model="l.item"
                v-model:typed="l.text"
                free
                :label="`Item of line ${i + 1}`"
                :choices="items"
                :state="lineProblem(l, 'item') ? false : undefined"
                :described="`order-item-${i}-said`"
                @chosen="proposed(l)"
              />
              <div :id="`order-item-${i}-said`" class="small" :class="lineProblem(l, 'item') ? 'text-danger' : 'muted'">
                {{ lineProblem(l, 'item') ?? itemOf(l)?.name }}
              </div>
            </td>
            <td class="num">
              <NumberField
                :id="`order-quantity-${i}`"
                v-model="l.quantity"
                :label="`Quantity of line ${i + 1}`"
                :error="lineProblem(l, 'quantity')"
              />
            </td>
            <td>
              <span v-if="itemOf(l)" class="d-block pt-1">{{ itemOf(l)?.unitName }}</span>
              <TextField
                v-else
                :id="`order-unit-${i}`"
                v-model="l.unit"
                :aria-label="`Unit of line ${i + 1}`"
                :state="lineProblem(l, 'unit') ? false : undefined"
                :aria-describedby="`order-unit-${i}-said`"
                placeholder="C62"
                style="width: 64px"
              />
              <div :id="`order-unit-${i}-said`" class="small text-danger">{{ lineProblem(l, 'unit') }}</div>
            </td>
            <td class="num">
              <NumberField :id="`order-price-${i}`" v-model="l.price" :label="`Price of line ${i + 1}`" :error="lineProblem(l, 'price')" />
            </td>
            <td class="num">
              <NumberField
                :id="`order-tax-${i}`"
                v-model="l.taxRate"
                :label="`Tax rate of line ${i + 1}`"
                :error="lineProblem(l, 'taxRate')"
              />
            </td>
            <td>
              <ChoiceField
                :id="`order-budget-${i}`"
                v-model="l.budget"
                :label="`Budget of line ${i + 1}`"
                :choices="budgets"
                :state="lineProblem(l, 'budget') ? false : undefined"
                :described="`order-budget-${i}-said`"
              />
              <div :id="`order-budget-${i}-said`" class="small text-danger">{{ lineProblem(l, 'budget') }}</div>
            </td>
            <td class="num pt-2">{{ at(l) >= 0 ? show(preview?.nets[at(l)]) : '' }}</td>
            <td>
              <button
                v-if="filled(l)"
                type="button"
                class="linkish"
                :aria-label="`Leave out line ${i + 1}`"
                @click="draft.lines.splice(i, 1)"
              >
                Leave out
              </button>
            </td>
          </tr>
        </tbody>
      </table>
      <div v-if="draft.supplier" class="mt-2">
        <label for="order-note">Note to the supplier</label>
        <TextField id="order-note" v-model="draft.note" autocomplete="off" />
      </div>
      <div class="small text-danger" role="alert">{{ problem('lines') }}</div>
    </div>
    <div class="bar">
      <BButton variant="primary" :disabled="!may || busy" @click="issue">Issue</BButton>
      <BButton variant="outline-secondary" @click="throwAway">Throw away</BButton>
      <span v-if="preview" class="sum">
        <template v-if="kept">Your draft was kept. </template>Net {{ show(preview.net) }} · tax {{ show(preview.tax) }} =
        <b>{{ show(preview.total) }}</b> {{ seller?.currency }}
      </span>
      <span v-else-if="!may" class="sum">Issuing takes the role buyer.</span>
    </div>
  </section>
</template>
