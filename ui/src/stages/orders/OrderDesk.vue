<script lang="ts">
import { ref } from 'vue'

/** What stands beside every order, as it was chosen last. */
const side = ref<'thread' | 'history'>('thread')
</script>
<script setup lang="ts">
// An order on the desk, with its thread or history beside it.
import { computed } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap } from '@/api/client'
import HistoryList from '@/parts/HistoryList.vue'
import NoticeBar from '@/parts/NoticeBar.vue'
import OrderThread from '@/parts/OrderThread.vue'
import SideTabs from '@/parts/SideTabs.vue'
import OrderSheet from './OrderSheet.vue'

const props = defineProps<{ number: number }>()
const { data: order, error } = useQuery({
  queryKey: ['order', computed(() => props.number)],
  queryFn: () => unwrap(api.GET('/api/orders/{number}', { params: { path: { number: props.number } } })),
  enabled: computed(() => props.number > 0),
})
const tabs = [
  { id: 'thread' as const, text: 'Thread' },
  { id: 'history' as const, text: 'History' },
]
</script>

<template>
  <section class="sheet" aria-label="Order">
    <NoticeBar />
    <div v-if="error" class="nothing" role="alert">{{ error.message }}</div>
    <div v-else-if="!number" class="nothing">
      <h1>Orders</h1>
      <p>
        Choose an order on the left with <kbd>↑</kbd> <kbd>↓</kbd> and <kbd>Enter</kbd>, or find one by its number with
        <kbd>/</kbd>.
      </p>
    </div>
    <OrderSheet v-else-if="order" :key="order.number" :order="order" />
  </section>
  <aside class="side" aria-label="Thread of the order">
    <template v-if="order && number">
      <SideTabs v-model="side" :tabs="tabs" label="Evidence" />
      <OrderThread v-if="side === 'thread'" :events="order.thread" :title="`Thread of ${order.number}`" />
      <HistoryList v-else :key="order.number" subject="order" :number="order.number" />
    </template>
  </aside>
</template>
