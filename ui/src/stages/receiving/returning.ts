import { computed, watch } from 'vue'
import { api, unwrap, type Booked, type ReturnEntry } from '@/api/client'
import { useArrive } from '@/parts/arrive'
import { useDraft } from '@/parts/draft'
import { useJob } from '@/parts/job'
import { show } from '@/parts/numbers'
import { placeOf } from '@/parts/places'
import { usePreview } from '@/parts/preview'
import { today } from '@/parts/session'

/** What a return asks for, when and why; and how much goes back by line, or by line and lot where there is more than one. */
export interface ReturnDraft {
  outcome: 'replacement' | 'credit'
  reason: string
  day: string
  back: Record<number, string>
  lots: Record<string, string>
  /** To whom goods of an item go back; of a delivery or an order it is known. */
  supplier?: string
}

/** What is said once it is booked, with where to go from there. */
function returned(booked: Booked): [string, { to: string; text: string }[]] {
  const others = booked.others ?? []
  return [
    others.length
      ? `Returns ${[booked.number, ...others].join(', ')} are booked, one of each delivery.`
      : `Return ${booked.number} is booked.`,
    [
      ...others.map((n) => ({ to: placeOf.delivery(n), text: `Return ${n}` })),
      ...(booked.entry ? [{ to: placeOf.entry(booked.entry), text: `Ledger entry ${booked.entry}` }] : []),
      ...booked.moves.map((n) => ({ to: placeOf.invoice(n), text: `Invoice ${n} was matched again` })),
    ],
  ]
}

/** A return while it is entered: its draft under a name, what it would book, and the booking of it. */
export function useReturn(
  name: string,
  fresh: Pick<ReturnDraft, 'back' | 'lots' | 'supplier'>,
  goesBack: (
    draft: ReturnDraft,
  ) => Pick<ReturnEntry, 'delivery' | 'order' | 'item' | 'supplier' | 'quantity' | 'lines'>,
) {
  const arrive = useArrive()
  const { draft, clear } = useDraft<ReturnDraft>(name, () => ({
    ...fresh,
    outcome: 'credit',
    reason: '',
    day: today.value,
  }))
  const { refusal, busy, send, at, forget } = useJob({ within: '.ask', says: ['', 'lines', 'supplier'] })
  const body = () => {
    const { day, outcome, reason } = draft.value
    return { ...goesBack(draft.value), day, outcome, reason }
  }
  const {
    preview,
    again: ask,
    wrong,
  } = usePreview([draft], () => unwrap(api.POST('/api/returns/preview', { body: body() })))
  watch(draft, () => forget(), { deep: true })
  const { back, lots } = draft.value
  if ([...Object.values(back), ...Object.values(lots)].some(Boolean)) void ask() // what was typed before was kept
  return {
    draft,
    clear,
    busy,
    preview,
    at,
    /** What is wrong with a field, refused or so far. */
    fault: (field: string) => at(field) ?? wrong(field),
    /** What is refused of no line of it alone. */
    trouble: computed(() => (refusal.value && !refusal.value.problem.field ? refusal.value.message : at('lines'))),
    /** What it books and leaves open, in a sentence. */
    books: computed(() => {
      const p = preview.value
      if (!p || Number(p.value) === 0) return 'Enter how much goes back.'
      const taken = `Takes ${show(p.value)} ${p.currency} out of stock and of goods received, not yet invoiced.`
      if (Number(p.credit) > 0)
        return `${taken} ${show(p.credit)} of it is invoiced: a credit note is expected for that.`
      return draft.value.outcome === 'replacement'
        ? `${taken} The goods are expected again.`
        : `${taken} Nothing of it is invoiced yet.`
    }),
    done: () =>
      send(async () => {
        const booked = await unwrap(api.POST('/api/returns', { body: body() }))
        clear()
        await arrive(placeOf.delivery(booked.number), ...returned(booked))
      }),
  }
}
