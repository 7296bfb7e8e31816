<script setup lang="ts">
// Money that was paid ahead: what the invoice uses of it, or could; of an invoice that asks for money ahead, what became of it.
import { computed, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap, type AheadChoice, type InvoiceSheet } from '@/api/client'
import { aheadQuery } from '@/api/queries'
import NumberField from '@/parts/NumberField.vue'
import PickField from '@/parts/PickField.vue'
import SmallForm from '@/parts/SmallForm.vue'
import TextField from '@/parts/TextField.vue'
import { useJob } from '@/parts/job'
import { useKeys } from '@/parts/keys'
import { sent, show, showInstant } from '@/parts/numbers'
import { placeOf } from '@/parts/places'
import { today } from '@/parts/session'

const props = defineProps<{ inv: InvoiceSheet }>()
const emit = defineEmits<{ opens: []; done: [state: string, said: string, entry?: number] }>()
type How = 'use' | 'leave' | 'back'
const form = ref<{ of: number; how: How; amount: string; note: string }>()
const { busy, send, trouble, at, forget } = useJob({ within: '.ask', says: 'all' })
const may = (job: string) => props.inv.may.includes(job)
const choices = computed(() => props.inv.ahead ?? [])
/** Money that somebody has still to say something about. */
const open = (c: AheadChoice) => !c.use && Number(c.could) > 0
const first = computed(() => choices.value.find(open))
/** Money that the supplier was paid ahead on other orders: asked for when somebody wants it. */
const wanted = ref(false)
const { data: all } = useQuery({ ...aheadQuery, enabled: wanted })
const elsewhere = computed(() =>
  (all.value?.rows ?? [])
    .filter((m) => m.supplierCode === props.inv.supplier?.code && m.currency === props.inv.currency)
    .flatMap((m) => m.invoices.map((n) => ({ ...n, order: m.order, usable: m.usable })))
    .filter((n) => Number(n.usable) && !choices.value.some((c) => c.number === n.number)),
)
const other = ref({ of: '', amount: '' })
function askElsewhere() {
  forget()
  emit('opens')
  wanted.value = true
  other.value = { of: '', amount: '' }
}
const useOther = () => use(Number(other.value.of || elsewhere.value[0]?.number), 'use', other.value.amount)
const amount = (text: string) => `${show(text)} ${props.inv.currency}`

function ask(of: number, how: How) {
  forget()
  emit('opens')
  form.value = { of, how, amount: '', note: '' }
}
async function use(of: number, how: How, typed = '', note = '') {
  const path = { number: props.inv.number }
  const body = {
    prepayment: of,
    version: props.inv.version,
    note,
    ...(how === 'leave' ? { leave: true } : { amount: sent(typed) }),
  }
  const answer = await send(() =>
    how === 'back'
      ? unwrap(
          api.POST('/api/invoices/{number}/ahead/{prepayment}/take-back', {
            params: { path: { ...path, prepayment: of } },
            body: { reason: note, version: props.inv.version },
          }),
        )
      : unwrap(api.POST('/api/invoices/{number}/ahead', { params: { path }, body })),
  )
  if (!answer) return
  form.value = undefined
  wanted.value = false
  const said = {
    use: 'The money ahead is used for it.',
    leave: 'The money ahead stays where it is.',
    back: 'The money ahead is open again.',
  }[how]
  emit('done', answer.state, said, answer.entry)
}
/** From a finding: all that can be used is, and why it is not is asked. */
function settle(how: 'use' | 'leave') {
  if (first.value) void (how === 'use' ? use(first.value.number, 'use') : ask(first.value.number, 'leave'))
}
defineExpose({ settle, close: () => ((form.value = undefined), (wanted.value = false)) })
useKeys(() =>
  first.value && may('usePrepayment')
    ? [
        {
          key: 'u',
          label: `use ${show(first.value.could)} paid ahead`,
          run: () => void use(first.value!.number, 'use'),
        },
      ]
    : [],
)
</script>

<template>
  <section v-if="inv.asks" class="finding within">
    <b>Money ahead, {{ inv.asks.kind }}.</b>{{ ' ' }}
    <template v-if="inv.asks.agreement">
      {{ inv.asks.share ?? 'An amount' }} of order
      <RouterLink :to="placeOf.order(inv.asks.order)" class="mono">{{ inv.asks.order }}</RouterLink>,
      {{ amount(inv.asks.agreed) }}, is agreed<template v-if="inv.asks.event">: {{ inv.asks.event }}</template
      >.</template
    >
    <template v-else> Nothing is agreed for it.</template>
    <template v-if="Number(inv.asks.invoiced) || Number(inv.asks.paid)">
      Paid {{ amount(inv.asks.paid) }}, used {{ amount(inv.asks.used) }}, can be used
      {{ amount(inv.asks.usable) }}.</template
    >
    <span v-if="inv.asks.stuck" class="outside-text"> Its order has ended: it is to be credited and refunded.</span>
    <template v-if="inv.users?.length">
      <br />Used by
      <template v-for="(u, i) in inv.users" :key="u.number"
        ><template v-if="i">, </template
        ><RouterLink :to="placeOf.invoice(u.number)" class="mono">{{ u.supplierNumber }}</RouterLink> {{ show(u.amount)
        }}<template v-if="!u.booked"> (not verified yet)</template></template
      >.
    </template>
  </section>
  <section v-for="c in choices" :key="c.number" class="finding" :class="open(c) ? 'waiting' : 'within'">
    <div class="said">
      <span>
        <b
          >Paid ahead with
          <RouterLink :to="placeOf.invoice(c.number)" class="mono">{{ c.supplierNumber }}</RouterLink></b
        >, {{ c.kind
        }}<template v-if="c.use && Number(c.use.amount)"
          >: <b>{{ amount(c.use.amount) }} used for this invoice</b
          ><template v-if="!c.use.booked"> once it is verified</template></template
        ><template v-else-if="c.use">: left for another</template
        ><template v-if="Number(c.usable)">; {{ amount(c.usable) }} can be used</template>.
        <span v-if="c.use" class="muted"
          >{{ c.use.by }}, {{ showInstant(c.use.at, today)
          }}<template v-if="c.use.note">: {{ c.use.note }}</template></span
        >
      </span>
      <span class="nowrap">
        <template v-if="may('usePrepayment') && Number(c.could) && !c.use?.booked">
          <button type="button" class="linkish" :disabled="busy" @click="use(c.number, 'use')">
            Use {{ show(c.could) }} <kbd v-if="c.number === first?.number">U</kbd>
          </button>
          <button type="button" class="linkish ms-2" @click="ask(c.number, 'use')">Another amount…</button>
          <button v-if="!c.use" type="button" class="linkish ms-2" @click="ask(c.number, 'leave')">Leave it…</button>
        </template>
        <button
          v-if="c.use && may('takeBackPrepaymentUse')"
          type="button"
          class="linkish ms-2"
          @click="ask(c.number, 'back')"
        >
          Take back…
        </button>
      </span>
    </div>
    <SmallForm
      v-if="form && form.of === c.number"
      :key="form.how"
      :action="{ use: 'Use it', leave: 'Leave it for another', back: 'Take it back' }[form.how]"
      :disabled="busy"
      @done="use(form.of, form.how, form.amount, form.note)"
      @cancel="form = undefined"
    >
      <template v-if="form.how === 'use'">
        <p class="mb-2">
          Up to {{ amount(c.could) }}; in proportion to what is billed of the order it is {{ amount(c.share) }}.
          <button type="button" class="linkish" @click="form.amount = show(c.share)">Take that</button>
        </p>
        <label for="ahead-amount">Amount, with tax</label>
        <NumberField
          id="ahead-amount"
          v-model="form.amount"
          data-first
          label="Amount, with tax"
          :error="at('amount')"
          style="width: 140px"
        />
      </template>
      <template v-else>
        <p class="mb-2">
          {{
            form.how === 'leave'
              ? 'Books nothing. The invoice is paid whole; the money stays in the list of money ahead.'
              : 'What was taken off the invoice is owed again, and the money can be used elsewhere.'
          }}
        </p>
        <label for="ahead-note">{{ form.how === 'leave' ? 'Why it is not used here' : 'Why it is taken back' }}</label>
        <TextField id="ahead-note" v-model="form.note" data-first autocomplete="off" aria-describedby="ahead-trouble" />
      </template>
      <div id="ahead-trouble" class="small text-danger" role="alert">{{ trouble }}</div>
    </SmallForm>
  </section>
  <p v-if="may('usePrepayment') && inv.kind === 'invoice' && inv.supplier && !wanted" class="muted mb-1">
    <button type="button" class="linkish" @click="askElsewhere">Money paid ahead on another order…</button>
  </p>
  <SmallForm
    v-if="wanted"
    action="Use it"
    :disabled="busy || !elsewhere.length"
    @done="useOther"
    @cancel="wanted = false"
  >
    <p v-if="!elsewhere.length" class="mb-0">Nothing that this supplier was paid ahead on another order can be used.</p>
    <div v-else class="d-flex flex-wrap gap-3">
      <div>
        <label for="ahead-elsewhere">Paid ahead with</label>
        <PickField
          id="ahead-elsewhere"
          v-model="other.of"
          :options="
            elsewhere.map((n, i) => ({
              value: i ? String(n.number) : '',
              text: `${n.supplierNumber} on order ${n.order}, ${amount(n.usable)}`,
            }))
          "
        />
      </div>
      <div>
        <label for="ahead-elsewhere-amount">Amount, empty: all that can be</label>
        <NumberField
          id="ahead-elsewhere-amount"
          v-model="other.amount"
          label="Amount"
          :error="at('amount')"
          style="width: 140px"
        />
      </div>
    </div>
    <div class="small text-danger" role="alert">{{ trouble }}</div>
  </SmallForm>
  <p v-if="trouble && !form && !wanted" class="outside-text" role="alert">{{ trouble }}</p>
</template>
