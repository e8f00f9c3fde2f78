import { describe, expect, it } from 'vitest'
import { AFTER, axis, bars, BEFORE, monthWord, placeOf } from '../lib/months'

const row = (...months: [string, number, number][]) => ({
  months: months.map(([month, expected, there]) => ({ month, expected, there })),
})

describe('the axis of months', () => {
  it('has no gaps and reaches over the turn of the year', () => {
    expect(axis([row(['2023-11', 1, 1]), row(['2024-02', 1, 1])])).toEqual(['2023-11', '2023-12', '2024-01', '2024-02'])
  })
  it('keeps far-off times at its ends instead of stretching', () => {
    expect(axis([row([BEFORE, 1, 1], ['1971-03', 1, 1], ['2024-01', 1, 1], [AFTER, 1, 1])])).toEqual([
      BEFORE,
      '2024-01',
      AFTER,
    ])
  })
  it('is empty when there are no messages', () => {
    expect(axis([])).toEqual([])
    expect(axis([row()])).toEqual([])
  })
  it('puts an odd early month at its first place', () => {
    const months = axis([row(['1971-03', 1, 1], ['2024-01', 1, 1])])
    expect(placeOf(months, '1971-03')).toBe(0)
    expect(placeOf(months, '2024-01')).toBe(1)
  })
})

describe('the bars', () => {
  const months = ['2024-01', '2024-02']
  it('say how much is missing and how much is there', () => {
    const [one, two] = bars(months, row(['2024-01', 10, 4], ['2024-02', 100, 100]).months, 100)
    expect(one).toMatchObject({ at: 0, missing: 6, there: 0.4 })
    expect(two).toMatchObject({ at: 1, missing: 0, there: 1, height: 1 })
  })
  it('keep a single message visible beside a thousand', () => {
    const [one] = bars(months, row(['2024-01', 1, 1]).months, 1000)
    expect(one?.height).toBeGreaterThan(0.2)
  })
  it('draw nothing for what was left out', () => {
    expect(bars(months, row(['2024-01', 0, 0]).months, 5)[0]?.height).toBe(0)
  })
})

it('names months', () => {
  expect([monthWord('2024-03'), monthWord(BEFORE), monthWord(AFTER)]).toEqual([
    'Mar 2024',
    'before 1990',
    '2100 or later',
  ])
})
