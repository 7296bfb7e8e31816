// What is counted of an order's lines while a delivery is typed, and what is sent of it.
import { computed, nextTick, ref, shallowRef, type Ref } from 'vue'
import type { DeliveryEntry, Finding, OrderLine, OrderSheet } from '@/api/client'
import { enter } from '@/parts/fields'
import { sent, show } from '@/parts/numbers'
import { blankCount, blankLot, lotsOf, touched, type Count, type DeliveryDraft } from './count'

export function useCounting(order: Ref<OrderSheet | undefined>, draft: Ref<DeliveryDraft>) {
  const seen = shallowRef<Record<number, string>>({}) // received of each line when it was first shown
  const at = ref(0) // the number of the line that is worked on

  // Only lines of which something is typed have a count in the draft: an order may have many lines.
  const counts = computed(() => draft.value.counts)
  const blanks = new Map<number, Count>()
  function countOf(l: OrderLine): Count {
    const count = counts.value[l.no] ?? blanks.get(l.no) ?? blankCount(l)
    if (!counts.value[l.no]) blanks.set(l.no, count)
    return count
  }
  function change(l: OrderLine | undefined, part: Partial<Count>) {
    if (!l) return
    if (Object.keys(draft.value.seen).length === 0) draft.value.seen = { ...seen.value }
    draft.value.counts[l.no] = { ...countOf(l), ...part }
  }
  const typedAny = computed(() => Object.values(counts.value).some(touched))
  /** What is booked on a line: what was typed, or its rest where nothing at all is typed yet. */
  const quantity = (l: OrderLine) => (typedAny.value ? sent(counts.value[l.no]?.now ?? '', l.quantity) : l.rest)
  const lines = computed(() =>
    (order.value?.lines ?? []).filter(
      (l) =>
        quantity(l) !== '' || counts.value[l.no]?.close || counts.value[l.no]?.refused || counts.value[l.no]?.remark,
    ),
  )
  const current = computed(() => order.value?.lines.find((l) => l.no === at.value))
  const received = () => Object.fromEntries((order.value?.lines ?? []).map((l) => [l.no, l.received]))

  return {
    seen,
    at,
    typedAny,
    lines,
    quantity,
    countOf,
    change,
    received,
    body: (): DeliveryEntry['lines'] =>
      lines.value.map((l) => ({
        no: l.no,
        quantity: quantity(l) || '0',
        refused: sent(counts.value[l.no]?.refused ?? '') || '0',
        reason: counts.value[l.no]?.refused ? (counts.value[l.no]?.reason ?? '') : '',
        remark: counts.value[l.no]?.remark ?? '',
        close: counts.value[l.no]?.close ?? false,
        before: seen.value[l.no] ?? l.received,
        ...(counts.value[l.no]?.unit ? { unit: counts.value[l.no]!.unit } : {}),
        lots: lotsOf(counts.value[l.no], quantity(l)),
      })),
    /** What was received meanwhile of what was counted before. */
    news: computed(() =>
      (order.value?.lines ?? [])
        .filter((l) => draft.value.seen[l.no] !== undefined && draft.value.seen[l.no] !== l.received)
        .map(
          (l) =>
            `Since then ${l.description} went from ${show(draft.value.seen[l.no])} to ${show(l.received)} received.`,
        )
        .join(' '),
    ),
    allAsOrdered: () => {
      for (const l of order.value?.lines ?? [])
        change(l, { now: l.awaitsGoods ? show(l.rest) : '', refused: '', close: false, unit: '' })
    },
    leaveOpen: (l = current.value) => change(l, { close: false }),
    close(l = current.value) {
      if (l) change(l, { close: !countOf(l).close })
    },
    /** Books up to the limit, or nothing on a closed line, and records the surplus as refused at the door. */
    upToLimit(found: (no: number) => Finding | undefined, l = current.value) {
      const said = l && found(l.no)
      if (!l) return
      if (l.closedGoods) change(l, { refused: countOf(l).now, reason: 'surplus', now: '' })
      else if (said?.kind === 'over_delivery' && said.nearest)
        change(l, {
          refused: show(said.surplus),
          reason: 'surplus',
          now: Number(said.nearest) ? show(said.nearest) : '',
          unit: '',
        })
    },
    /** Begins to refuse goods of a line: how much, and why. */
    refuse(l = current.value ?? order.value?.lines.find((x) => x.awaitsGoods)) {
      if (!l) return
      change(l, { refused: countOf(l).refused || '0', reason: countOf(l).reason || 'damaged' })
      void nextTick(() => enter(document.getElementById(`refused-${l.no}`) ?? undefined))
    },
    addLot(l = current.value) {
      if (!l) return
      const lots = [...countOf(l).lots, blankLot()]
      change(l, { lots })
      void nextTick(() => document.getElementById(`lot-${l.no}-${lots.length - 1}`)?.focus())
    },
  }
}
