import { expect, it } from 'vitest'
import type { components } from '../api/schema'
import { contentLine, marksOf } from '../lib/contents'
import { kindWord, noticeSentence } from '../lib/words'

type Message = components['schemas']['Message']
type Content = NonNullable<Message['content']>
const message = (kind: Message['kind'], content: Partial<Content> | null, change: Partial<Message> = {}): Message =>
  ({
    kind,
    attachments: [],
    view_once: null,
    content: content && { title: null, lines: [], count: null, outcome: null, duration_ms: null, ...content },
    ...change,
  }) as Message

it.each<[Message, string | null]>([
  [message('text', null), null],
  [message('place', { sort: 'place' }), 'Place'],
  [message('place', { sort: 'place', title: 'Quay 2', lines: ['Mill Lane'] }), 'Place: Quay 2, Mill Lane'],
  [message('live_place', { sort: 'place', title: '51.5, 0.1' }), 'Live location: 51.5, 0.1'],
  [message('contact_card', { sort: 'contact_cards', count: 1, lines: ['Ada'] }), 'Contact card: Ada'],
  [message('contact_card', { sort: 'contact_cards', count: 3 }), '3 contact cards'],
  [message('poll', { sort: 'poll', count: 1, lines: ['yes (1)', 'no (0)'] }), 'Poll, 1 vote: yes (1) · no (0)'],
  [message('call', { sort: 'call', outcome: 'answered', duration_ms: 61_000 }), 'Call, answered, 2 min'],
  [message('call', { sort: 'call', outcome: 'missed' }), 'Call, missed'],
  [message('text', { sort: 'link_preview' }), 'With a preview of the page it links to'],
  [message('text', { sort: 'link_preview', title: 'Book' }), 'Preview: Book'],
  [
    message('catalogue_item', { sort: 'catalogue_item', title: 'Honey', lines: ['6.50 GBP'] }),
    'Catalogue item, Honey, 6.50 GBP',
  ],
  [message('deleted', { sort: 'deletion' }), 'Deleted'],
  [message('deleted', null), 'Deleted'],
  [message('photo', null, { view_once: 'opened' }), 'Photo, viewed and gone'],
])('says what a message holds: %#', (given, line) => {
  expect(contentLine(given)).toBe(line)
})

it('has a word for every kind and a sentence for every notice', () => {
  for (const kind of ['video', 'round_note', 'sticker', 'animation', 'poll', 'call', 'deleted'])
    expect(kindWord(kind)).not.toContain('_')
  const told = (kind: string, text: string | null = null) => noticeSentence({ kind, actor: 'Ada', target: 'Bo', text })
  expect(told('timer_changed', '604800')).toBe('Ada set how long messages live: 7 days')
  expect(told('timer_changed', '0')).toBe('Ada set how long messages live: for good')
  expect(told('list_stayed', 'Newsletter')).toBe('A broadcast list stayed in the backup “Newsletter”')
  for (const kind of [
    'joined_by_link',
    'unmade_admin',
    'about_changed',
    'picture_changed',
    'keys_changed',
    'barred',
    'unbarred',
    'closed',
  ])
    expect(told(kind)).not.toContain('unknown')
})

it('tells a lifetime that is over from one that is not', () => {
  const words = (expires_at: string) =>
    marksOf({ edited_at: null, view_once: null, expires_at, mentions: 0, effect: false } as Message, (iso) =>
      iso.slice(0, 4),
    ).map((mark) => mark.word)
  expect(words('2020-01-01T00:00:00.000Z')).toEqual(['ran out 2020'])
  expect(words('2999-01-01T00:00:00.000Z')).toEqual(['disappears 2999'])
})
