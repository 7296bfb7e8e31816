<script setup lang="ts">
// Everything that is held: what, why, since when, and whose turn it is. The sheet is the invoice's own.
import { computed, provide, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { useStorage } from '@vueuse/core'
import { useRoute } from 'vue-router'
import type { InvoiceSlip } from '@/api/client'
import { holdsQuery } from '@/api/queries'
import SlipPile from '@/parts/SlipPile.vue'
import { finished } from '@/parts/slip'
import { show, sums } from '@/parts/numbers'
import { askedOfYou, questionsQuery } from '@/parts/questions'
import { today } from '@/parts/session'
import { isAhead, whose, worth } from '../invoices/slips'
import PickField from '@/parts/PickField.vue'
import { holdTo, loss, orders, sorted } from './order'
import { placeOf } from '@/parts/places'

const route = useRoute()
const pile = ref<{ next: () => void }>()
provide(finished, () => pile.value?.next())
const { data, isPending } = useQuery(holdsQuery)
const { data: questions } = useQuery(questionsQuery)

const slip = (i: InvoiceSlip, right = '') => ({
  to: placeOf.held(i.number),
  verdict: 'outside' as const,
  title: i.supplier,
  figure: show(i.total),
  left: isAhead(i) ? 'money ahead' : '',
  about: i.summary,
  right: right || loss(i, today.value),
})
const by = useStorage('lagoon.holds.by', 'lost')
const inOrder = (slips?: InvoiceSlip[]) => sorted(slips ?? [], by.value, today.value)
const groups = computed(() => [
  ...askedOfYou(questions.value, today.value),
  {
    title: 'Your turn',
    empty: 'No difference is yours to settle.',
    sum: worth(data.value?.yours ?? []),
    slips: inOrder(data.value?.yours).map((i) => slip(i)),
  },
  {
    title: 'With others',
    folded: whose(data.value?.others ?? [], today.value),
    empty: 'No difference is with anybody else.',
    sum: worth(data.value?.others ?? []),
    slips: inOrder(data.value?.others).map((i) => slip(i, `${i.turn}’s turn`)),
  },
  {
    title: 'Holds',
    note: 'oldest first',
    empty: 'Nobody has put anything on hold.',
    sum: sums((data.value?.holds ?? []).map((h) => ({ amount: h.total, currency: h.currency }))),
    slips: (data.value?.holds ?? []).map((h) => ({
      to: holdTo(h),
      verdict: 'outside' as const,
      title: h.supplier,
      figure: show(h.total),
      left: '',
      about: h.hold.reasonText,
      right: h.hold.by,
    })),
  },
])
</script>

<template>
  <main class="desk">
    <SlipPile ref="pile" label="Holds" :groups="groups" :loading="isPending" :more="data?.more">
      <div class="p-3 pb-1">
        <label for="holds-by" class="small muted">In the order of</label>
        <PickField id="holds-by" v-model="by" :options="orders" />
      </div>
    </SlipPile>
    <RouterView v-slot="{ Component }"><component :is="Component" :key="route.path" /></RouterView>
  </main>
</template>
