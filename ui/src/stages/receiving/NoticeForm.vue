<script setup lang="ts">
// Enters an advance shipping notice on an order: what the supplier says is on its way.
import { computed, nextTick, watch } from 'vue'
import { api, unwrap } from '@/api/client'
import { useBeginning } from '@/parts/beginning'
import NoticeBar from '@/parts/NoticeBar.vue'
import OrderThread from '@/parts/OrderThread.vue'
import NumberField from '@/parts/NumberField.vue'
import TextField from '@/parts/TextField.vue'
import { useArrive } from '@/parts/arrive'
import { useDraft } from '@/parts/draft'
import { nextField } from '@/parts/fields'
import { useKeys } from '@/parts/keys'
import { sent, show } from '@/parts/numbers'
import { useJob } from '@/parts/job'
import { may as allowed } from '@/parts/session'
import { placeOf } from '@/parts/places'

const props = defineProps<{ number: number }>()
const arrive = useArrive()
const { data: order, error } = useBeginning({
  queryKey: ['order', props.number],
  queryFn: () => unwrap(api.GET('/api/orders/{number}', { params: { path: { number: props.number } } })),
})
interface Draft {
  reference: string
  expectedOn: string
  carrier: string
  lines: Record<number, { now: string; lot: string }>
}
const { draft, clear } = useDraft<Draft>(`notice.${props.number}`, () => ({
  reference: '',
  expectedOn: '',
  carrier: '',
  lines: {},
}))
let shown = false
watch(
  order,
  (o) => {
    if (!o) return
    for (const l of o.lines) draft.value.lines[l.no] ??= { now: l.awaitsGoods ? show(l.rest) : '', lot: '' }
    if (!draft.value.expectedOn) draft.value.expectedOn = o.wantedOn
    if (!shown) void nextTick(() => document.getElementById('notice-reference')?.focus())
    shown = true
  },
  { immediate: true },
)
const { busy, send, at } = useJob({ says: ['lines'] })
const may = computed(() => allowed('enterNotice') && order.value?.state === 'issued')
async function enter() {
  if (!may.value || !order.value) return
  const d = draft.value
  const expected = order.value.lines
  await send(async () => {
    const noticed = await unwrap(
      api.POST('/api/notices', {
        body: {
          order: props.number,
          reference: d.reference,
          expectedOn: d.expectedOn,
          carrier: d.carrier,
          lines: expected.map((l) => ({
            no: l.no,
            quantity: sent(d.lines[l.no]?.now ?? '', l.quantity) || '0',
            lot: d.lines[l.no]?.lot ?? '',
          })),
        },
      }),
    )
    clear()
    await arrive('/receiving', `Notice ${noticed.number} is kept; the delivery can start from it.`)
  })
}
useKeys(() => (may.value ? [{ key: 'Ctrl+Enter', label: 'keep the notice', run: () => void enter() }] : []))
</script>

<template>
  <section class="sheet" aria-label="Notice">
    <NoticeBar />
    <div v-if="error" class="nothing" role="alert">{{ error.message }}</div>
    <template v-else-if="order">
      <header @keydown.enter="nextField">
        <div class="headline">
          <h1>
            Notice on order
            <RouterLink :to="placeOf.order(order.number)" class="mono fw-medium text-reset">{{
              order.number
            }}</RouterLink>
          </h1>
          <span class="muted">{{ order.supplier.name }}</span>
        </div>
        <dl class="facts fields">
          <div>
            <dt><label for="notice-reference">Their number of it</label></dt>
            <dd>
              <TextField
                id="notice-reference"
                v-model="draft.reference"
                class="mono"
                autocomplete="off"
                :state="at('reference') ? false : undefined"
                aria-describedby="notice-error"
                style="width: 150px"
              />
            </dd>
          </div>
          <div>
            <dt><label for="notice-day">Arrives</label></dt>
            <dd>
              <TextField
                id="notice-day"
                v-model="draft.expectedOn"
                type="date"
                :state="at('expectedOn') ? false : undefined"
                aria-describedby="notice-error"
              />
            </dd>
          </div>
          <div>
            <dt><label for="notice-carrier">Carrier</label></dt>
            <dd><TextField id="notice-carrier" v-model="draft.carrier" autocomplete="off" style="width: 170px" /></dd>
          </div>
        </dl>
        <div id="notice-error" class="small text-danger">{{ at('reference') ?? at('expectedOn') ?? at('lines') }}</div>
      </header>
      <div class="body" @keydown.enter="nextField">
        <table class="grid">
          <thead>
            <tr>
              <th class="named">Line</th>
              <th class="num">Expected</th>
              <th class="num">On its way</th>
              <th>Lot</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(l, i) in order.lines" :key="l.no">
              <td>
                <b>{{ l.description }}</b><br /><span class="muted">{{ l.unitName }}</span>
              </td>
              <td class="num">{{ show(l.rest) }}</td>
              <td class="num">
                <NumberField
                  v-if="draft.lines[l.no]"
                  :id="`notice-${l.no}`"
                  v-model="draft.lines[l.no]!.now"
                  :label="`${l.description}, on its way`"
                  :whole="l.quantity"
                  :error="at(`lines[${i}].quantity`)"
                />
              </td>
              <td>
                <TextField
                  v-if="draft.lines[l.no]"
                  :id="`notice-lot-${l.no}`"
                  v-model="draft.lines[l.no]!.lot"
                  class="mono"
                  autocomplete="off"
                  :aria-label="`${l.description}, lot`"
                  style="width: 120px"
                />
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <div class="bar">
        <BButton variant="primary" :disabled="!may || busy" @click="enter">Keep the notice</BButton>
        <span v-if="!may" class="muted">Entering a notice takes the role receiver or buyer, and an issued order.</span>
      </div>
    </template>
  </section>
  <aside class="side" aria-label="Thread of the order">
    <OrderThread v-if="order" :events="order.thread" :title="`Thread of ${order.number}`" />
  </aside>
</template>
