// What can be done with an invoice, the usual first: its keys and its buttons.
import { computed, type Ref } from 'vue'
import type { InvoiceSheet } from '@/api/client'
import type { Ask } from './asks'

interface Runs {
  correct: () => void
  claim: () => void
  ask: (what: Ask | 'hold' | 'lift') => void
  credit: () => void
  otherwise: () => void
  pay: () => void
}

export function useSteps(inv: Ref<InvoiceSheet | undefined>, differences: Ref<number>, runs: Runs) {
  return computed(() =>
    [
      { job: 'correctInvoice', key: 'c', label: 'correct', text: 'Correct the entry', run: runs.correct },
      {
        job: 'claimInvoice',
        key: 'a',
        label: differences.value ? 'pay what agrees' : 'claim',
        text: differences.value ? 'Pay what agrees, claim the rest' : 'Claim a credit note',
        run: runs.claim,
      },
      { job: 'holdInvoice', key: 'h', label: 'hold', text: 'Hold', run: () => runs.ask('hold') },
      { job: 'liftHold', key: 'h', label: 'take hold off', text: 'Take hold off', run: () => runs.ask('lift') },
      { job: 'refuseInvoice', key: 'r', label: 'refuse', text: 'Refuse', run: () => runs.ask('refuse') },
      {
        job: 'takeBackRelease',
        key: 'b',
        label: 'take the release back',
        text: 'Take the release back',
        run: () => runs.ask('back'),
      },
      { job: 'makeRun', key: 'm', label: 'make a run of it', text: 'Make a run of it', run: runs.pay },
      {
        job: 'settleOtherwise',
        key: 'o',
        label: inv.value?.kind === 'credit_note' ? 'refunded' : 'paid otherwise',
        text: inv.value?.kind === 'credit_note' ? 'Refunded…' : 'Paid otherwise…',
        run: runs.otherwise,
      },
      { job: 'keyInvoice', key: 'e', label: 'key its credit note', text: 'Key its credit note', run: runs.credit },
      { job: 'voidInvoice', key: 'v', label: 'make void', text: 'Make void', run: () => runs.ask('void') },
    ].filter((s) => inv.value?.may.includes(s.job)),
  )
}
