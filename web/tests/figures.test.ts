import { describe, expect, it } from 'vitest'
import { byWhat, minutes, shareOf, strip } from '../lib/figures'

const MONTHS = ['2026-10', '2026-11', '2026-12']

describe('jobs as a strip of months', () => {
  it('is as high as there are jobs, and torn where some went wrong', () => {
    const { right, wrong, amiss } = strip(MONTHS, {
      jobs: 30,
      right: 25,
      months: [
        { month: '2026-10', jobs: 20, right: 20 },
        { month: '2026-12', jobs: 10, right: 5 },
      ],
    })
    expect(right).toBe('M0 20.0v-20.0h8v20.0zM20 20.0v-5.0h8v5.0z')
    expect(wrong).toBe('M20 15.0v-5.0h8v5.0z')
    expect(amiss).toEqual(['2026-12'])
  })
  it('shows the one that went wrong among a thousand, and never more than there is', () => {
    const one = strip(MONTHS, { jobs: 1000, right: 999, months: [{ month: '2026-11', jobs: 1000, right: 999 }] })
    expect(one.wrong).toBe('M10 2.0v-2.0h8v2.0z')
    const none = strip(MONTHS, { jobs: 2, right: 0, months: [{ month: '2026-11', jobs: 2, right: 0 }] })
    expect([none.right, none.wrong]).toEqual(['', 'M10 20.0v-20.0h8v20.0z'])
    expect(strip(MONTHS, { jobs: 0, right: 0, months: [] })).toEqual({ right: '', wrong: '', amiss: [] })
  })
  it('leaves out what is in no month that is shown', () => {
    const old = { jobs: 1, right: 1, months: [{ month: '2020-01', jobs: 1, right: 1 }] }
    expect(strip(MONTHS, old).right).toBe('')
  })
})

describe('figures', () => {
  it('says no share of nothing', () => {
    expect(shareOf({ jobs: 0, right: 0 })).toBeNull()
    expect(shareOf({ jobs: 4, right: 1 })).toBe(0.25)
  })
  it('says halves of a minute below ten', () => {
    expect([0, 14, 16, 45, 599, 629].map(minutes)).toEqual([0, 0, 0.5, 1, 10, 10])
  })
  it('keeps the order in which they come', () => {
    const rows = ['way_in', 'gives', 'way_in'].map((what, n) => ({ what, n }))
    expect(byWhat(rows).map(({ what, rows: of }) => [what, of.map((r) => r.n)])).toEqual([
      ['way_in', [0, 2]],
      ['gives', [1]],
    ])
  })
})
