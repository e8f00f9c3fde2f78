import { describe, expect, it } from 'vitest'
import { AFTER, axis, bars, BEFORE, draw, fold, FOLDED_FROM, monthWord, placeOf, sumOf } from '../lib/months'

const row = (...months: [string, number, number, number?][]) => ({
  months: months.map(([month, expected, there, extra]) => ({ month, expected, there, extra: extra ?? 0 })),
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

describe('a strip', () => {
  const months = ['2024-01', '2024-02', '2024-03']
  const strip = (...of: Parameters<typeof row>) => draw(bars(months, row(...of).months, 10))
  it('is torn where something is missing, over its full height', () => {
    const { torn, there } = strip(['2024-01', 10, 10], ['2024-02', 10, 4])
    expect(torn).toBe('M9 0h10v18h-10z')
    expect(there.match(/M/g)).toHaveLength(2)
  })
  it('has below its line what nobody expected, also in a month of which nothing was sent', () => {
    const { extra, there, torn } = strip(['2024-03', 0, 0, 2])
    expect(extra).toBe('M19 19h10v5h-10z')
    expect([there, torn]).toEqual(['', ''])
  })
})

describe('hundreds of conversations', () => {
  const many = (verdict: string, n: number) => Array.from({ length: n }, (_, id) => ({ id, verdict }))
  it('stand together where nothing is missing, and alone where something is', () => {
    const rows = [...many('missing', 3), ...many('extra', 1), ...many('left_out', 16), ...many('arrived', 380)]
    const { single, quiet, leftOut } = fold(rows)
    expect([single.length, quiet.length, leftOut.length]).toEqual([4, 380, 16])
    expect(fold(rows.slice(0, FOLDED_FROM)).single).toHaveLength(FOLDED_FROM)
  })
  it('add up, month by month', () => {
    expect(sumOf([row(['2024-01', 3, 2], ['2024-02', 1, 1]), row(['2024-01', 4, 4, 5])])).toEqual([
      { month: '2024-01', expected: 7, there: 6, extra: 5 },
      { month: '2024-02', expected: 1, there: 1, extra: 0 },
    ])
  })
})
