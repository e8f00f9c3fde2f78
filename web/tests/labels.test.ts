import { describe, expect, it } from 'vitest'
import type { Schemas } from '../api/client'
import { isTagOf, squares } from '../lib/labels'

describe('a label', () => {
  const tray = {
    labels: [
      { tag: '44-A', code: '7K0F' },
      { tag: '44-B', code: 'X1Q2' },
    ],
  } as Schemas['Tray']
  it('is read however it is grouped, with letters for digits', () => {
    for (const typed of ['44-A', ' 44-a ', '44a', '44-A 7K0F', '44-a-7kof', '44A7KOF']) {
      expect(isTagOf(tray, '44-A', typed), typed).toBe(true)
      expect(isTagOf(tray, '44-B', typed), typed).toBe(false)
    }
  })
  it('is not another one, nor half of one', () => {
    for (const typed of ['', '-', '44', '7K0F', '44-A 7K0', '44-A X1Q2', '45-A'])
      expect(isTagOf(tray, '44-A', typed)).toBe(false)
  })
  it('has a code in squares', () => {
    const { size, path } = squares('44-A 7K0F')
    expect(size).toBeGreaterThanOrEqual(21)
    // The three marks in its corners.
    for (const corner of ['M0 0h', `M${size - 1} 0h`, `M0 ${size - 1}h`]) expect(path).toContain(corner)
    expect(path).not.toContain(`M${size - 1} ${size - 1}h1v1h-1zM`)
  })
})
