import { describe, expect, it } from 'vitest'
import type { Schemas } from '../api/client'
import { chosenWay } from '../lib/ways'

const offer = (id: string, way: string, madeAt: string | null): Schemas['Offer'] => ({
  ...{ id, way, made_at: madeAt, bytes: 1, lock: 'digits', attachments: 0, attachment_bytes: 0, videos: 0 },
  ...{ counts: null, why: null },
})
const cable = offer('a', 'cable', null)
const own = offer('b', 'local_backup', '2026-12-01T20:49:01.000Z')
const older = offer('c', 'local_backup', '2026-11-20T02:40:00.000Z')

describe('the way in that was chosen', () => {
  it('is the first before anybody chooses, and the one that was chosen behind that', () => {
    expect(chosenWay([null], undefined)).toBeNull()
    expect(chosenWay([cable, own], null)).toBe(cable)
    expect(chosenWay([cable, own, older], older)).toBe(older)
  })
  it('stays when the phone has finished it since, and is another offer now', () => {
    const finished = { ...own, id: 'd' }
    expect(chosenWay([cable, finished, older], own)).toBe(finished)
  })
  it('is the first again once the one that was chosen is gone', () => {
    expect(chosenWay([cable, older], own)).toBe(cable)
    expect(chosenWay([own, older], { ...cable, id: 'e' })).toBe(own)
  })
})
