// Suppliers' statements: how their lines stand, in words and in the order in which they need somebody.
import type { components } from '@/api/schema'

export type StatementPair = components['schemas']['StatementPair']
export type SupplierStatement = components['schemas']['SupplierStatement']

interface Standing {
  title: string
  /** What it means, and what is to be done. */
  says: string
  verdict: 'agrees' | 'within' | 'outside' | 'waiting'
}

export const standings: Record<string, Standing> = {
  missing_here: { title: 'Missing here', says: 'on their statement, and not here', verdict: 'outside' },
  differs: {
    title: 'Different',
    says: 'another amount, or another number for the same day and amount',
    verdict: 'outside',
  },
  twice: { title: 'Named twice', says: 'their statement names it a second time', verdict: 'outside' },
  ended: { title: 'Refused or void here', says: 'they hold open what we sent back', verdict: 'outside' },
  paid_before: { title: 'Paid, not noted there', says: 'we paid it by the day of the statement', verdict: 'outside' },
  missing_home: { title: 'Missing there', says: 'open here, and not on their statement', verdict: 'within' },
  paid_since: { title: 'Paid since', says: 'we paid it after the day of the statement', verdict: 'agrees' },
  agrees: { title: 'Agrees', says: 'number and amount are the same', verdict: 'agrees' },
}

/** The pairs by how they stand, what needs somebody first. */
export const byStanding = (pairs: StatementPair[]) =>
  Object.entries(standings)
    .map(([key, standing]) => ({ key, ...standing, pairs: pairs.filter((p) => p.standing === key) }))
    .filter((g) => g.pairs.length > 0)
