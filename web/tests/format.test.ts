import { toldKey } from '../lib/keyTold'
import { describe, expect, it } from 'vitest'
import { bytes, count, date, dateTime, duration, many, phoneNumber } from '../lib/format'
import { noticeSentence } from '../lib/words'

it('writes sizes in decimal units', () => {
  expect([0, 999, 1000, 10_500, 999_600, 48_213_000, 61_300_000_000].map(bytes)).toEqual([
    '0 B',
    '999 B',
    '1.0 kB',
    '11 kB',
    '1.0 MB',
    '48 MB',
    '61 GB',
  ])
})
it('writes counts and their nouns', () => {
  expect([count(20184), many(1, 'message'), many(2300, 'message')]).toEqual(['20,184', '1 message', '2,300 messages'])
})
it('is no more exact about time left than it can be', () => {
  expect([0.2, 12.1, 61, 3700].map(duration)).toEqual(['a moment', '13 s', '2 min', '1 h 2 min'])
})
it('shows times in the zone of the shop', () => {
  expect(dateTime('2026-07-01T23:30:00.000Z')).toBe('2 Jul 2026, 00:30')
  expect(date('1969-12-30T23:59:59.877Z')).toBe('31 Dec 1969')
  expect(dateTime(null)).toBe('–')
})
it('groups numbers for reading aloud', () => {
  expect([
    phoneNumber('+447700900104'),
    phoneNumber('+12025550142'),
    phoneNumber('+4915228817386'),
    phoneNumber(null),
  ]).toEqual(['+44 7700 900 104', '+1 2025 550 142', '+4915228817386', 'no number'])
})
it('tells notices, and keeps what is covered to itself', () => {
  const notice = { kind: 'title_changed', actor: 'Ada', target: null, text: 'New' }
  expect(noticeSentence(notice)).toBe('Ada changed the title “New”')
  expect(noticeSentence({ ...notice, text: null })).toBe('Ada changed the title')
  expect(noticeSentence({ kind: 'joined', actor: 'Ada', target: 'Yaw', text: null })).toBe('Ada added Yaw')
  expect(noticeSentence({ kind: 'unheard_of', actor: null, target: null, text: null })).toBe(
    'A notice of an unknown sort',
  )
})

describe('what was told to open a sealed backup', () => {
  it.each([
    ['', ''],
    ['  - ', ''],
    ['low tide', 'Taken as a password.'],
    ['beef', 'Taken as a password.'],
    ['5a1e0c7b 93d24f60 '.repeat(4), 'All 64 digits are there.'],
    ['5A1E-0C7B '.repeat(8), 'All 64 digits are there.'],
    ['ab'.repeat(31), '62 of 64 digits; as it is, it is taken as a password.'],
    ['ab'.repeat(33), '66 of 64 digits; as it is, it is taken as a password.'],
  ])('says how %j is understood', (told, says) => {
    expect(toldKey(told)).toBe(says)
  })
})
