import { computed, watch, type Ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, unwrap, type OrderSheet } from '@/api/client'
import { companyQuery, doorQuery } from '@/api/queries'
import { useBeginning } from '@/parts/beginning'
import { show, showDay } from '@/parts/numbers'
import { person, today } from '@/parts/session'
import { blankCount, touched, type Count, type DeliveryDraft } from './count'
import { placeOf } from '@/parts/places'

interface Start {
  number: number
  fromNotice?: number | undefined
  fromArrival?: number | undefined
}

/** What a delivery starts from, a notice or a count at the door, or could start from. */
export function useStart(props: Start, order: Ref<OrderSheet | undefined>, draft: Ref<DeliveryDraft>) {
  /** What a notice or a count at the door says is taken over where nothing was typed yet. */
  const { data: announced } = useBeginning({
    queryKey: ['notice', props.fromNotice],
    queryFn: () => unwrap(api.GET('/api/notices/{number}', { params: { path: { number: props.fromNotice! } } })),
    enabled: !!props.fromNotice,
  })
  const { data: counted } = useBeginning({
    queryKey: ['arrival', props.fromArrival],
    queryFn: () => unwrap(api.GET('/api/arrivals/{number}', { params: { path: { number: props.fromArrival! } } })),
    enabled: !!props.fromArrival,
  })
  const { data: company } = useQuery(companyQuery)
  /** Where the goods arrive: where the order sends them, unless others receive there and who counts does at one place only. */
  function arrives(o: OrderSheet | undefined) {
    const places = (company.value?.places ?? []).filter((p) => !p.ended)
    const mine = places.filter((p) => p.receivers.some((r) => r.login === person.value?.login))
    const sent = places.find((p) => p.name === o?.place)
    const others = !!sent?.receivers.length && !mine.includes(sent)
    const at = others && mine.length === 1 && !o?.elsewhere ? mine[0]!.name : (o?.place ?? '')
    return { place: at, elsewhere: o?.elsewhere ?? '' }
  }
  watch(
    [order, company],
    ([o, c]) => {
      if (o && c && draft.value.place === '' && draft.value.elsewhere === '') Object.assign(draft.value, arrives(o))
    },
    { immediate: true },
  )
  let started = false
  watch(
    [order, announced, counted],
    ([o, n, c]) => {
      if (
        !o ||
        started ||
        Object.values(draft.value.counts).some(touched) ||
        (props.fromNotice && !n) ||
        (props.fromArrival && !c)
      )
        return
      started = true
      const count = (no: number, part: (blank: Count) => Partial<Count>) => {
        const line = o.lines.find((l) => l.no === no)
        if (!line) return
        const before = draft.value.counts[no] ?? blankCount(line)
        draft.value.counts[no] = { ...before, ...part(before) }
      }
      for (const l of n?.lines ?? [])
        count(l.no, (before) => ({
          now: show(l.quantity),
          ...(l.lot
            ? {
                lots: [...before.lots.filter((x) => x.lot), { lot: l.lot, quantity: show(l.quantity), bestBefore: '' }],
              }
            : {}),
        }))
      if (n && draft.value.note === '') draft.value.note = n.notice.reference
      for (const l of c?.entry.lines ?? [])
        count(l.no, () => ({
          now: show(l.quantity),
          refused: Number(l.refused) ? show(l.refused) : '',
          reason: l.reason ?? '',
          remark: l.remark ?? '',
          close: l.close ?? false,
          unit: l.unit ?? '',
          ...(l.lots?.length ? { lots: l.lots.map((x) => ({ ...x, quantity: show(x.quantity) })) } : {}),
        }))
      if (c)
        Object.assign(draft.value, {
          note: c.entry.note,
          day: c.entry.day,
          place: c.entry.place,
          elsewhere: c.entry.elsewhere ?? '',
          condition: c.entry.condition,
          secondPart: c.entry.secondPart ?? false,
          noNote: c.entry.noNote ?? false,
          stated: show(c.entry.stated),
          statedWhy: c.entry.statedWhy ?? '',
        })
    },
    { flush: 'post' },
  )
  /** What a delivery on this order could start from instead of a blank count. */
  const { data: door } = useQuery(doorQuery)
  const waiting = computed(() => {
    if (props.fromNotice || props.fromArrival) return []
    const here = (x: { order: number }) => x.order === props.number
    return [
      ...(door.value?.arrivals ?? []).filter(here).map((a) => ({
        text: `Counted at the door by ${a.by} and not booked yet.`,
        action: 'Start from that count',
        to: placeOf.fromArrival(a.order, a.number),
      })),
      ...(door.value?.notices ?? []).filter(here).map((n) => ({
        text: `Announced as ${n.reference} for ${showDay(n.expectedOn, today.value)}.`,
        action: 'Start from the notice',
        to: placeOf.fromNotice(n.order, n.number),
      })),
    ]
  })
  return { announced, counted, waiting, arrives }
}
