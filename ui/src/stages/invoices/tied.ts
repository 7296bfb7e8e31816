// The orders that an invoice is about while it is keyed: what they propose, and which lines are tied to which of theirs.
import { nextTick, ref, type Ref } from 'vue'
import { api, Refusal, unwrap, type InvoiceProposal, type OpenReceipt, type OrderSheet } from '@/api/client'
import { enter } from '@/parts/fields'
import { warn } from '@/parts/notice'
import type { Billed } from './papers'
import {
  type EntryOf,
  blankLine,
  proposedCoding,
  proposedCredit,
  fieldToCorrect,
  freshInvoice,
  proposedInvoice,
  proposedLines,
  retied,
  takeFrom,
  typedInvoice,
  type DraftInvoice,
  type DraftInvoiceLine,
} from './entry'

/** What is to be proposed of an order; nothing named: what is received and not yet invoiced. */
type Wanted = { rest?: boolean; note?: string; share?: string; ahead?: number }

const startOf = (typed: string) => unwrap(api.GET('/api/invoice-start', { params: { query: { typed } } }))

export function useTied(
  props: EntryOf,
  draft: Ref<DraftInvoice>,
  begin: (start: DraftInvoice) => void,
  unknown: Ref<string>,
  refusal: Ref<Refusal | undefined>,
  readPaper: () => Promise<Billed[]>,
) {
  const chosen = ref<OrderSheet>() // the invoice's own order
  const others = ref<OrderSheet[]>([]) // further orders that lines are about
  const paper = ref({ page: false, kind: '' }) // of the invoice that is corrected: one that machines read, or eyes
  const ready = ref(false) // until then nothing can be typed that the loading would overwrite
  async function start() {
    let first = props.order || props.credits ? 'invoice-number' : 'invoice-order'
    try {
      if (props.hand?.supplier && !draft.value.filled) draft.value.supplier = props.hand.supplier
      if (props.corrects) {
        const inv = await unwrap(api.GET('/api/invoices/{number}', { params: { path: { number: props.corrects } } }))
        if (!draft.value.filled) Object.assign(draft.value, typedInvoice(inv))
        draft.value.version = inv.version
        first = fieldToCorrect(inv.findings)
        paper.value = { page: inv.paper && inv.source !== 'keyed', kind: inv.paperKind ?? '' }
        if (!draft.value.supplier) unknown.value = inv.supplierName
      }
      if (props.credits && !draft.value.filled) {
        const { invoice, returned } = props.credits
        const query = invoice ? { invoice } : { return: returned }
        const proposal = await unwrap(api.GET('/api/credit-proposal', { params: { query } }))
        begin({ ...draft.value, ...proposedCredit(proposal) }) // nothing of it is kept before something is typed over it
      }
      const rows = await readPaper()
      await fromOrder()
      if (rows.length) asBilled(rows)
      for (const number of new Set(draft.value.lines.map((l) => l.order ?? 0)))
        if (number) others.value.push((await proposal(number)).order)
    } catch (e) {
      warn(e)
    }
    tiedTo.value = Number(draft.value.order) || 0
    ready.value = true
    await nextTick()
    enter(document.getElementById(first) ?? document.getElementById('invoice-number') ?? undefined) // what was kept is typed over
  }

  /** The lines as the paper bills them: what it leaves out stays open, and what is not here yet is found by the match. */
  function asBilled(rows: Billed[]) {
    const order = chosen.value
    if (!order) {
      if (draft.value.order || rows.some((r) => r.line)) return
      draft.value.lines = rows.map(({ description, quantity, price }) => ({
        ...blankLine(),
        description,
        quantity,
        price,
      }))
      proposed = JSON.stringify(draft.value.lines)
      return
    }
    draft.value.lines = rows.flatMap(({ line, quantity, price }) => {
      const of = order.lines.find((l) => l.no === line)
      const notes = draft.value.lines.find((l) => l.orderLine === line)?.notes
      return of
        ? [
            {
              ...blankLine(),
              orderLine: line,
              ...takeFrom(of),
              ...(notes ? { notes } : {}),
              base: '1',
              quantity,
              price,
            },
          ]
        : []
    })
    proposed = JSON.stringify(draft.value.lines)
    nothing.value = ''
  }
  const proposal = (number: number, query: Wanted = {}) =>
    unwrap(api.GET('/api/orders/{number}/invoice-proposal', { params: { path: { number }, query } }))

  /** Reads the order and, for a new entry, proposes what is received and not yet invoiced. */
  async function fromOrder() {
    let note = ready.value ? '' : (props.hand?.note ?? '')
    if (draft.value.order.trim() && !/^\d+$/.test(draft.value.order.trim())) {
      const start = await startOf(draft.value.order)
      draft.value.order = String(start.order ?? '')
      note = start.note ?? ''
      item.value = start.item ?? ''
      if (start.supplier) draft.value.supplier = start.supplier
    }
    const wanted = draft.value.order.trim()
    const number = Number(wanted)
    const before = chosen.value
    if (before && before.number === number) return
    chosen.value = undefined
    nothing.value = ''
    if (wanted === '') return
    const ahead = props.ahead && !ready.value ? props.ahead : 0
    const p = await proposal(number, note ? { note } : ahead ? { ahead } : {})
    chosen.value = p.order
    const typed = draft.value.filled && draft.value.lines.length > 0 && JSON.stringify(draft.value.lines) !== proposed
    if (props.corrects || props.credits || (typed && draft.value.supplier === p.order.supplier.code)) {
      if (draft.value.supplier === '') draft.value.supplier = p.order.supplier.code
      if (ready.value && tiedTo.value !== number) draft.value.lines = retied(draft.value.lines, before, p.order)
    } else {
      Object.assign(draft.value, proposedInvoice(p), ahead ? { kind: 'prepayment', agreement: ahead } : {})
      proposed = JSON.stringify(draft.value.lines)
      if (p.lines.length === 0) nothing.value = `Nothing of order ${number} is received and not yet invoiced.`
      else if (note) said.value = `What came under delivery note ${note}.`
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
      /** What the paper billed is taxed as this supplier's lines were, until somebody says otherwise. */
      const taxed = (l: DraftInvoiceLine) => {
        const last = lines.find((o) => o.description === l.description) ?? lines.find((o) => !o.chargeKind)
        return read && last ? { taxCategory: last.taxCategory, taxRate: last.taxRate } : {}
      }
      const read = before.length > 0 && JSON.stringify(before) === proposed
      draft.value.order = ''
      chosen.value = undefined
      Object.assign(draft.value, more, { date: draft.value.date || date })
      draft.value.lines = before.length
        ? before.map((l) =>
            l.orderLine || l.chargeKind ? l : { ...l, ...taxed(l), budget: l.budget ?? budget(l.description) },
          )
        : lines
      proposed = JSON.stringify(draft.value.lines)
      await nextTick()
      const empty = draft.value.lines.findIndex((l) => l.budget === '')
      document.getElementById(!draft.value.number || empty < 0 ? 'invoice-number' : `budget-${empty}`)?.focus()
    } catch (e) {
      warn(e)
    }
  }
  let proposed = '' // the lines as they were proposed, while nothing is typed over them
  const tiedTo = ref(0) // the order whose lines the numbers of order lines are
  const nothing = ref('') // why nothing is proposed
  const said = ref('') // of what the lines are, where that is not all that is here
  const item = ref(props.hand?.item ?? '') // of which receipts that wait for an invoice are picked
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

  /** Leaves what was kept and begins as if nothing had been typed. */
  function anew() {
    begin(freshInvoice(props.order))
    chosen.value = undefined
    others.value = []
    ready.value = false
    void start()
  }

  // An invoice may be about several orders of its supplier: what is received on another and not
  // yet invoiced is taken in as further lines.
  const another = ref('')
  const anotherTrouble = ref('')
  async function takeAnother() {
    anotherTrouble.value = ''
    if (!another.value.trim()) return
    try {
      const start = await startOf(another.value)
      const number = start.order ?? 0
      if (!number) throw new Error('Enter the number of an order, or of a delivery note.')
      const p = await proposal(number, start.note ? { note: start.note } : {})
      if (chosen.value && p.order.supplier.code !== chosen.value.supplier.code)
        throw new Error(`Order ${number} is of ${p.order.supplier.name}, not of ${chosen.value.supplier.name}.`)
      if (p.lines.length === 0) throw new Error(`Nothing of order ${number} is received and not yet invoiced.`)
      const own = number === Number(draft.value.order)
      if (!start.note && (own || draft.value.lines.some((l) => l.order === number)))
        throw new Error(`Lines of order ${number} stand here already.`)
      const first = draft.value.lines.length
      takeLines(p, proposedLines(p))
      another.value = ''
      await nextTick()
      document.getElementById(`quantity-${first}`)?.focus()
    } catch (e) {
      anotherTrouble.value = (e as Error).message
    }
  }
  /** Takes lines of an order in: the first order is the invoice's own, lines of others say which. */
  function takeLines(p: InvoiceProposal, lines: DraftInvoiceLine[]) {
    const number = p.order.number
    if (!chosen.value) {
      chosen.value = p.order
      tiedTo.value = number
      Object.assign(draft.value, { ...proposedInvoice(p), order: String(number), lines: [] })
    }
    const own = number === Number(draft.value.order)
    if (!own && !others.value.some((o) => o.number === number)) others.value.push(p.order)
    draft.value.lines.push(...lines.map((l) => (own ? l : { ...l, order: number })))
  }

  /** Takes receipts that were picked, of whichever orders of the supplier, each under its delivery note. */
  async function takeReceipts(rows: OpenReceipt[]) {
    const notes = [...new Map(rows.map((r) => [`${r.order} ${r.note}`, r])).values()]
    try {
      for (const { order, note } of notes) {
        const p = await proposal(order, { note })
        const lines = rows.filter((r) => r.order === order && r.note === note).map((r) => r.line)
        takeLines(
          p,
          proposedLines(p).filter((l) => lines.includes(l.orderLine)),
        )
      }
      document.getElementById('invoice-number')?.focus()
    } catch (e) {
      warn(e)
    }
  }

  // Another part of the order than what is received and not invoiced: all that is left of it, or a share.
  const share = ref('')
  const shareTrouble = ref('')
  async function proposeOf(wanted: Wanted) {
    shareTrouble.value = ''
    if (!chosen.value) return
    try {
      const p = await proposal(chosen.value.number, wanted)
      if (p.lines.length === 0) throw new Error(`Nothing of order ${p.order.number} is left to be invoiced.`)
      draft.value.lines = [...proposedLines(p), ...draft.value.lines.filter((l) => l.order)]
      await nextTick()
      document.getElementById('quantity-0')?.focus()
    } catch (e) {
      shareTrouble.value = (e as Error).message
    }
  }
  return {
    anew,
    chosen,
    others,
    paper,
    ready,
    nothing,
    said,
    item,
    orderTyped,
    withoutOrder,
    another,
    anotherTrouble,
    takeAnother,
    takeReceipts,
    share,
    shareTrouble,
    proposeOf,
  }
}
