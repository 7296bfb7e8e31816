<script setup lang="ts">
// The head of an invoice: orders, days, total, and by which numbers it is known.
import { computed } from 'vue'
import type { InvoiceSheet } from '@/api/client'
import { distance, show, showDay, sums } from '@/parts/numbers'
import { today } from '@/parts/session'
import { placeOf } from '@/parts/places'

const props = defineProps<{ inv: InvoiceSheet }>()
const emit = defineEmits<{ due: [] }>()
const credit = computed(() => props.inv.kind === 'credit_note')
const unsettled = computed(() => ['captured', 'waiting', 'held'].includes(props.inv.state))
/** What of it was paid ahead. */
const used = computed(() =>
  sums(
    (props.inv.ahead ?? [])
      .filter((c) => Number(c.use?.amount))
      .map((c) => ({ amount: c.use!.amount, currency: props.inv.currency })),
  ),
)
/** Whether the day on which it is due still means something. */
const owed = computed(() => !['paid', 'void', 'refused'].includes(props.inv.state))
</script>

<template>
  <dl class="facts">
    <div>
      <dt>{{ inv.orders.length > 1 ? 'Orders' : 'Order' }}</dt>
      <dd class="mono">
        <template v-for="(o, i) in inv.orders" :key="o"
          ><template v-if="i">, </template><RouterLink :to="placeOf.order(o)">{{ o }}</RouterLink></template
        ><template v-if="!inv.orders.length">{{ inv.orderStated || 'none' }}</template
        ><span v-if="inv.final" class="muted"> · last invoice of the order</span>
      </dd>
    </div>
    <div v-if="inv.credited">
      <dt>{{ credit ? 'Credits invoice' : 'Adjusts invoice' }}</dt>
      <dd class="mono">
        <RouterLink v-if="inv.credited.number" :to="placeOf.invoice(inv.credited.number)">{{
          inv.credited.supplierNumber
        }}</RouterLink><template v-else>{{ inv.credited.supplierNumber }}, not here</template>
      </dd>
    </div>
    <div>
      <dt>{{ credit ? 'Date' : 'Invoice date' }}</dt>
      <dd>{{ showDay(inv.date, today) }}</dd>
    </div>
    <div v-if="inv.taxPoint && inv.taxPoint !== inv.date">
      <dt>Tax point</dt>
      <dd>{{ showDay(inv.taxPoint, today) }}</dd>
    </div>
    <div v-if="!credit">
      <dt>Due</dt>
      <dd>
        {{ showDay(inv.due, today) }}<span v-if="owed" class="muted"> · {{ distance(inv.due, today) }}</span
        ><template v-if="inv.dueStated && inv.dueStated !== inv.due">
          <span class="muted"> · the invoice says {{ showDay(inv.dueStated, today) }}</span></template
        ><span v-if="inv.dueTaken" class="muted"> · {{ inv.dueTaken.by }}: {{ inv.dueTaken.note }}</span
        ><button v-if="inv.may.includes('takeStatedDue')" type="button" class="linkish ms-1" @click="emit('due')">
          {{ inv.due === inv.dueStated ? 'as stated…' : 'take that…' }}</button
        ><template v-if="owed && inv.discountUntil >= today && Number(inv.discount) > 0">
          · {{ show(inv.discount) }} off until {{ showDay(inv.discountUntil, today) }}
          <span class="muted">({{ inv.yearlyRate }} a year)</span></template
        >
      </dd>
    </div>
    <div v-if="inv.instalments?.length">
      <dt>Instalments</dt>
      <dd>
        <template v-for="(p, i) in inv.instalments" :key="i"
          ><template v-if="i">, </template>{{ show(p.amount) }} on {{ showDay(p.due, today) }}</template
        >
      </dd>
    </div>
    <div v-if="owed && inv.discounts?.length">
      <dt>Discounts</dt>
      <dd>
        <template v-for="(d, i) in inv.discounts" :key="i"
          ><template v-if="i">, </template>{{ show(d.percent) }} % until {{ showDay(d.until, today) }}</template
        >
      </dd>
    </div>
    <div>
      <dt>Stated total</dt>
      <dd>
        <b>{{ show(inv.stated) }} {{ inv.currency }}</b>
      </dd>
    </div>
    <div v-if="credit && Number(inv.open)">
      <dt>To be taken off</dt>
      <dd>{{ show(inv.open.replace('-', '')) }} {{ inv.currency }}</dd>
    </div>
    <div v-if="inv.claimed">
      <dt>Kept back</dt>
      <dd>
        {{ show(inv.claimed) }}<span class="muted"> · to pay </span><b>{{ show(inv.open) }} {{ inv.currency }}</b>
      </dd>
    </div>
    <div v-if="used">
      <dt>Paid ahead</dt>
      <dd>
        {{ used
        }}<template v-if="owed && !unsettled"
          ><span class="muted"> · to pay </span><b>{{ show(inv.open) }} {{ inv.currency }}</b></template
        >
      </dd>
    </div>
    <div v-if="inv.netted?.length">
      <dt>{{ credit ? 'Taken off' : 'Credited in its payment' }}</dt>
      <dd>
        <template v-for="(n, i) in inv.netted" :key="i"
          ><template v-if="i">, </template>{{ show(n.amount) }}{{ credit ? ' ' : ' by '
          }}<RouterLink :to="placeOf.invoice(credit ? n.invoice : n.credit)" class="mono">{{
            credit ? n.supplierNumber : n.creditNumber
          }}</RouterLink></template
        >
      </dd>
    </div>
    <div v-if="inv.credits?.length">
      <dt>Credited or adjusted by</dt>
      <dd class="mono">
        <template v-for="(c, i) in inv.credits" :key="c.number"
          ><template v-if="i">, </template
          ><RouterLink :to="placeOf.invoice(c.number)">{{ c.supplierNumber }}</RouterLink></template
        >
      </dd>
    </div>
    <div v-if="inv.reference">
      <dt>Reference</dt>
      <dd class="mono">{{ inv.reference }}</dd>
    </div>
    <div>
      <dt>Lagoon’s number</dt>
      <dd class="mono">{{ inv.number }}</dd>
    </div>
    <div v-if="inv.mail">
      <dt>{{ inv.mail.sender ? 'Came by mail' : 'Its paper' }}</dt>
      <dd>
        <RouterLink :to="placeOf.mail(inv.mail.number)">{{ inv.mail.subject || 'without a subject' }}</RouterLink>
        <span v-if="inv.mail.sender" class="muted"> from {{ inv.mail.sender }}</span>
        <span v-if="inv.mail.stranger && inv.supplier" class="outside-text"
          >, which is no address of {{ inv.supplierName }}</span
        >
      </dd>
    </div>
  </dl>
</template>
