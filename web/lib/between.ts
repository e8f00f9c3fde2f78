import type { Schemas } from '../api/client'
import { placeOf, STEP } from './months'

export type Fates = Pick<Schemas['BetweenRow'], 'same' | 'changed' | 'went' | 'came'>
type BetweenMonth = Schemas['BetweenRow']['months'][number]

/** Whether nothing of a conversation went, came or changed. */
export function isQuiet(row: Fates & { settings: string[] }): boolean {
  return row.changed + row.went + row.came === 0 && row.settings.length === 0
}

/** A strip: what the earlier backup has stands above the line, what came since hangs below it. */
export const ABOVE = 22
export const UNDER = 10

export const before = (m: Fates): number => m.same + m.changed + m.went

/** The months of several conversations as those of one, in the order of time. */
export function sumBetween(rows: { months: BetweenMonth[] }[]): BetweenMonth[] {
  const sums = new Map<string, BetweenMonth>()
  for (const m of rows.flatMap((row) => row.months)) {
    const sum = sums.get(m.month) ?? { month: m.month, same: 0, changed: 0, went: 0, came: 0 }
    for (const fate of ['same', 'changed', 'went', 'came'] as const) sum[fate] += m[fate]
    sums.set(m.month, sum)
  }
  return [...sums.values()].sort((a, b) => a.month.localeCompare(b.month))
}

/** Height from 0 to 1 by the logarithm, so that quiet months stay visible. */
function height(n: number, most: number): number {
  return n === 0 ? 0 : 0.2 + (0.8 * Math.log1p(n)) / Math.log1p(Math.max(1, most))
}

/**
 * Paths of a strip. What is the same stands on the line, what changed upon it, and on top, open, what went; what came
 * hangs below. Whatever there is of anything is never too thin to see.
 */
export function drawBetween(axis: string[], months: BetweenMonth[], most: number): Record<keyof Fates, string> {
  const paths = { same: '', changed: '', went: '', came: '' }
  for (const m of months) {
    const x = placeOf(axis, m.month) * STEP
    const whole = before(m)
    const all = height(whole, most) * ABOVE
    const least = (fate: 'changed' | 'went'): number => (m[fate] === 0 ? 0 : Math.max(4, (all * m[fate]) / whole))
    const [changed, went] = [least('changed'), least('went')]
    const same = m.same === 0 ? 0 : Math.max(1, all - changed - went)
    let foot = ABOVE
    const bar = (tall: number): string => {
      foot -= tall
      return tall === 0 ? '' : `M${x} ${foot.toFixed(1)}h${STEP - 2}v${tall.toFixed(1)}h${2 - STEP}z`
    }
    paths.same += bar(same)
    paths.changed += bar(changed)
    paths.went += bar(went)
    if (m.came > 0)
      paths.came += `M${x} ${ABOVE + 1}h${STEP - 2}v${(height(m.came, most) * UNDER).toFixed(1)}h${2 - STEP}z`
  }
  return paths
}
