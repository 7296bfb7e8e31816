<script setup lang="ts">
// What stands beside an invoice: its paper, the thread of its order, its history.
import { computed, watch } from 'vue'
import type { InvoiceSheet } from '@/api/client'
import HistoryList from '@/parts/HistoryList.vue'
import KeptPapers from '@/parts/KeptPapers.vue'
import OrderThread from '@/parts/OrderThread.vue'
import PaperPage from '@/parts/PaperPage.vue'
import PaperFile from '@/parts/PaperFile.vue'
import SideTabs from '@/parts/SideTabs.vue'

const props = defineProps<{ inv?: InvoiceSheet; what: string; lit: number[] }>()
const side = defineModel<'paper' | 'thread' | 'history'>({ required: true })
watch(
  () => props.inv,
  (i) => (i && !i.paper && i.thread.length ? (side.value = 'thread') : undefined),
  { once: true },
)
const tabs = computed(() => [
  { id: 'paper' as const, text: 'Paper' },
  { id: 'thread' as const, text: props.inv?.order ? `Thread of ${props.inv.order}` : 'Thread' },
  { id: 'history' as const, text: 'History' },
])
</script>

<template>
  <aside class="side" aria-label="Evidence">
    <template v-if="inv">
      <SideTabs v-model="side" :tabs="tabs" label="Evidence" />
      <template v-if="side === 'paper'">
        <PaperPage v-if="inv.paper && inv.source !== 'keyed'" :invoice="inv.number" :lit="lit" />
        <PaperFile
          v-if="inv.paper"
          :url="`/api/invoices/${inv.number}/paper`"
          :name="inv.supplierNumber"
          :kind="inv.paperKind ?? ''"
        />
        <template v-for="b in inv.mail?.beside ?? []" :key="b.part">
          <h2 class="mt-3 mb-1">{{ b.name }}, which came with it</h2>
          <PaperFile :url="`/api/mails/${inv.mail!.number}/files/${b.part}`" :name="b.name" :kind="b.kind" />
        </template>
        <p v-if="!inv.paper" class="muted">
          {{ what }} {{ inv.supplierNumber }} was keyed by hand; there is no file of it.
        </p>
        <KeptPapers :key="inv.number" on="invoice" :of="inv.number" class="mt-3" />
      </template>
      <HistoryList v-else-if="side === 'history'" subject="invoice" :number="inv.number" />
      <OrderThread v-else-if="inv.order" :events="inv.thread" :title="`Thread of ${inv.order}`" />
      <p v-else class="muted">The invoice belongs to no order yet, so it has no thread.</p>
    </template>
  </aside>
</template>
