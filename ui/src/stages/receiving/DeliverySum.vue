<script setup lang="ts">
// What a delivery would book, or why it cannot be booked.
import type { DeliveryPreview, OrderSheet } from '@/api/client'
import { show, showDay } from '@/parts/numbers'
import { today } from '@/parts/session'

defineProps<{
  order: OrderSheet
  preview: DeliveryPreview | undefined
  may: boolean
  blocked: boolean
  counting: boolean
}>()
</script>

<template>
  <span v-if="!may" class="muted">{{
    order.state === 'issued'
      ? 'Booking a delivery takes the role receiver.'
      : order.state === 'draft'
        ? 'This order waits for an approver.'
        : `This order is ${order.state}.`
  }}</span>
  <span v-else-if="blocked" class="sum outside-text">A line is past its limit.</span>
  <span v-else-if="counting" class="sum">Counted now, booked by somebody else.</span>
  <span v-else class="sum"
    >Books {{ show(preview?.value ?? '0.00') }} {{ order.currency }} to goods received, not yet invoiced<template
      v-if="preview?.postedOn"
      >, posted on {{ showDay(preview.postedOn, today) }}: the period of its arrival is closed</template
    ></span
  >
</template>
