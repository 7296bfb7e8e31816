<script setup lang="ts">
// Terms of payment as they are typed: of a supplier, an order or an invoice.
import EntryField from './EntryField.vue'
import TickBox from './TickBox.vue'
import type { TypedTerms } from './terms'

defineProps<{ id: string; at: (field: string) => string | undefined }>()
const terms = defineModel<TypedTerms>({ required: true })
</script>

<template>
  <div class="entry">
    <EntryField
      :id="`${id}-net`"
      v-model="terms.netDays"
      label="Days net"
      inputmode="numeric"
      :error="at('netDays')"
      data-first
    />
    <TickBox v-model="terms.fromReceipt" class="tick">counted from the receipt</TickBox>
    <TickBox v-model="terms.endOfMonth" class="tick">to the end of the month</TickBox>
    <EntryField :id="`${id}-day`" v-model="terms.dayOfMonth" label="then to this day of the next" inputmode="numeric" />
    <EntryField
      :id="`${id}-discount`"
      v-model="terms.discountPercent"
      label="Discount, %"
      inputmode="decimal"
      :error="at('discountPercent')"
    />
    <EntryField
      :id="`${id}-discount-days`"
      v-model="terms.discountDays"
      label="when paid within days"
      inputmode="numeric"
    />
    <EntryField
      :id="`${id}-later-discounts`"
      v-model="terms.laterDiscounts"
      label="Further discounts"
      hint="2% 14"
      :error="at('laterDiscounts')"
    />
    <EntryField
      :id="`${id}-instalments`"
      v-model="terms.instalments"
      label="Instalments, in place of days net"
      hint="30% 30, 70% 60"
      :error="at('instalments')"
    />
  </div>
</template>
