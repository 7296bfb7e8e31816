import { afterEach, describe, expect, it } from 'vitest'
import { added, daysBetween, distance, habit, price, read, sent, show, showDay, sums } from '@/parts/numbers'

afterEach(() => (habit.comma = false))

describe('numbers as people write them', () => {
  it.each([
    ['1,250.5', '1250.5'],
    ['1250.50', '1250.5'],
    ['12*3.5', '42'],
    ['100/3*3', '100'],
    ['2+3*4-1', '13'],
    ['-4', '-4'],
    ['−4 + 1', '-3'],
    ['.5', '0.5'],
    ['', ''],
  ])('reads %s', (typed, read_) => expect(read(typed)).toBe(read_))
  it.each(['1,25', '1.2.3', '12,3456', '1/3', '5/0', '*3', '3*', 'three', '0.0000001', '10%'])('refuses %s', (typed) =>
    expect(read(typed)).toBeUndefined(),
  )
  it('reads a share of a whole', () => {
    expect(read('10%', '240')).toBe('24')
    expect(read('12.5%', '0.08')).toBe('0.01')
    expect(read('100% - 1', '3.5')).toBe('2.5')
  })
  it('sends what cannot be read as it was typed, so that the server says what is wrong', () => {
    expect(sent('three')).toBe('three')
    expect(sent('1,000')).toBe('1000')
  })
  it('reads and writes the other habit', () => {
    habit.comma = true
    expect(read('1.250,5')).toBe('1250.5')
    expect(read('1,250.5')).toBeUndefined()
    expect(show('-1250.5')).toBe('−1.250,5')
    expect(price('3')).toBe('3,00')
  })
  it('never loses a digit', () => {
    expect(read('9007199254740993.000001')).toBe('9007199254740993.000001')
    expect(show('9007199254740993.000001')).toBe('9,007,199,254,740,993.000001')
  })
})

describe('sums', () => {
  it('keeps each currency by itself, exactly', () => {
    const amounts = [
      { amount: '0.10', currency: 'EUR' },
      { amount: '0.20', currency: 'EUR' },
      { amount: '9007199254740993.00', currency: 'EUR' },
      { amount: '1500', currency: 'JPY' },
      { amount: '-2.005', currency: 'KWD' },
      { amount: '1.000', currency: 'KWD' },
    ]
    expect(sums(amounts)).toBe('9,007,199,254,740,993.30 EUR, 1,500 JPY, −1.005 KWD')
    expect(sums([])).toBe('')
  })
  it('takes parts of other length', () =>
    expect(
      sums([
        { amount: '1', currency: 'EUR' },
        { amount: '0.5', currency: 'EUR' },
        { amount: '-1.55', currency: 'EUR' },
      ]),
    ).toBe('−0.05 EUR'))
})

describe('days', () => {
  it('says them as people do', () => {
    expect(showDay('2026-11-05', '2026-12-01')).toBe('5 Nov')
    expect(showDay('2025-11-05', '2026-12-01')).toBe('5 Nov 2025')
    expect(daysBetween('2026-03-28', '2026-03-30')).toBe(2) // over the change of clocks
    expect(
      ['2026-12-01', '2026-12-02', '2026-12-07', '2026-11-30', '2026-11-20'].map((d) => distance(d, '2026-12-01')),
    ).toEqual(['today', 'tomorrow', 'in 6 days', '1 day late', '11 days late'])
  })
})

it('amounts are added exactly, whatever their places and signs', () => {
  expect(added(['0.1', '0.2', '-0.05'])).toBe('0.25')
  expect(added(['9007199254740993.01', '0.00'])).toBe('9007199254740993.01')
  expect(added([])).toBe('0')
})
