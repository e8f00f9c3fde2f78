import { beforeEach, describe, expect, it } from 'vitest'
import { nextTick } from 'vue'
import type { Schemas } from '../api/client'
import { askedOf, byRule, draftOf, forgetScope, isNoDay, isSame, keptDraft, ordered, withHabit } from '../lib/scope'

const NOW = new Date('2026-11-27T12:00:00Z')
const row = (id: number, change: Partial<Schemas['Conversation']> = {}): Schemas['Conversation'] => ({
  id,
  kind: 'direct',
  title: `c${id}`,
  archived: false,
  hidden: false,
  labels: [],
  pin_place: null,
  unread: 0,
  lost: 0,
  messages: id,
  attachments: 0,
  attachment_bytes: 0,
  attachments_absent: 0,
  first_at: null,
  last_at: '2026-11-01T00:00:00Z',
  ...change,
})
const rows = [
  row(1, { archived: true }),
  row(2, { messages: 0, last_at: null }),
  row(3, { last_at: '2025-11-26T00:00:00Z', attachment_bytes: 9, title: 'A' }),
  row(4, { last_at: '2025-11-28T00:00:00Z', title: null }),
]
const scope: Schemas['Scope'] = {
  may_choose: true,
  groups: ['videos'],
  conversations: [3, 1],
  from: '2024-02-01',
  to: null,
  merges: false,
  trial_conversation: null,
  trial_newest: 20,
  names: true,
  named: 3,
  habit: null,
  sum: {
    messages: 0,
    bytes: 0,
    left_out: 0,
    without_file: 0,
    groups: [],
    conversations: [],
    needed_bytes: 0,
    free_bytes: null,
    fits: null,
    seconds: 1,
  },
}

describe('what is left out', () => {
  beforeEach(() => sessionStorage.clear())

  it('is asked for as the server told it, days as they are typed', () => {
    const draft = draftOf(scope)
    expect(draft.from).toBe('1.2.2024')
    expect(askedOf(draft)).toEqual({
      groups: ['videos'],
      conversations: [1, 3],
      from: '2024-02-01',
      to: null,
      merges: false,
      trial_conversation: null,
      trial_newest: 20,
      names: true,
    })
    expect(isSame(draft, { ...draft, conversations: [1, 3], from: '01/02/24' })).toBe(true)
    expect(isSame(draft, { ...draft, merges: true })).toBe(false)
  })

  it('is not asked for while a day is none', () => {
    expect(askedOf({ ...draftOf(scope), to: '31.2.2024' })).toBeNull()
    expect([isNoDay(' '), isNoDay('x'), isNoDay('1.1.2024')]).toEqual([false, true, false])
  })

  it('can be picked by rule', () => {
    expect(byRule(rows, { is: 'archived' }, NOW)).toEqual([1])
    expect(byRule(rows, { is: 'empty' }, NOW)).toEqual([2])
    expect(byRule(rows, { is: 'quiet', months: 12 }, NOW)).toEqual([3])
    expect(byRule(rows, { is: 'quiet', months: 24 }, NOW)).toEqual([])
  })

  it('adds what the shop usually leaves out, and takes nothing in again', () => {
    const habit = { groups: ['stickers' as const], archived: true, empty: false, quiet_months: 12 }
    const draft = withHabit({ ...draftOf(scope), conversations: [4] }, habit, rows, NOW)
    expect(draft.groups).toEqual(['videos', 'stickers'])
    expect(draft.conversations).toEqual([4, 1, 3])
    expect(withHabit(draft, habit, rows, NOW)).toEqual(draft)
  })

  it('is shown in the order that one asks for', () => {
    const ids = (order: Parameters<typeof ordered>[1]) => ordered(rows, order).map((one) => one.id)
    expect(ids('newest')).toEqual([1, 2, 3, 4])
    expect(ids('size')[0]).toBe(3)
    expect(ids('messages')).toEqual([4, 3, 1, 2])
    expect(ids('name')).toEqual([4, 3, 1, 2])
  })

  it('is kept while somebody looks elsewhere, until it is chosen', async () => {
    const at = { number: 44, place: 1 }
    keptDraft(at, scope).groups = ['voice']
    await nextTick()
    expect(keptDraft(at, scope).groups).toEqual(['voice'])
    expect(keptDraft({ ...at, place: 2 }, scope).groups).toEqual(['videos'])
    forgetScope(at)
    expect(keptDraft(at, scope).groups).toEqual(['videos'])
    sessionStorage.setItem('geschenk.scope.44.1', '{')
    expect(keptDraft(at, scope).groups).toEqual(['videos'])
  })
})
