<script setup lang="ts">
import { computed, nextTick, onMounted, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { useRoute, useRouter } from 'vue-router'
import { api, unwrap } from '@/api/client'
import NoticeBar from '@/parts/NoticeBar.vue'
import SlipPile from '@/parts/SlipPile.vue'
import { useKeys } from '@/parts/keys'
import { daysBetween, distance, show } from '@/parts/numbers'
import { today } from '@/parts/session'
import BookedDelivery from './BookedDelivery.vue'
import DeliverySheet from './DeliverySheet.vue'
import TextField from '@/parts/TextField.vue'

const route = useRoute()
const router = useRouter()
const number = computed(() => Number(route.params['number']) || 0)
const booked = computed(() => route.meta['booked'] === true)
const wanted = ref('')
const missing = ref('')

const { data: expected, isPending } = useQuery({
  queryKey: ['receiving'],
  queryFn: () => unwrap(api.GET('/api/receiving')),
})
const groups = computed(() => [
  {
    title: 'Expected',
    note: 'by day',
    empty: 'Nothing is expected. Orders appear here once they are issued.',
    slips: (expected.value ?? []).map((o) => ({
      to: `/receiving/${o.number}`,
      verdict: daysBetween(today.value, o.wantedOn) < 0 ? ('outside' as const) : ('waiting' as const),
      title: o.supplier,
      figure: String(o.number),
      left: o.lines === 1 ? o.first : `${o.lines} lines${o.received > 0 ? ', part received' : ''}`,
      right: distance(o.wantedOn, today.value),
    })),
  },
])

async function open() {
  const order = wanted.value.trim()
  missing.value = ''
  if (!/^\d+$/.test(order)) {
    missing.value = 'Enter an order number.'
    return
  }
  try {
    await unwrap(api.GET('/api/orders/{number}', { params: { path: { number: Number(order) } } }))
    wanted.value = ''
    await router.push(`/receiving/${order}`)
  } catch (e) {
    missing.value = (e as Error).message
  }
}
onMounted(() => {
  if (!number.value) void nextTick(() => document.getElementById('receive-order')?.focus())
})
useKeys(() => [{ key: 'n', label: 'order number', run: () => document.getElementById('receive-order')?.focus() }])
</script>

<template>
  <main class="desk">
    <SlipPile label="Expected deliveries" :groups="groups" :loading="isPending">
      <form class="p-3 pb-1" @submit.prevent="open">
        <label for="receive-order">Delivery on order number</label>
        <TextField
          id="receive-order"
          v-model="wanted"
          class="mono"
          autocomplete="off"
          inputmode="numeric"
          data-pile-keys
          :state="missing ? false : undefined"
          aria-describedby="receive-order-error"
        />
        <div id="receive-order-error" class="small text-danger">{{ missing }}</div>
      </form>
    </SlipPile>
    <BookedDelivery v-if="number && booked" :key="`b${number}`" :number="number" />
    <DeliverySheet v-else-if="number" :key="number" :number="number" />
    <template v-else>
      <section class="sheet" aria-label="Delivery">
        <NoticeBar />
        <div class="nothing">
          <h1>Receiving</h1>
          <p>Type the order number from the delivery note and press <kbd>Enter</kbd>, or choose what is expected on the left.</p>
          <p>{{ expected?.length ? `${show(String(expected.length))} orders are waiting for goods.` : '' }}</p>
        </div>
      </section>
      <aside class="side" aria-label="Thread of the order"></aside>
    </template>
  </main>
</template>
