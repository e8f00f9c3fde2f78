import { describe, expect, it } from 'vitest'
import { calling, share, shelfOrder, withEarlier, type TrayTag } from '../lib/shelf'

const tray = (number: number, waits: 'person' | 'machine' | 'nobody', since: string | null = null): TrayTag => ({
  number,
  customer: `Customer ${number}`,
  errand: 'move',
  stage: 'ready',
  stage_place: 2,
  closed: waits === 'nobody',
  changed_at: '2026-11-20T12:00:00.000Z',
  phones: [],
  accounts: [],
  waits: { for: waits, since, who: null, tag: null, move: null, text: '', how: null, progress: null },
})
const progress = (items_done: number, items_total: number, bytes_done = 0, bytes_total = 0) => ({
  phase: 'pulling',
  items_done,
  items_total,
  bytes_done,
  bytes_total,
  bytes_per_second: null,
  seconds_left: null,
  job_seconds_left: null,
})

describe('the shelf', () => {
  it('has those that wait for a person first and leaves out empty sections', () => {
    const order = shelfOrder([tray(45, 'machine'), tray(43, 'person'), tray(41, 'nobody'), tray(42, 'person')])
    expect(order.map((s) => [s.key, s.trays.map((t) => t.number)])).toEqual([
      ['person', [42, 43]],
      ['machine', [45]],
      ['nobody', [41]],
    ])
    expect(shelfOrder([])).toEqual([])
  })
  it('has who waits longest first, and who has just begun last', () => {
    const at = (minute: string) => `2026-11-20T12:${minute}:00.000Z`
    const waiting = [tray(41, 'person'), tray(42, 'person', at('30')), tray(43, 'person', at('10')), tray(40, 'person')]
    expect(shelfOrder(waiting)[0]?.trays.map((t) => t.number)).toEqual([43, 42, 40, 41])
  })
  it('has what was handed over last first, and none twice', () => {
    const trays = withEarlier([tray(43, 'nobody'), tray(41, 'nobody')], [tray(41, 'nobody'), tray(40, 'nobody')])
    expect(shelfOrder(trays)[0]?.trays.map((t) => t.number)).toEqual([43, 41, 40])
  })
  it('calls for a tray that the machine has just given back, and for no other', () => {
    const before = [tray(41, 'machine'), tray(42, 'person'), tray(43, 'machine')]
    const now = [tray(41, 'person'), tray(42, 'person'), tray(43, 'nobody'), tray(44, 'person')]
    expect(calling(before, now)).toEqual([41])
  })
})

describe('the share that is done', () => {
  it('goes by bytes where they are known, else by items, else nobody knows', () => {
    expect(share(progress(1, 2, 30, 40))).toBe(0.75)
    expect(share(progress(1, 2))).toBe(0.5)
    expect(share(progress(1, 0))).toBeNull()
    expect(share(null)).toBeNull()
  })
  it('is never more than all', () => {
    expect(share(progress(0, 0, 50, 40))).toBe(1)
  })
})
