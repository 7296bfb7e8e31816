import { describe, expect, it } from 'vitest'
import { lookUpPages, pagesBy, setUpPages } from '@/parts/pages'

describe('pages', () => {
  it.each([
    ['tab', '/setup/tables'],
    ['audit', '/lookup/record'],
    ['close li', '/orders/closing'],
    ['rates exch', '/setup/books'],
    ['files take', '/invoices'],
  ])('is found by %s', (typed, to) => expect(pagesBy(typed).map((p) => p.to)).toContain(to))
  it('is none without words, nor by the middle of one', () => {
    expect(pagesBy('  ')).toEqual([])
    expect(pagesBy('udit')).toEqual([])
    expect(pagesBy('tables nothing')).toEqual([])
  })
  it('has words for each', () => expect([...setUpPages, ...lookUpPages].every((p) => p.words && p.name)).toBe(true))
})
