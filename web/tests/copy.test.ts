import { describe, expect, it } from 'vitest'
import type { Schemas } from '../api/client'
import { copyAsked, copyLacks, GROUPS, newCopy } from '../lib/copy'

const copies: Schemas['Copies'] = {
  edition: 'Otterpost',
  customer: 'Test Person',
  language: 'en',
  forms: ['pages', 'files'],
  packings: [{ name: 'folder', can_lock: false }],
  sticks: [{ id: 'blue', label: 'Blue', free_bytes: 1_000 }],
  needs_reason: false,
  needs_manager: false,
  copies: [],
}
const draft = { ...newCopy('en'), stick: 'blue' }
const sum = { messages: 3, bytes: 900 }

describe('what is asked of the server', () => {
  it('says nothing of kinds where all are taken', () => {
    expect(copyAsked(draft)).toEqual({
      forms: ['pages'],
      conversations: null,
      groups: null,
      text: true,
      from: null,
      to: null,
    })
    expect(copyAsked({ ...draft, groups: ['videos', 'photos'], text: false })).toMatchObject({
      groups: ['photos', 'videos'],
      text: false,
    })
    expect(copyAsked({ ...draft, groups: [] })?.groups).toEqual([])
    expect(GROUPS).toHaveLength(5)
  })

  it('is nothing while a day is none', () => {
    expect(copyAsked({ ...draft, from: '31.2.2026' })).toBeNull()
    expect(copyAsked({ ...draft, from: '1.2.2026', to: '28.2.2026' })).toMatchObject({
      from: '2026-02-01',
      to: '2026-02-28',
    })
  })
})

describe('what keeps a copy from being taken', () => {
  it('is nothing where all is said', () => expect(copyLacks(draft, copies, sum)).toBe(''))

  it.each([
    ['copy_lacks.need_form', { forms: [] }],
    ['copy_lacks.need_some', { conversations: [] }],
    ['copy_lacks.need_stick', { stick: 'gone' }],
    ['copy_lacks.password_short', { password: 'seven77' }],
  ])('is said: %s', (key, change) => expect(copyLacks({ ...draft, ...change }, copies, sum)).toBe(key))

  it('is that it does not fit, or that nothing is in it', () => {
    expect(copyLacks(draft, copies, { messages: 3, bytes: 1_001 })).toBe('copy_lacks.too_large')
    expect(copyLacks(draft, copies, { messages: 0, bytes: 0 })).toBe('copy_lacks.need_some')
    expect(copyLacks(draft, copies, undefined)).toBe('')
  })

  it('is another one that is under way', () => {
    const run = (state: string) => ({ copies: [{ run: { state } }] }) as unknown as Partial<Schemas['Copies']>
    expect(copyLacks(draft, { ...copies, ...run('waiting') }, sum)).toBe('copy_lacks.busy')
    expect(copyLacks(draft, { ...copies, ...run('failed') }, sum)).toBe('')
  })

  it('is the manager, who says why, behind the hand-over', () => {
    expect(copyLacks(draft, { ...copies, needs_reason: true, needs_manager: true }, sum)).toBe('copy_lacks.closed')
    expect(copyLacks(draft, { ...copies, needs_reason: true }, sum)).toBe('copy_lacks.need_why')
    expect(copyLacks({ ...draft, reason: 'a letter' }, { ...copies, needs_reason: true }, sum)).toBe('')
  })
})
