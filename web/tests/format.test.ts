import { toldKey } from '../lib/keyTold'
import { describe, expect, it } from 'vitest'
import { afterEach } from 'vitest'
import { bytes, count, date, dateTime, duration, percent, phoneNumber, typedDay } from '../lib/format'
import { has, language, say, word } from '../lib/say'
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
  expect([count(20184), say('ledger.count', { count: 1 }), say('ledger.count', { count: 2300 })]).toEqual([
    '20,184',
    '1 message',
    '2,300 messages',
  ])
})
describe('in German', () => {
  afterEach(() => (language.value = 'en'))
  it('writes numbers, sizes, dates and plurals the German way', () => {
    language.value = 'de'
    expect([count(20184), bytes(1500), percent(0.424), say('ledger.count', { count: 1 })]).toEqual([
      '20.184',
      '1,5 kB',
      '42\u00a0%',
      '1 Nachricht',
    ])
    expect([dateTime('2026-09-01T10:00:00.000Z'), date('2026-03-01T10:00:00.000Z')]).toEqual([
      '1. Sep. 2026, 11:00',
      '1. März 2026',
    ])
    expect(say('ledger.count', { count: 2300 })).toBe('2.300 Nachrichten')
  })
})
it('shows what it has no words for in plain letters', () => {
  expect([word('reason', 'not_heard_of'), say('no.such.key'), has('shelf.title')]).toEqual([
    'not heard of',
    'no.such.key',
    true,
  ])
})
it('reads a day in the order of the language, and nothing that is no day', () => {
  expect(['1.3.2023', '20/03/2023', ' 24-12-25 ', '1 7 2024'].map(typedDay)).toEqual([
    '2023-03-01',
    '2023-03-20',
    '2025-12-24',
    '2024-07-01',
  ])
  expect(['31.2.2024', '15062024', '2024-06-15', '1.1.', 'x', ''].map(typedDay)).toEqual(Array(6).fill(null))
})
it('splits a time only after it was rounded', () => {
  expect([59.5, 3599, 3601, 7199].map(duration)).toEqual(['1 min', '1 h 0 min', '1 h 1 min', '2 h 0 min'])
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
    phoneNumber('Ada'),
    phoneNumber(null),
  ]).toEqual(['+44 7700 900104', '+1 202 555 0142', '+49 1522 8817386', 'Ada', '–'])
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
  it('says what is missing where it is known what it was locked with', () => {
    expect(toldKey('beef', 'digits')).toBe('4 of 64 digits.')
    expect(toldKey('low tide', 'digits')).toBe('Only digits from 0 to 9 and letters from a to f belong to it.')
    expect(toldKey('ab'.repeat(32), 'digits')).toBe('All 64 digits are there.')
    expect(toldKey('ab'.repeat(32), 'password')).toBe('Taken as a password.')
  })
})
