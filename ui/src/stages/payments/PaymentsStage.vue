<script setup lang="ts">
import { computed } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { useRoute, useRouter } from 'vue-router'
import type { Verdict } from '@/api/client'
import { aheadQuery, paymentsQuery } from '@/api/queries'
import SlipPile from '@/parts/SlipPile.vue'
import { useKeys } from '@/parts/keys'
import { showDay, sums } from '@/parts/numbers'
import { askedOfYou, questionsQuery } from '@/parts/questions'
import { may, today } from '@/parts/session'
import { toPay } from '../invoices/slips'
import { placeOf } from '@/parts/places'

const route = useRoute()
const router = useRouter()
const { data, isPending } = useQuery(paymentsQuery)
const { data: ahead } = useQuery(aheadQuery)
const { data: questions } = useQuery(questionsQuery)
const usable = computed(() => (ahead.value?.rows ?? []).filter((m) => Number(m.usable)))
const states: Record<string, { text: string; verdict: Verdict }> = {
  proposed: { text: 'to be approved', verdict: 'waiting' },
  approved: { text: 'to be sent', verdict: 'waiting' },
  sent: { text: 'waits for the bank', verdict: 'waiting' },
  answered: { text: 'answered', verdict: 'agrees' },
  discarded: { text: 'discarded', verdict: 'agrees' },
  taken_back: { text: 'taken back', verdict: 'agrees' },
  lost: { text: 'never reached the bank', verdict: 'outside' },
}
const groups = computed(() => {
  const runs = data.value?.runs ?? []
  const slips = runs.map((r) => ({
    to: placeOf.run(r.number),
    verdict: r.rejected ? ('outside' as const) : states[r.state]!.verdict,
    title: `Run ${r.number}`,
    figure: showDay(r.payOn, today.value),
    left: r.madeBy,
    right: r.rejected ? `${r.rejected} rejected` : states[r.state]!.text,
    open: ['proposed', 'approved', 'sent'].includes(r.state),
  }))
  return [
    ...askedOfYou(questions.value, today.value),
    {
      title: 'To do',
      empty: '',
      slips: [
        {
          to: '/payments',
          verdict: 'agrees' as const,
          title: 'Release invoices',
          figure: String(data.value?.verified.length ?? ''),
          left: toPay(data.value?.verified ?? []) || 'nothing verified',
        },
        {
          to: '/payments/proposed-run',
          verdict: 'waiting' as const,
          title: 'Propose a run',
          figure: String(data.value?.released.length ?? ''),
          left:
            sums((data.value?.released ?? []).map((i) => ({ amount: i.open, currency: i.currency }))) ||
            'nothing released',
        },
        {
          to: '/payments/ahead',
          verdict: (ahead.value?.rows.some((m) => m.stuck) ? 'outside' : 'within') as Verdict,
          title: 'Money ahead',
          figure: String(ahead.value?.rows.length ?? ''),
          left:
            sums(usable.value.map((m) => ({ amount: m.usable, currency: m.currency }))) || 'none is paid and not used',
        },
        {
          to: '/payments/cash',
          verdict: 'waiting' as const,
          title: 'Cash ahead',
          figure: '',
          left: 'what leaves when, discounts, overdue',
        },
        ...(may('getBank')
          ? [
              {
                to: '/payments/bank',
                verdict: (data.value?.bank ? 'outside' : 'agrees') as Verdict,
                title: 'The bank',
                figure: String(data.value?.bank || ''),
                left: data.value?.bank ? 'lines of statements to place' : 'statements and balance',
              },
            ]
          : []),
      ],
    },
    { title: 'Runs under way', empty: 'No run is under way.', slips: slips.filter((s) => s.open) },
    { title: 'Earlier runs', empty: 'Finished runs appear here.', slips: slips.filter((s) => !s.open) },
  ]
})
useKeys(() =>
  may('makeRun') ? [{ key: 'n', label: 'propose a run', run: () => void router.push('/payments/proposed-run') }] : [],
)
</script>

<template>
  <main class="desk">
    <SlipPile label="Payments" :groups="groups" :loading="isPending" :more="data?.more" />
    <RouterView v-slot="{ Component }"><component :is="Component" :key="route.path" /></RouterView>
  </main>
</template>
