// The orders that an invoice is about while it is keyed: what they propose, and which lines are tied to which of theirs.
import { nextTick, ref, type Ref } from 'vue'
import { api, Refusal, unwrap, type OrderSheet } from '@/api/client'
import { warn } from '@/parts/notice'
import {
  type EntryOf,
  proposedCoding,
  proposedCredit,
  proposedInvoice,
  proposedLines,
  retied,
  typedInvoice,
  type DraftInvoice,
} from './entry'

export function useTied(
  props: EntryOf,
  draft: Ref<DraftInvoice>,
  begin: (start: DraftInvoice) => void,
  unknown: Ref<string>,
  refusal: Ref<Refusal | undefined>,
) {
  const chosen = ref<OrderSheet>() // the invoice's own order
  const others = ref<OrderSheet[]>([]) // further orders that lines are about
  const ready = ref(false) // until then nothing can be typed that the loading would overwrite
  async function start() {
    try {
      if (props.corrects) {
        const inv = await unwrap(api.GET('/api/invoices/{number}', { params: { path: { number: props.corrects } } }))
        if (!draft.value.filled) Object.assign(draft.value, typedInvoice(inv))
        draft.value.version = inv.version
        if (!draft.value.supplier) unknown.value = inv.supplierName
      }
      if (props.credits && !draft.value.filled) {
        const { invoice, returned } = props.credits
        const query = invoice ? { invoice } : { return: returned }
        const proposal = await unwrap(api.GET('/api/credit-proposal', { params: { query } }))
        begin({ ...draft.value, ...proposedCredit(proposal) }) // nothing of it is kept before something is typed over it
      }
      await fromOrder()
      for (const number of new Set(draft.value.lines.map((l) => l.order ?? 0)))
        if (number) others.value.push((await proposal(number)).order)
    } catch (e) {
      warn(e)
    }
    tiedTo.value = Number(draft.value.order) || 0
    ready.value = true
    await nextTick()
    document
      .getElementById(props.corrects || props.order || props.credits ? 'invoice-number' : 'invoice-order')
      ?.focus()
  }

  const proposal = (number: number) =>
    unwrap(api.GET('/api/orders/{number}/invoice-proposal', { params: { path: { number } } }))

  /** Reads the order and, for a new entry, proposes what is received and not yet invoiced. */
  async function fromOrder() {
    const wanted = draft.value.order.trim()
    const number = Number(wanted)
    const before = chosen.value
    if (before && before.number === number) return
    chosen.value = undefined
    nothing.value = ''
    if (wanted === '') return
    if (!/^\d+$/.test(wanted) || !number) throw new Error(`“${wanted}” is no order number.`)
    const p = await proposal(number)
    chosen.value = p.order
    const typed = draft.value.filled && draft.value.lines.length > 0 && JSON.stringify(draft.value.lines) !== proposed
    if (props.corrects || props.credits || (typed && draft.value.supplier === p.order.supplier.code)) {
      if (draft.value.supplier === '') draft.value.supplier = p.order.supplier.code
      if (ready.value && tiedTo.value !== number) draft.value.lines = retied(draft.value.lines, before, p.order)
    } else {
      Object.assign(draft.value, proposedInvoice(p))
      proposed = JSON.stringify(draft.value.lines)
      if (p.lines.length === 0) nothing.value = `Nothing of order ${number} is received and not yet invoiced.`
    }
    tiedTo.value = number
  }
  /** The invoice is about no order: its lines are charged to budgets, as the supplier's last ones were. */
  async function withoutOrder() {
    if (!draft.value.supplier) return
    try {
      const query = { supplier: draft.value.supplier }
      const p = await unwrap(api.GET('/api/coding-proposal', { params: { query } }))
      const before = draft.value.lines
      const { lines = [], date = '', ...more } = proposedCoding(p)
      const budget = (described: string) =>
        (lines.find((l) => l.description === described) ?? lines.find((l) => l.budget))?.budget ?? ''
      draft.value.order = ''
      chosen.value = undefined
      Object.assign(draft.value, more, { date: draft.value.date || date })
      draft.value.lines = before.length
        ? before.map((l) => (l.orderLine || l.chargeKind ? l : { ...l, budget: l.budget ?? budget(l.description) }))
        : lines
      proposed = JSON.stringify(draft.value.lines)
    } catch (e) {
      warn(e)
    }
  }
  let proposed = '' // the lines as they were proposed, while nothing is typed over them
  const tiedTo = ref(0) // the order whose lines the numbers of order lines are
  const nothing = ref('') // why nothing is proposed
  async function orderTyped() {
    refusal.value = undefined
    try {
      await fromOrder()
      document.getElementById('invoice-number')?.focus()
    } catch (e) {
      refusal.value = new Refusal({
        kind: 'not_found',
        sentence: (e as Error).message,
        field: 'order',
        problems: [{ kind: 'not_found', sentence: (e as Error).message, field: 'order' }],
      })
    }
  }
  void start()

  // An invoice may be about several orders of its supplier: what is received on another and not
  // yet invoiced is taken in as further lines.
  const another = ref('')
  const anotherTrouble = ref('')
  async function takeAnother() {
    anotherTrouble.value = ''
    const number = Number(another.value)
    if (!number) return
    try {
      const p = await proposal(number)
      if (chosen.value && p.order.supplier.code !== chosen.value.supplier.code)
        throw new Error(`Order ${number} is of ${p.order.supplier.name}, not of ${chosen.value.supplier.name}.`)
      if (p.lines.length === 0) throw new Error(`Nothing of order ${number} is received and not yet invoiced.`)
      if (number === Number(draft.value.order) || draft.value.lines.some((l) => l.order === number))
        throw new Error(`Lines of order ${number} stand here already.`)
      others.value.push(p.order)
      const first = draft.value.lines.length
      draft.value.lines.push(...proposedLines(p).map((l) => ({ ...l, order: number })))
      another.value = ''
      await nextTick()
      document.getElementById(`quantity-${first}`)?.focus()
    } catch (e) {
      anotherTrouble.value = (e as Error).message
    }
  }
  return { chosen, others, ready, nothing, orderTyped, withoutOrder, another, anotherTrouble, takeAnother }
}
