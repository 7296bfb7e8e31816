import { describe, expect, it } from 'vitest'
import { blankCount, blankDelivery, lotsOf, saidOf, touched } from '@/stages/receiving/count'
import type { OrderLine } from '@/api/client'

const count = (part: object) => ({ ...blankCount({ lots: false } as OrderLine), ...part })

describe('a count', () => {
  it('is one once something of it was typed', () => {
    expect(touched(count({}))).toBe(false)
    expect([{ now: '0' }, { refused: '1' }, { close: true }].map((c) => touched(count(c)))).toEqual([true, true, true])
  })
  it('gives the only lot all that came, and further lots what was typed', () => {
    const lot = (name: string, quantity: string) => ({ lot: name, quantity, bestBefore: '' })
    expect(lotsOf(count({ lots: [lot('A', '')] }), '12')).toEqual([lot('A', '12')])
    expect(lotsOf(count({ lots: [lot('A', '1,0'), lot('B', '')] }), '12').map((l) => l.quantity)).toEqual(['1,0', '0'])
    expect(lotsOf(undefined, '12')).toEqual([])
  })
  it('says in few words what of a delivery was typed', () => {
    const two = { 1: count({ now: '5' }), 2: count({ close: true }), 3: count({}) }
    expect(saidOf({ ...blankDelivery('2026-11-23'), note: 'DN 1', counts: two })).toBe('note DN 1, 2 lines counted')
    expect(saidOf({})).toBe('no note yet')
  })
})
