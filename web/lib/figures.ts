import type { Schemas } from '../api/client'

type Counts = Schemas['JobCounts']

/** A strip of months: each has a column, and a gap beside it. */
export const HEIGHT = 20
export const STEP = 10
const GAP = 2
/** What is there at all is seen. */
const LEAST = 2

/** Jobs by month: those that went right at the first try stand on the line, the others on top of them. */
export function strip(months: string[], of: Counts): { right: string; wrong: string; amiss: string[] } {
  const most = Math.max(1, ...of.months.map((m) => m.jobs))
  const columns = of.months
    .map((m) => ({ ...m, at: months.indexOf(m.month) }))
    .filter((m) => m.at >= 0 && m.jobs > 0)
    .map((m) => {
      const wrong = m.right === m.jobs ? 0 : Math.max(LEAST, (HEIGHT * (m.jobs - m.right)) / most)
      return { at: m.at, wrong, right: m.right === 0 ? 0 : Math.max(LEAST, (HEIGHT * m.jobs) / most - wrong) }
    })
  const column = (at: number, from: number, height: number): string =>
    height === 0
      ? ''
      : `M${at * STEP} ${(HEIGHT - from).toFixed(1)}v${(-height).toFixed(1)}h${STEP - GAP}v${height.toFixed(1)}z`
  return {
    right: columns.map((c) => column(c.at, 0, c.right)).join(''),
    wrong: columns.map((c) => column(c.at, c.right, c.wrong)).join(''),
    amiss: of.months.filter((m) => m.right < m.jobs).map((m) => m.month),
  }
}

/** Of what there is none, no share is right. */
export const shareOf = (of: Pick<Counts, 'jobs' | 'right'>): number | null =>
  of.jobs === 0 ? null : of.right / of.jobs

/** Minutes as they are said: below ten, halves count. */
export const minutes = (seconds: number): number => {
  const all = seconds / 60
  return all < 10 ? Math.round(all * 2) / 2 : Math.round(all)
}

/** In the order in which they come, each with its own. */
export function byWhat<Row extends { what: string }>(rows: Row[]): { what: Row['what']; rows: Row[] }[] {
  const found = new Map<Row['what'], Row[]>()
  for (const row of rows) found.set(row.what, [...(found.get(row.what) ?? []), row])
  return [...found].map(([what, of]) => ({ what, rows: of }))
}
