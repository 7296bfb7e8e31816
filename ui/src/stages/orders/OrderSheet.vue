<script setup lang="ts">
// One issued order: where its lines stand, what the supplier was told, and what can be done with it.
import { computed, onMounted, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, unwrap, type OrderSheet } from '@/api/client'
import AskReason from '@/parts/AskReason.vue'
import HoldsPart from '@/parts/HoldsPart.vue'
import QuestionsPart from '@/parts/QuestionsPart.vue'
import LineGauge from '@/parts/LineGauge.vue'
import KeptPapers from '@/parts/KeptPapers.vue'
import NotesStrip from '@/parts/NotesStrip.vue'
import { useKeys } from '@/parts/keys'
import { price, show, showDay, showInstant } from '@/parts/numbers'
import { may as allowed, today } from '@/parts/session'
import AnnouncingPart from './AnnouncingPart.vue'
import TermsPart from '@/parts/TermsPart.vue'
import AheadOnOrder from './AheadOnOrder.vue'
import AnswerPanel from './AnswerPanel.vue'
import OrderReturn from './OrderReturn.vue'
import OrderWork from './OrderWork.vue'
import ApprovalPart from './ApprovalPart.vue'
import EndLine from './EndLine.vue'
import SendPanel from './SendPanel.vue'
import { useJob } from '@/parts/job'
import { placeOf } from '@/parts/places'

const props = defineProps<{ order: OrderSheet }>()
const router = useRouter()
const number = computed(() => props.order.number)
type Panel = '' | 'ahead' | 'hold' | 'work' | 'return' | 'order' | 'reminder' | 'cancellation' | 'answer' | 'cancel'
const panel = ref<Panel>('')

const goods = { none: 'nothing received', some: 'part received', all: 'received', closed: 'goods ended' }
const invoices = { none: 'not invoiced', some: 'part invoiced', all: 'invoiced', closed: 'invoices ended' }
/** Where the order stands: while it is open, its goods and its invoices, each by itself. */
const standing = computed(() => {
  const o = props.order
  if (o.state === 'draft') return 'waits for an approver'
  return o.state === 'issued' ? `${goods[o.goods]} · ${invoices[o.invoices]}` : o.state
})
const expecting = computed(() => props.order.lines.some((l) => l.awaitsGoods))
const may = (job: string) => props.order.may.includes(job)
const route = useRoute()
onMounted(() => {
  if (route.query['return'] && may('bookReturn')) openPanel('return')
  if (route.query['send'] && sendable.value) openPanel('order') // just issued: what goes out is looked at, and sent by the same key
})
const sendable = computed(() => may('sendOrder') && props.order.state === 'issued')
const freeLine = ref(0)
const endLine = ref(0)
const origins = ref(false)
function openPanel(p: Panel) {
  forget()
  freeLine.value = 0
  endLine.value = 0
  panel.value = panel.value === p ? '' : p
}
function askFree(no: number) {
  openPanel('')
  freeLine.value = no
}
function askEnd(no: number) {
  openPanel('')
  endLine.value = no
}
/** Whether the rest of a line may be taken as free of charge: it is here, nobody invoices it, and nothing more comes. */
const canBeFree = (l: OrderSheet['lines'][number]) =>
  may('acceptFree') && Number(l.unclaimed) > 0 && !Number(l.reserved) && !l.awaitsGoods
const firstFree = computed(() => props.order.lines.find(canBeFree)?.no)
const { send, trouble, forget, busy } = useJob({ says: 'all' })
const doing = (work: () => Promise<unknown>, done: string) => send(work, { after: () => openPanel(''), done })
const path = computed(() => ({ path: { number: number.value } }))
const cancel = (reason: string) =>
  doing(
    () =>
      unwrap(
        api.POST('/api/orders/{number}/cancel', { params: path.value, body: { reason, version: props.order.version } }),
      ),
    `Order ${number.value} is cancelled. Tell the supplier.`,
  )
const free = (note: string) =>
  doing(
    () =>
      unwrap(
        api.POST('/api/orders/{number}/free', {
          params: path.value,
          body: { line: freeLine.value, note, version: props.order.version },
        }),
      ),
    `The rest of line ${freeLine.value} is accepted as free of charge; the line is closed. It can be undone from the thread.`,
  )
const toClose = computed(() => placeOf.closing(number.value))
const toReopen = computed(() => placeOf.reopening(number.value))
const again = (index: number) =>
  send(
    () =>
      unwrap(
        api.POST('/api/orders/{number}/mails/{index}/again', { params: { path: { number: number.value, index } } }),
      ),
    {},
  )
const kinds: Record<string, string> = {
  order: 'Order',
  reminder: 'Reminder',
  cancellation: 'Cancellation',
  return: 'Return note',
}
const mails: Record<string, string> = {
  sent: 'mailed',
  waiting: 'mail to be handed over',
  kept: 'kept, not mailed: no mail server is set',
  failed: 'mail failed',
}
const how = (s: { way: string; state: string }) =>
  s.way === 'otherwise' ? 'told otherwise' : (mails[s.state] ?? s.state)
useKeys(() => [
  ...(sendable.value ? [{ key: 's', label: 'send', run: () => openPanel('order') }] : []),
  ...(may('changeOrder')
    ? [{ key: 'e', label: 'change', run: () => void router.push(placeOf.orderChange(number.value)) }]
    : []),
  ...(may('answerOrder') ? [{ key: 'g', label: 'acknowledged', run: () => openPanel('answer'), quiet: true }] : []),
  ...(may('closeLines') ? [{ key: 'c', label: 'close lines', run: () => void router.push(toClose.value) }] : []),
  ...(may('agreePrepayment')
    ? [{ key: 'm', label: 'agree money ahead', run: () => openPanel('ahead'), quiet: true }]
    : []),
  ...(may('holdOrder') ? [{ key: 'h', label: 'hold', run: () => openPanel('hold'), quiet: true }] : []),
  ...(may('acceptWork') ? [{ key: 'v', label: 'accept what is done', run: () => openPanel('work') }] : []),
  ...(may('bookReturn') ? [{ key: 'b', label: 'send goods back', run: () => openPanel('return'), quiet: true }] : []),
  ...(firstFree.value
    ? [{ key: 'f', label: 'rest is free of charge', run: () => askFree(firstFree.value!), quiet: true }]
    : []),
  ...(may('cancelOrder') ? [{ key: 'x', label: 'cancel the order', run: () => openPanel('cancel'), quiet: true }] : []),
  ...(may('bookDelivery')
    ? [{ key: 'd', label: 'book a delivery', run: () => void router.push(placeOf.receiving(number.value)) }]
    : []),
  ...(may('enterNotice')
    ? [
        {
          key: 'a',
          label: 'enter a notice',
          run: () => void router.push(placeOf.noticing(number.value)),
          quiet: true,
        },
      ]
    : []),
  { key: 'w', label: 'where limits come from', run: () => (origins.value = !origins.value) },
  ...(may('keyInvoice')
    ? [{ key: 'k', label: 'key an invoice', run: () => void router.push(placeOf.keying(number.value)) }]
    : []),
])
</script>

<template>
  <header>
    <div class="headline">
      <h1>
        {{ order.supplier.name }} <span class="mono fw-medium">{{ order.number }}</span>
      </h1>
      <span class="fw-semibold">{{ standing }}</span>
      <span v-if="order.revision > 1" class="muted">version {{ order.revision }}</span>
    </div>
    <p class="mb-1">{{ order.about }}</p>
    <dl class="facts">
      <div>
        <dt>{{ order.state === 'draft' ? 'Entered' : 'Issued' }}</dt>
        <dd>{{ showDay(order.issuedOn, today) }}</dd>
      </div>
      <div>
        <dt>Wanted</dt>
        <dd>{{ showDay(order.wantedOn, today) }}</dd>
      </div>
      <div>
        <dt>Asked for by</dt>
        <dd>{{ order.requestedBy }}</dd>
      </div>
      <div>
        <dt>Place</dt>
        <dd>{{ order.elsewhere || order.place }}</dd>
      </div>
      <div>
        <dt>Net</dt>
        <dd>
          <b>{{ show(order.net) }} {{ order.currency }}</b>
        </dd>
      </div>
    </dl>
    <p v-if="order.supplier.held" class="outside-text mb-0 mt-1">
      {{ order.supplier.name }} is {{ order.supplier.held }}.
    </p>
    <p v-if="order.unsent.length" class="outside-text mb-0 mt-1">
      The supplier does not know yet: {{ order.unsent.join('; ') }}.
    </p>
    <NotesStrip :notes="order.notes" />
  </header>
  <div class="body" tabindex="0">
    <ApprovalPart :order="order" />
    <QuestionsPart :questions="order.questions ?? []" :order="order.number" @opens="panel = ''" />
    <HoldsPart
      :panel="panel"
      :holds="order.holds ?? []"
      :order="order.number"
      :lines="order.lines"
      @update:panel="panel = ''"
    />
    <SendPanel
      v-if="panel === 'order' || panel === 'reminder' || panel === 'cancellation'"
      :key="panel"
      :number="order.number"
      :kind="panel"
      @done="panel = ''"
      @cancel="panel = ''"
    />
    <AskReason
      v-if="panel === 'cancel'"
      id="cancel-order"
      title="Cancel this order."
      books="Nothing of it is received or invoiced, so it ends here; the supplier is told afterwards."
      label="Why it is cancelled"
      action="Cancel the order"
      :error="trouble"
      @done="cancel"
      @cancel="panel = ''"
    />
    <OrderWork v-if="panel === 'work'" :order="order" @cancel="panel = ''" />
    <OrderReturn v-if="panel === 'return'" :order="order" @cancel="panel = ''" />
    <AnswerPanel v-if="panel === 'answer'" :order="order" @done="panel = ''" @cancel="panel = ''" />
    <table class="grid">
      <thead>
        <tr>
          <th class="named">Line</th>
          <th class="num">Ordered</th>
          <th class="num">Received</th>
          <th class="num">Invoiced</th>
          <th class="num">Unit price</th>
          <th class="num">Net</th>
          <th>Gauge</th>
        </tr>
      </thead>
      <tbody>
        <template v-for="l in order.lines" :key="l.no">
          <tr>
            <td>
              <b>{{ l.description }}</b><br />
              <span class="muted"
                >{{ l.unitName }} · {{ l.budget
                }}<template v-if="l.supplierCode">
                  · <span class="mono">{{ l.supplierCode }}</span></template
                ></span
              >
              <span v-if="l.note" class="d-block small">{{ l.note }}</span>
              <span v-if="l.agreed && l.agreed !== l.price" class="d-block small advice"
                >agreed price: {{ price(l.agreed) }}</span
              >
              <span v-if="l.selfBilled" class="d-block muted">we write its invoices</span>
              <span v-if="l.closedGoods || l.closedInvoices" class="d-block muted"
                >closed: no more
                {{
                  l.closedGoods && l.closedInvoices ? 'goods or invoices' : l.closedGoods ? 'goods' : 'invoices'
                }}</span
              >
              <span v-if="Number(l.returned)" class="d-block muted">{{ show(l.returned) }} sent back for credit</span>
            </td>
            <td class="num">{{ show(l.quantity) }}</td>
            <td class="num">{{ show(l.received) }}</td>
            <td class="num">
              {{ show(l.billed)
              }}<template v-if="Number(l.reserved) > 0"
                ><br /><span class="muted">+ {{ show(l.reserved) }} open</span></template
              >
            </td>
            <td class="num">{{ price(l.price) }}</td>
            <td class="num">
              {{ show(l.net) }}
              <span v-if="Number(l.discount)" class="d-block small muted">− {{ show(l.discount) }} discount</span>
              <span v-if="Number(l.charge)" class="d-block small muted">+ {{ show(l.charge) }} surcharge</span>
            </td>
            <td>
              <LineGauge :line="l" />
              <button v-if="canBeFree(l)" type="button" class="linkish d-block small" @click="askFree(l.no)">
                Rest is free of charge…
              </button>
              <button
                v-if="may('closeLines') && l.awaitsGoods"
                type="button"
                class="linkish d-block small"
                @click="askEnd(l.no)"
              >
                End early…
              </button>
            </td>
          </tr>
          <tr v-if="origins" class="said">
            <td colspan="7" class="small">Over: {{ l.over }}. Under: {{ l.under }}. Matched {{ l.levelSays }}.</td>
          </tr>
          <tr v-if="endLine === l.no" class="said">
            <td colspan="7">
              <EndLine :order="order.number" :line="l.no" @done="endLine = 0" @cancel="endLine = 0" />
            </td>
          </tr>
          <tr v-if="freeLine === l.no" class="said">
            <td colspan="7">
              <AskReason
                id="free"
                title="Accept the rest as free of charge."
                books="Takes what is received and not invoiced out of goods received, not invoiced, and closes the line. No invoice can come on it any more."
                label="Why it is free"
                action="Accept as free"
                :error="trouble"
                @done="free"
                @cancel="freeLine = 0"
              />
            </td>
          </tr>
        </template>
      </tbody>
    </table>
    <p v-for="(c, i) in order.charges" :key="i" class="mb-0 mt-2">
      Planned: {{ c.kind }}<template v-if="c.description"> ({{ c.description }})</template>, {{ show(c.amount) }}
      {{ order.currency }} without tax.
    </p>
    <AnnouncingPart v-if="order.announcing" :order="order" />
    <TermsPart kind="orders" :of="order" />
    <AheadOnOrder :order="order" :open="panel === 'ahead'" @close="panel = ''" @opens="panel = 'ahead'" />
    <dl v-if="order.theirReference || order.contact || order.instructions || order.note" class="facts mt-3">
      <div v-if="order.theirReference">
        <dt>Their reference</dt>
        <dd class="mono">{{ order.theirReference }}</dd>
      </div>
      <div v-if="order.contact">
        <dt>Their contact</dt>
        <dd>{{ order.contact }}</dd>
      </div>
      <div v-if="order.instructions">
        <dt>Instructions</dt>
        <dd>{{ order.instructions }}</dd>
      </div>
      <div v-if="order.note">
        <dt>Note</dt>
        <dd>{{ order.note }}</dd>
      </div>
    </dl>
    <template v-if="order.sendings.length || order.answers.length">
      <h2 class="mt-3 mb-1">What was said</h2>
      <ul class="plain">
        <li v-for="(x, i) in order.sendings" :key="`s${i}`">
          {{ kinds[x.kind] }}, version {{ x.revision }}, {{ how(x) }}: {{ x.recipient }},
          {{ showInstant(x.at, today) }} by {{ x.by }}.
          <a v-if="x.mail" :href="`/api/orders/${order.number}/mails/${i + 1}`">The mail</a>
          <span v-if="x.trouble" class="outside-text ms-1">{{ x.trouble }}</span>
          <button
            v-if="(x.state === 'failed' || x.state === 'kept') && allowed('handOverMail')"
            type="button"
            class="linkish"
            :disabled="busy"
            @click="again(i + 1)"
          >
            Try again
          </button>
        </li>
        <li v-for="(x, i) in order.answers" :key="`a${i}`">
          Acknowledged {{ x.reference }}, promised for {{ showDay(x.promisedOn, today) }}.
        </li>
      </ul>
    </template>
    <KeptPapers v-if="order.number" :key="order.number" on="order" :of="order.number" class="mt-3" />
    <template v-if="order.versions.length > 1">
      <h2 class="mt-3 mb-1">Versions</h2>
      <ul class="plain">
        <li v-for="v in order.versions.slice(1)" :key="v.revision">
          <b>Version {{ v.revision }}</b
          >, {{ showInstant(v.at, today) }} by {{ v.by }}: {{ v.reason }}
          <span class="muted">{{ v.changes.join('; ') }}</span>
        </li>
      </ul>
    </template>
  </div>
  <div class="bar">
    <BButton v-if="may('bookDelivery')" variant="primary" :to="placeOf.receiving(order.number)"
      >Book a delivery</BButton
    >
    <BButton
      v-if="may('acceptWork')"
      :variant="may('bookDelivery') ? 'outline-secondary' : 'primary'"
      @click="openPanel('work')"
      >Accept work…</BButton
    >
    <template v-if="sendable">
      <BButton
        :variant="order.unsent.length || !order.sendings.length ? 'primary' : 'outline-secondary'"
        @click="openPanel('order')"
        >Send…</BButton
      >
      <BButton v-if="may('answerOrder')" variant="outline-secondary" @click="openPanel('answer')"
        >Acknowledged…</BButton
      >
      <BButton v-if="expecting" variant="outline-secondary" @click="openPanel('reminder')">Remind…</BButton>
      <BButton v-if="may('closeLines')" variant="outline-secondary" :to="toClose">Close lines…</BButton>
    </template>
    <BButton v-if="may('changeOrder')" variant="outline-secondary" :to="placeOf.orderChange(order.number)"
      >Change…</BButton
    >
    <BButton v-if="may('agreePrepayment')" variant="outline-secondary" @click="openPanel('ahead')"
      >Money ahead…</BButton
    >
    <BButton v-if="may('holdOrder')" variant="outline-secondary" @click="openPanel('hold')">Hold…</BButton>
    <BButton v-if="may('bookReturn')" variant="outline-secondary" @click="openPanel('return')">Send back…</BButton>
    <BButton v-if="may('cancelOrder')" variant="outline-secondary" @click="openPanel('cancel')">Cancel…</BButton>
    <BButton
      v-if="may('sendOrder') && order.state === 'cancelled'"
      variant="outline-secondary"
      @click="openPanel('cancellation')"
      >Tell the supplier…</BButton
    >
    <BButton v-if="may('reopenLines')" variant="outline-secondary" :to="toReopen">Open lines again…</BButton>
    <BButton v-if="may('keyInvoice')" variant="outline-secondary" :to="placeOf.keying(order.number)"
      >Key an invoice</BButton
    >
  </div>
</template>
