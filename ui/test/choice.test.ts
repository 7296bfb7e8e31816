import { describe, expect, it } from 'vitest'
import { fits } from '@/parts/choice'
import { typed, untyped } from '@/parts/limits'

describe('a choice by typing', () => {
  const krill = { value: 'BF-KRILL', text: 'Krill, frozen, 12 kg', also: 'K-12' }
  it.each(['kri', 'bf', 'frozen kr', 'K-12', '12', ''])('is fitted by the beginnings %s', (t) =>
    expect(fits(krill, t)).toBe(true),
  )
  it.each(['rill', 'krill fresh', '2'])('is not fitted by %s', (t) => expect(fits(krill, t)).toBe(false))
})

describe('limits', () => {
  it('come back as they were typed: blank is not zero', () => {
    const limits = [
      { kind: 'delivery', side: 'over' as const, percent: '5' },
      { kind: 'unit_price', side: 'under' as const, absolute: '0' },
    ]
    const back = untyped(typed(limits))
    expect(back.find((l) => l.kind === 'delivery')).toMatchObject({ side: 'over', percent: '5' })
    expect(back.find((l) => l.kind === 'unit_price')).toMatchObject({ side: 'under', absolute: '0' })
    expect(back).toHaveLength(2)
  })
})
