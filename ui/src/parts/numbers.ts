// How numbers and days are written and read as the person is used to. Nothing here decides anything: the server
// reads every number again.

/** Whether the reader writes 1.250,5 instead of 1,250.5; set at sign-in. */
export const habit = { comma: false }

/** Writes a decimal string with grouped thousands. */
export function show(text: string | undefined): string {
  if (!text) return ''
  const negative = text.startsWith('-')
  const [whole = '', fraction] = text.replace('-', '').split('.')
  const grouped = whole.replace(/\B(?=(\d{3})+(?!\d))/g, ',')
  const plain = fraction === undefined ? grouped : `${grouped}.${fraction}`
  return (negative ? '−' : '') + (habit.comma ? plain.replace(/[,.]/g, (c) => (c === ',' ? '.' : ',')) : plain)
}

/** Sums amounts exactly, each currency by itself: "1,250.00 EUR, 300.00 USD". */
export function sums(amounts: { amount: string; currency: string }[]): string {
  const byCurrency = new Map<string, string[]>()
  for (const { amount, currency } of amounts) byCurrency.set(currency, [...(byCurrency.get(currency) ?? []), amount])
  return [...byCurrency]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([currency, own]) => `${show(added(own))} ${currency}`)
    .join(', ')
}

/** Adds exact decimals, with as many places as the longest has. */
export function added(amounts: string[]): string {
  const places = Math.max(0, ...amounts.map((a) => (a.split('.')[1] ?? '').length))
  const sum = amounts.reduce((all, a) => {
    const [whole = '0', part = ''] = a.split('.')
    return all + BigInt(whole + part.padEnd(places, '0'))
  }, 0n)
  return decimal(sum, places)
}

/** Writes a whole number of the smallest parts as a decimal string. */
function decimal(sum: bigint, places: number): string {
  const digits = (sum < 0n ? -sum : sum).toString().padStart(places + 1, '0')
  const text = places ? `${digits.slice(0, -places)}.${digits.slice(-places)}` : digits
  return sum < 0n ? `-${text}` : text
}

/** Writes a unit price with at least two places. */
export function price(text: string): string {
  const [whole, fraction = ''] = text.split('.')
  return show(`${whole}.${fraction.padEnd(2, '0')}`)
}

const months = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']

/** Writes a civil date: "16 Nov", with the year where it is another than today's. */
export function showDay(day: string | undefined, today?: string): string {
  if (!day) return ''
  const [y, m, d] = day.split('-')
  const text = `${Number(d)} ${months[Number(m) - 1]}`
  return today && today.slice(0, 4) !== y ? `${text} ${y}` : text
}

/** Writes a month: "Nov 2026". */
export const showMonth = (month: string) => `${months[Number(month.slice(5, 7)) - 1] ?? month} ${month.slice(0, 4)}`

/** Days from one civil date to another. */
export function daysBetween(from: string, to: string): number {
  return Math.round((Date.parse(to) - Date.parse(from)) / 86_400_000)
}

/** Says how far a day is from today: "today", "in 6 days", "3 days late". */
export function distance(day: string, today: string, past = 'late'): string {
  const n = daysBetween(today, day)
  if (n === 0) return 'today'
  if (n === 1) return 'tomorrow'
  const days = `${Math.abs(n)} day${Math.abs(n) === 1 ? '' : 's'}`
  return n > 0 ? `in ${days}` : `${days} ${past}`
}

/** Writes an instant: the time today, else day and time. */
export function showInstant(at: string, today: string): string {
  const t = new Date(at)
  const time = t.toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })
  const day = `${t.getFullYear()}-${String(t.getMonth() + 1).padStart(2, '0')}-${String(t.getDate()).padStart(2, '0')}`
  return day === today ? time : `${showDay(day, today)} ${time}`
}

interface Fraction {
  n: bigint
  d: bigint
}

function fraction(text: string): Fraction | undefined {
  const decimal = habit.comma ? ',' : '.'
  const group = habit.comma ? '.' : ','
  const escape = (c: string) => (c === '.' ? '\\.' : c)
  const form = new RegExp(`^(\\d+|\\d{1,3}(${escape(group)}\\d{3})+)?(${escape(decimal)}\\d*)?$`)
  if (!/\d/.test(text) || !form.test(text)) return undefined
  const [whole = '', part = ''] = text.replaceAll(group, '').split(decimal)
  return { n: BigInt((whole || '0') + part), d: 10n ** BigInt(part.length) }
}

/**
 * Reads what a person typed: a number as they write it, a sum or product of numbers (12*3.5), or a share of a whole
 * (10%). Gives a decimal string, or undefined where it cannot be read or has more than six places.
 */
export function read(typed: string, whole?: string): string | undefined {
  const text = typed.replace(/[\s−]/g, (c) => (c === '−' ? '-' : ''))
  if (text === '') return ''
  const parts = text.split(/([+\-*/])/)
  const values: Fraction[] = []
  const operators: string[] = []
  let sign = 1n
  for (const [i, part] of parts.entries()) {
    if (i % 2 === 1) {
      operators.push(part)
      continue
    }
    if (i === 0 && part === '' && parts[1] === '-') {
      sign = -1n
      parts[1] = ''
      continue
    }
    const share = part.endsWith('%') && whole !== undefined
    const value = fraction(share ? part.slice(0, -1) : part)
    if (!value) return undefined
    if (share) {
      const [w = '', f = ''] = whole.split('.')
      values.push({ n: value.n * BigInt(w + f), d: value.d * 100n * 10n ** BigInt(f.length) })
    } else values.push(value)
  }
  const used = operators.filter((o) => o !== '')
  if (values.length !== used.length + 1) return undefined
  const terms: Fraction[] = [{ n: values[0]!.n * sign, d: values[0]!.d }]
  for (const [i, operator] of used.entries()) {
    const next = values[i + 1]!
    const last = terms[terms.length - 1]!
    if (operator === '*') terms[terms.length - 1] = { n: last.n * next.n, d: last.d * next.d }
    else if (operator === '/') {
      if (next.n === 0n) return undefined
      terms[terms.length - 1] = { n: last.n * next.d, d: last.d * next.n }
    } else terms.push({ n: operator === '-' ? -next.n : next.n, d: next.d })
  }
  const sum = terms.reduce((a, b) => ({ n: a.n * b.d + b.n * a.d, d: a.d * b.d }))
  return written(sum)
}

function written({ n, d }: Fraction): string | undefined {
  const scaled = n * 1_000_000n
  if (scaled % d !== 0n) return undefined
  return decimal(scaled / d, 6).replace(/\.?0+$/, '')
}

/** What is sent for a typed number: as read, or as typed, so that the server can say what is wrong with it. */
export function sent(typed: string, whole?: string): string {
  return read(typed, whole) ?? typed
}

/** The size of a file, as people say it. */
export const size = (bytes: number) =>
  bytes >= 1_000_000
    ? `${show((bytes / 1_000_000).toFixed(1))} MB`
    : `${show(Math.max(1, Math.round(bytes / 1000)).toString())} kB`

/** What somebody wrote, as a sentence that ends once. */
export const ended = (text: string) => (/[.!?]$/.test(text.trim()) ? text.trim() : `${text.trim()}.`)
