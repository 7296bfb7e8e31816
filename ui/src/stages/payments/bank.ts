// What the bank's files said, in a sentence, and asking for them.
import { api, unwrap, upload } from '@/api/client'
import type { components } from '@/api/schema'
import { ended } from '@/parts/numbers'

export type BankLine = components['schemas']['BankLine']
export type BankAnswer = components['schemas']['BankAnswer']

export const askBank = () => unwrap(api.POST('/api/bank/fetch'))
export const takeFiles = (files: File[]) => upload<BankAnswer[]>('/api/bank/answers', files)

const many = (n: number, one: string, more: string) => (n === 1 ? `1 ${one}` : `${n} ${more}`)

/** What statements said. */
function ofStatements(answers: BankAnswer[]): string {
  const read = answers.filter((a) => a.statement)
  if (!read.length) return ''
  const sum = (of: (a: BankAnswer) => number) => read.reduce((n, a) => n + of(a), 0)
  const open = sum((a) => a.open)
  return `${many(read.length, 'statement', 'statements')}, ${many(
    sum((a) => a.lines),
    'line',
    'lines',
  )}${open ? `, of which ${open} wait for you` : ': all are placed'}.`
}

/** What all of it said; of one run first where it is looked at. */
export function toldOf(answers: BankAnswer[], run = 0): string {
  const mine = answers.filter((a) => a.run && (!run || a.run === run))
  const aside = answers.filter((a) => a.trouble).map((a) => `An answer was set aside: ${a.trouble}`)
  const said = mine.map((a) =>
    `The bank answered${run ? '' : ` for run ${a.run}`}: ${a.settled} paid, ${a.rejected} rejected. ${a.reasons.map(ended).join(' ')}`.trim(),
  )
  return [...said, ofStatements(answers), ...aside].filter(Boolean).join(' ') || 'The bank has nothing new yet.'
}
