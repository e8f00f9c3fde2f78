import type { components } from '../api/schema'
import { monthName } from './format'
import { say } from './say'

export type Month = components['schemas']['Month']

/** Months that stand for "before 1970" and "2100 and later". */
export const BEFORE = '0000-00'
export const AFTER = '9999-99'

/** All months from the first to the last that any conversation has, without gaps; far-off ones at the ends. */
export function axis(rows: { months: { month: string }[] }[]): string[] {
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
  /** messages that nobody expected */
  extra: number
}

export function bars(axisMonths: string[], months: Month[], most: number): Bar[] {
  return months.map((m) => ({
    at: placeOf(axisMonths, m.month),
    height: m.expected === 0 ? 0 : 0.18 + (0.82 * Math.log1p(m.expected)) / Math.log1p(Math.max(1, most)),
    there: m.expected === 0 ? 1 : m.there / m.expected,
    expected: m.expected,
    missing: m.expected - m.there,
    extra: m.extra,
  }))
}

/** The months of several conversations as those of one. */
export function sumOf(rows: { months: Month[] }[]): Month[] {
  const sums = new Map<string, Month>()
  for (const m of rows.flatMap((row) => row.months)) {
    const sum = sums.get(m.month) ?? { month: m.month, expected: 0, there: 0, extra: 0 }
    sum.expected += m.expected
    sum.there += m.there
    sum.extra += m.extra
    sums.set(m.month, sum)
  }
  return [...sums.values()]
}

export const mostOf = (months: Month[]): number => Math.max(1, ...months.map((m) => m.expected))

/** With more conversations than this those of which nothing is missing stand together in one strip. */
export const FOLDED_FROM = 24

/** What is looked at by itself, and what stands together: a hole is not looked for among hundreds of others. */
export function fold<Row extends { verdict: string }>(rows: Row[]): { single: Row[]; quiet: Row[]; leftOut: Row[] } {
  if (rows.length <= FOLDED_FROM) return { single: rows, quiet: [], leftOut: [] }
  const isQuiet = (row: Row): boolean => row.verdict === 'arrived' || row.verdict === 'changed'
  return {
    single: rows.filter((row) => !isQuiet(row) && row.verdict !== 'left_out'),
    quiet: rows.filter(isQuiet),
    leftOut: rows.filter((row) => row.verdict === 'left_out'),
  }
}

/** A strip: what stands above the line was sent, what hangs below it was expected by nobody. */
export const HEIGHT = 18
export const BELOW = 6
export const STEP = 10

/** Paths of a strip: bars that are there, gaps that tear it open, what is left in a gap, and what hangs below. */
export function draw(list: Bar[]): { there: string; torn: string; kept: string; extra: string } {
  const sent = list.filter((b) => b.expected > 0)
  const holes = sent.filter((b) => b.missing > 0)
  const bar = (x: number, width: number, height: number): string =>
    `M${x} ${HEIGHT}v${-height.toFixed(1)}h${width}v${height.toFixed(1)}z`
  return {
    there: sent.map((b) => bar(b.at * STEP, STEP - 2, b.height * HEIGHT)).join(''),
    torn: holes.map((b) => `M${b.at * STEP - 1} 0h${STEP}v${HEIGHT}h${-STEP}z`).join(''),
    kept: holes.map((b) => bar(b.at * STEP - 1, STEP, b.there * b.height * HEIGHT)).join(''),
    extra: list
      .filter((b) => b.extra > 0)
      .map((b) => `M${b.at * STEP - 1} ${HEIGHT + 1}h${STEP}v${BELOW - 1}h${-STEP}z`)
      .join(''),
  }
}

export function monthWord(month: string): string {
  if (month === BEFORE) return say('check.before_1990')
  if (month === AFTER) return say('check.after_2100')
  const [year, m] = month.split('-')
  return `${monthName(Number(m))} ${year}`
}
