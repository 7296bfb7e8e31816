<script setup lang="ts">
// Of an invoice without an order: whether it comes again, to whom it was passed on, who approved it.
import type { InvoiceSheet } from '@/api/client'
import { ended, showInstant } from '@/parts/numbers'
import { today } from '@/parts/session'

defineProps<{ coded: NonNullable<InvoiceSheet['coded']> }>()
</script>

<template>
  <p v-if="coded.recurring" class="finding" :class="coded.differs ? 'within' : 'agrees'">{{ coded.recurring }}</p>
  <p v-for="o in coded.over" :key="o" class="finding within">{{ o }}</p>
  <p v-if="coded.passed" class="finding">{{ coded.passed }}</p>
  <p v-if="coded.approvedBy" class="finding agrees">
    Approved by {{ coded.approvedBy }}, {{ showInstant(coded.approvedAt ?? '', today)
    }}{{ coded.note ? `: ${ended(coded.note)}` : '.' }}
  </p>
</template>
