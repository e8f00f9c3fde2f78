import type { components } from '../api/schema'
import { monthName } from './format'
import { say } from './say'

export type Month = components['schemas']['Month']

/** Months that stand for "before 1970" and "2100 and later". */
export const BEFORE = '0000-00'
export const AFTER = '9999-99'

/** All months from the first to the last that any conversation has, without gaps; far-off ones at the ends. */
export function axis(rows: { months: Month[] }[]): string[] {
  const seen = new Set(rows.flatMap((row) => row.months.map((m) => m.month)))
  const usual = [...seen].filter((m) => m !== BEFORE && m !== AFTER && m >= '1990').sort()
  const all: string[] = []
  const [first, last] = [usual[0], usual[usual.length - 1]]
  if (first !== undefined && last !== undefined) {
    let [year, month] = first.split('-').map(Number) as [number, number]
    for (let name = first; name <= last; name = `${year}-${String(month).padStart(2, '0')}`) {
      all.push(name)
      month += 1
      if (month > 12) {
        month = 1
        year += 1
      }
    }
  }
  const early = [...seen].some((m) => m === BEFORE || m < '1990')
  return [...(early ? [BEFORE] : []), ...all, ...(seen.has(AFTER) ? [AFTER] : [])]
}

/** Where a month stands on the axis; odd years before 1990 share the first place. */
export function placeOf(axisMonths: string[], month: string): number {
  const at = axisMonths.indexOf(month)
  return at >= 0 ? at : 0
}

export interface Bar {
  /** place on the axis */
  at: number
  /** height from 0 to 1 of what was expected, by its logarithm so that quiet months stay visible */
  height: number
  /** share from 0 to 1 of the expected that is there */
  there: number
  expected: number
  missing: number
}

export function bars(axisMonths: string[], months: Month[], most: number): Bar[] {
  return months.map((m) => ({
    at: placeOf(axisMonths, m.month),
    height: m.expected === 0 ? 0 : 0.18 + (0.82 * Math.log1p(m.expected)) / Math.log1p(Math.max(1, most)),
    there: m.expected === 0 ? 1 : m.there / m.expected,
    expected: m.expected,
    missing: m.expected - m.there,
  }))
}

export function monthWord(month: string): string {
  if (month === BEFORE) return say('check.before_1990')
  if (month === AFTER) return say('check.after_2100')
  const [year, m] = month.split('-')
  return `${monthName(Number(m))} ${year}`
}
