// What is asked of a list stands in its address; here it is read, changed and typed.
import { computed, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, unwrap, type ListPage, type ListWord } from '@/api/client'
import { readDay } from '@/parts/days'
import { read, showDay, show as showNumber } from '@/parts/numbers'
import { today } from '@/parts/session'

/** What is asked of a list: words, order, group, columns. */
export interface Asked {
  show: string
  sort: string
  group: string
  columns: string
}

const keys = ['show', 'sort', 'group', 'columns'] as const

/** What was asked of each list last, so that it is so again on return. */
const last = new Map<string, Asked>()

/** What is asked of the list of the address. */
export function useAsked() {
  const route = useRoute()
  const router = useRouter()
  const list = computed(() => String(route.params['list'] ?? ''))
  const text = (key: string) => String(route.query[key] ?? '')
  const asked = computed<Asked>(() => ({
    show: text('show'),
    sort: text('sort'),
    group: text('group'),
    columns: text('columns'),
  }))
  const go = (to: Asked) =>
    router.replace({ query: Object.fromEntries(keys.filter((k) => to[k]).map((k) => [k, to[k]])) })
  watch(
    list,
    (l) => {
      const before = last.get(l)
      if (before && keys.every((k) => !asked.value[k])) void go(before)
    },
    { immediate: true },
  )
  watch(asked, (a) => last.set(list.value, a))
  return { list, asked, go, change: (part: Partial<Asked>) => go({ ...asked.value, ...part }) }
}

const part = (word: string, value: string) => (value ? `${word}:${encodeURIComponent(value)}` : word)

/** The words without one of them, or with one more. */
export function without(page: ListPage, at: number): string {
  const rest = page.tags.filter((_, i) => i !== at).map((t) => part(t.word, t.value))
  return rest.join(';') || '-'
}
export function withWord(page: ListPage, word: string, value: string): string {
  const words = Object.fromEntries(page.words.map((w) => [w.key, w]))
  const kept = page.tags.filter(
    (t) => t.word !== word || !['amount', 'day', 'asOf', 'nothing'].includes(words[word]?.takes ?? ''),
  )
  return [...kept.map((t) => part(t.word, t.value)), part(word, value)].join(';')
}

/** How a word of the list reads, in the reader's own numbers and days. */
export function tagText(page: ListPage, tag: ListPage['tags'][number]): string {
  const word = page.words.find((w) => w.key === tag.word)
  if (word?.takes === 'amount') return `${word.text} ${showNumber(tag.value)}`
  if (word?.takes === 'day' || word?.takes === 'asOf') return `${word.text} ${showDay(tag.value, today.value)}`
  return tag.text
}

/** One completion: a word, with what follows it where that is there already. */
export interface Completion {
  word: string
  value: string
  text: string
  /** It is to be typed on: what follows is missing. */
  open: boolean
}

/** What what was typed may become, the likeliest first. */
export async function complete(words: ListWord[], typed: string): Promise<Completion[]> {
  const text = typed.trimStart().toLowerCase()
  const all: Completion[] = []
  const begun = words.filter((w) => text !== '' && w.text.toLowerCase().startsWith(text.trim()))
  for (const w of begun)
    if (w.choices)
      for (const c of w.choices ?? [])
        all.push({ word: w.key, value: c.value, text: `${w.text} ${c.text}`, open: false })
    else
      all.push({
        word: w.key,
        value: '',
        text: w.takes === 'nothing' ? w.text : `${w.text} …`,
        open: w.takes !== 'nothing',
      })
  for (const w of words) {
    const lead = `${w.text.toLowerCase()} `
    if (w.takes === 'nothing' || !text.startsWith(lead)) continue
    const rest = typed.trimStart().slice(lead.length).trim()
    if (rest) all.push(...(await follow(w, rest)))
  }
  const supplier = words.find((w) => w.takes === 'supplier')
  if (all.length === 0 && supplier && text.trim().length > 1) all.push(...(await follow(supplier, text.trim())))
  return all
}

/** What may follow a word, by what was typed of it. */
async function follow(w: ListWord, rest: string): Promise<Completion[]> {
  const one = (value: string, text: string): Completion => ({
    word: w.key,
    value,
    text: `${w.text} ${text}`,
    open: false,
  })
  switch (w.takes) {
    case 'supplier':
    case 'item':
    case 'person': {
      const found = await unwrap(api.GET('/api/find', { params: { query: { q: rest } } })).catch(() => [])
      return found.filter((f) => f.kind === w.takes).map((f) => one(f.number, f.label || f.number))
    }
    case 'amount': {
      const n = read(rest)
      return n ? [one(n, showNumber(n))] : []
    }
    case 'day':
    case 'asOf': {
      const d = readDay(rest, today.value)
      return d ? [one(d, showDay(d, today.value))] : []
    }
    case 'choice':
    case 'budget':
    case 'supplierGroup':
    case 'itemGroup':
      return (w.choices ?? [])
        .filter(
          (c) =>
            c.text.split(' ').some((part) => part.toLowerCase().startsWith(rest.toLowerCase())) ||
            c.text.toLowerCase().startsWith(rest.toLowerCase()),
        )
        .map((c) => one(c.value, c.text))
    default:
      return [one(rest, rest)]
  }
}

/** The address of a list as a file. */
export const fileOf = (list: string, asked: Asked, as: string) =>
  `/api/lists/${list}/file?${new URLSearchParams({ ...Object.fromEntries(Object.entries(asked).filter(([, v]) => v)), as })}`

/** In which forms a list is mailed. */
export const forms = [
  { value: 'pdf', text: 'PDF' },
  { value: 'xlsx', text: 'XLSX' },
]
