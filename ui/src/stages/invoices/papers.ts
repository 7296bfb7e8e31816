// What the paper of an invoice is proposed to say: put into the form, marked as read and not checked till somebody does.
import { computed, ref, type Ref } from 'vue'
import { api, unwrap, type PaperField, type PaperPart, type PaperRow } from '@/api/client'
import { price, show } from '@/parts/numbers'
import type { DraftInvoice, EntryOf } from './entry'

/** The lines are one field: they are read together or not at all. */
type Field = PaperField['field'] | 'lines'
const ids: Record<Field, string> = {
  iban: '', // it has no field: an account that is not the supplier's is a difference, and is said with the others
  order: 'invoice-order',
  supplier: 'invoice-supplier',
  number: 'invoice-number',
  date: 'invoice-date',
  total: 'invoice-total',
  lines: 'quantity-0',
}
const linesOf = (lines: { quantity: string; price: string }[]) => lines.map((l) => `${l.quantity}×${l.price}`).join(' ')
const valueOf = (d: DraftInvoice, f: Field) => (f === 'total' ? d.statedTotal : f === 'lines' ? linesOf(d.lines) : d[f])

/** What a paper bills of a line of its order, or of none, as it is typed. */
export interface Billed {
  line: number
  /** What it is for, where the paper names no order. */
  description: string
  quantity: string
  price: string
}

/** Reads the paper that an entry is keyed from, where it has one and nothing was typed yet. */
export function usePaper(props: EntryOf, draft: Ref<DraftInvoice>) {
  const found = ref<PaperField[]>([])
  /** What may be put from the paper into a field. */
  const parts = ref<PaperPart[]>([])
  /** The table of its goods, by the lines of its order. */
  const rows = ref<PaperRow[]>([])
  const unchecked = ref<Field[]>([])
  const trouble = ref('')
  const seen = ref(false) // a machine looked at it
  /** Where on the paper the field stands that has the focus. */
  const lit = ref<PaperField | PaperRow>()
  const first = (f: Field) => found.value.find((x) => x.field === f)

  const typedRow = (r: PaperRow) => ({ quantity: show(r.quantity), price: price(r.price) })
  const readAs = (f: Field) =>
    f === 'total'
      ? show(first(f)?.value)
      : f === 'lines'
        ? linesOf(rows.value.map((r) => typedRow(r)))
        : first(f)?.value

  /** Reads it, and gives what it bills of its order, where nothing was typed yet. */
  async function read(): Promise<Billed[]> {
    const { number = 0, part = 0 } = props.mail ?? {}
    if (!number || !part) return []
    try {
      const paper = await unwrap(
        api.GET('/api/mails/{number}/files/{part}/reading', { params: { path: { number, part } } }),
      )
      found.value = paper.found
      seen.value = paper.seen
      parts.value = paper.parts
      const begun = draft.value.filled || draft.value.number !== '' || draft.value.lines.length > 0
      const put = (f: Field, set: (value: string) => void) => {
        const read = first(f)
        if (read && !begun) set(read.value)
        if (read && ids[f]) unchecked.value.push(f) // also in a draft that is gone on with: nobody knows what was looked at
      }
      if (paper.credit && !begun) draft.value.kind = 'credit_note'
      put('supplier', (v) => (draft.value.supplier = v))
      put('order', (v) => (draft.value.order = v))
      put('number', (v) => (draft.value.number = v))
      put('date', (v) => (draft.value.date = v))
      put('iban', (v) => (draft.value.iban = v))
      put('total', (v) => (draft.value.statedTotal = show(v)))
      rows.value = paper.rows
      if (rows.value.length) unchecked.value.push('lines')
      return begun ? [] : rows.value.map((r) => ({ line: r.line, description: r.description, ...typedRow(r) }))
    } catch (e) {
      trouble.value = (e as Error).message
      return []
    }
  }
  /** Looks where on its own paper an invoice says what, whose entry is corrected. */
  async function look(number: number): Promise<void> {
    try {
      const paper = await unwrap(api.GET('/api/invoices/{number}/paper/reading', { params: { path: { number } } }))
      found.value = paper.found
      parts.value = paper.parts
    } catch (e) {
      trouble.value = (e as Error).message
    }
  }
  /** Still as it was read: what is typed over is checked by that. */
  const open = computed(() => unchecked.value.filter((f) => valueOf(draft.value, f) === readAs(f)))
  const doubtful = computed(() => open.value.filter((f) => first(f)?.doubtful))
  const said = (fields: Field[]) => fields.join(', ')
  const fieldOf = (target: EventTarget | null) =>
    target instanceof HTMLElement
      ? /^(quantity|price)-\d/.test(target.id)
        ? 'lines'
        : (Object.keys(ids) as Field[]).find(
            (f) => ids[f] && (target.id === ids[f] || target.id.startsWith(`${ids[f]}-`)),
          )
      : undefined
  /** A person has looked at the field. */
  function check(target: EventTarget | null) {
    const field = fieldOf(target)
    if (field) unchecked.value = unchecked.value.filter((f) => f !== field)
  }
  function light(target: EventTarget | null) {
    const field = fieldOf(target)
    if (field === 'lines' && target instanceof HTMLElement) {
      const nth = Number(target.id.split('-')[1])
      const at = draft.value.lines[nth]?.orderLine
      lit.value = at ? rows.value.find((r) => r.line === at) : rows.value.filter((r) => !r.line)[nth]
    } else if (field) lit.value = first(field)
  }
  /** Goes to the next that is not checked, the doubtful first. */
  function next() {
    const field = doubtful.value[0] ?? open.value[0]
    if (field) document.getElementById(ids[field])?.focus()
  }
  return {
    read,
    look,
    trouble,
    seen,
    /** What the paper that is shown beside it is given. */
    beside: computed(() => ({ lit: lit.value, parts: parts.value })),
    open,
    doubtful,
    said,
    check,
    light,
    next,
    /** Why nothing can be captured yet. */
    lacks: computed(() => (doubtful.value.length ? `Check what is doubtful first: ${said(doubtful.value)}.` : '')),
    keys: computed(() => (open.value.length ? [{ key: 'u', label: 'next unchecked', run: next }] : [])),
    /** How a field stands: dashed while it is only read. */
    mark: (f: Field) => ({ read: open.value.includes(f), doubtful: doubtful.value.includes(f) }),
  }
}
export type Paper = ReturnType<typeof usePaper>
