import { describe, expect, it } from 'vitest'
import { plus, readDay } from '@/parts/days'

const today = '2026-11-28' // a Saturday

describe('days as they are typed', () => {
  it.each([
    ['28.11', '2026-11-28'],
    ['28/11', '2026-11-28'],
    ['1-12', '2026-12-01'],
    ['28.11.', '2026-11-28'],
    ['28.11.2025', '2025-11-28'],
    ['28/11/25', '2025-11-28'],
    ['28 Nov', '2026-11-28'],
    ['3 december 2027', '2027-12-03'],
    ['2026-02-09', '2026-02-09'],
    ['today', '2026-11-28'],
    ['Tomorrow', '2026-11-29'],
    ['yesterday', '2026-11-27'],
    ['+3', '2026-12-01'],
    ['−2', '2026-11-26'],
    ['mon', '2026-11-30'],
    ['saturday', '2026-12-05'],
    ['', ''],
  ])('%s is %s', (typed, day) => expect(readDay(typed, today)).toBe(day))

  it.each(['31.2', '29.2.2027', 'soon', '28', '1.13', '+1000', '2026-11'])('%s is no day', (typed) =>
    expect(readDay(typed, today)).toBeUndefined(),
  )

  it('takes the year that lies within its bounds, else the nearest', () => {
    expect(readDay('15.1', today)).toBe('2027-01-15')
    expect(readDay('15.1', today, { max: today })).toBe('2026-01-15')
    expect(readDay('27.11', today, { min: today })).toBe('2027-11-27')
    expect(readDay('29.2', '2028-06-01')).toBe('2028-02-29')
  })

  it('counts over months and leap years', () => {
    expect(plus('2028-02-28', 2)).toBe('2028-03-01')
    expect(plus('2026-01-01', -1)).toBe('2025-12-31')
  })
})
