// How days are typed. Nothing here decides anything: the server reads every day again.

const months = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec']
const weekdays = ['sun', 'mon', 'tue', 'wed', 'thu', 'fri', 'sat']

/** A civil date so many days from another. */
export function plus(day: string, days: number): string {
  return new Date(Date.parse(day) + days * 86_400_000).toISOString().slice(0, 10)
}

function civil(y: number, m: number, d: number): string | undefined {
  const text = `${String(y).padStart(4, '0')}-${String(m).padStart(2, '0')}-${String(d).padStart(2, '0')}`
  const at = new Date(`${text}T00:00:00Z`)
  return !Number.isNaN(at.getTime()) && at.getUTCDate() === d ? text : undefined
}

/** The year that is meant where none was typed: what lies within the bounds and nearest to today. */
function nearest(m: number, d: number, today: string, min = '', max = ''): string | undefined {
  const year = Number(today.slice(0, 4))
  const all = [year - 1, year, year + 1].map((y) => civil(y, m, d)).filter((x) => x !== undefined)
  const within = all.filter((x) => (!min || x >= min) && (!max || x <= max))
  const away = (x: string) => Math.abs(Date.parse(x) - Date.parse(today))
  return (within.length ? within : all).sort((a, b) => away(a) - away(b))[0]
}

/**
 * Reads a day as it is typed: 28.11, 28/11 2026, 28 Nov, 2026-11-28, today, tomorrow, yesterday, +3, -2 or the name of a
 * weekday (the next one). Gives a civil date, empty where nothing is typed, or undefined where it cannot be read.
 */
export function readDay(
  typed: string,
  today: string,
  bounds: { min?: string | undefined; max?: string | undefined } = {},
): string | undefined {
  const text = typed.trim().toLowerCase()
  if (text === '') return ''
  const known: Record<string, number> = { today: 0, tomorrow: 1, yesterday: -1 }
  if (text in known) return plus(today, known[text] ?? 0)
  if (/^[+−-]\d{1,3}$/.test(text)) return plus(today, Number(text.replace('−', '-')))
  const weekday = weekdays.findIndex((w) => text.length >= 2 && (text.startsWith(w) || w.startsWith(text)))
  if (weekday >= 0 && /^[a-z]+$/.test(text)) return plus(today, ((weekday - new Date(today).getUTCDay() + 6) % 7) + 1)
  const iso = /^(\d{4})-(\d{1,2})-(\d{1,2})$/.exec(text)
  if (iso) return civil(Number(iso[1]), Number(iso[2]), Number(iso[3]))
  const parts = /^(\d{1,2})[./\s-]+(\d{1,2}|[a-z]{3,})[./,\s-]*(\d{2}|\d{4})?$/.exec(text)
  if (!parts) return undefined
  const word = parts[2] ?? ''
  const m = /^\d/.test(word) ? Number(word) : months.findIndex((x) => word.startsWith(x)) + 1
  const d = Number(parts[1])
  if (m < 1) return undefined
  if (!parts[3]) return nearest(m, d, today, bounds.min, bounds.max)
  return civil(parts[3].length === 2 ? 2000 + Number(parts[3]) : Number(parts[3]), m, d)
}
