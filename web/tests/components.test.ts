import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { createVuetify } from 'vuetify'
import type { Schemas } from '../api/client'
import AccountsBar from '../components/run/AccountsBar.vue'
import LedgerRow from '../components/chats/LedgerRow.vue'
import MonthStrips from '../components/chats/MonthStrips.vue'
import RoleMark from '../components/phone/RoleMark.vue'

const global = { plugins: [createVuetify()] }

describe('the accounts', () => {
  const totals = {
    conversations: 3,
    messages: 1000,
    arrived: 900,
    changed: 60,
    left_out: 38,
    missing: 2,
    extra: 0,
    settings_differing: 0,
    added: 0,
    added_missing: 0,
    kept: 0,
    kept_missing: 0,
    account_differing: 0,
    conversations_extra: 0,
    complete: false,
  }
  it('add up in words', () => {
    const text = mount(AccountsBar, { props: { totals }, global }).text().replace(/\s+/g, ' ')
    expect(text).toBe('900 arrived + 60 changed as listed + 38 stay in the backup + 2 missing = 1,000 in the backup')
  })
  it('keep two missing messages in a thousand visible', () => {
    const bar = mount(AccountsBar, { props: { totals }, global }).find('rect.missing')
    expect(Number(bar.attributes('width'))).toBeGreaterThan(1)
  })
  it('fill the whole bar and no more', () => {
    const widths = mount(AccountsBar, { props: { totals }, global })
      .findAll('rect')
      .map((r) => Number(r.attributes('width')))
    expect(widths.reduce((a, b) => a + b)).toBeCloseTo(100)
  })
})

describe('the strips', () => {
  const row = {
    id: 7,
    title: 'Crew',
    kind: 'group',
    verdict: 'missing',
    arrived: 3,
    changed: 0,
    left_out: 0,
    missing: 4,
    extra: 0,
    added: 0,
    added_missing: 0,
    kept: 0,
    kept_missing: 0,
    messages_expected: 7,
    messages_found: 7,
    attachments_expected: 7,
    attachments_found: 3,
    people_expected: 2,
    people_found: 2,
    first_expected: null,
    first_found: null,
    last_expected: null,
    last_found: null,
    settings: [],
    rules: [],
    months: [
      { month: '2024-01', expected: 3, there: 3, extra: 0 },
      { month: '2024-02', expected: 4, there: 0, extra: 0 },
    ],
  } satisfies Schemas['ArrivalRow']
  it('say in words what the picture shows', () => {
    const strip = mount(MonthStrips, { props: { rows: [row], picked: null }, global }).find('button')
    expect(strip.find('.sr').text()).toBe('4 missing, Feb 2024')
    expect(strip.text()).toContain('−4')
  })
  it('tear the strip where something is missing and only there', () => {
    const torn = (r: Schemas['ArrivalRow']) =>
      mount(MonthStrips, { props: { rows: [r], picked: null }, global })
        .find('path.torn')
        .attributes('d') ?? ''
    expect(torn(row).match(/M/g)).toHaveLength(1)
    expect(torn({ ...row, missing: 0, months: [{ month: '2024-01', expected: 3, there: 3, extra: 0 }] })).toBe('')
  })
  it('stand together where there are hundreds, can be looked at one by one, and say what the picture shows', async () => {
    const quiet = (id: number): Schemas['ArrivalRow'] => ({
      ...row,
      id,
      title: `Person ${id}`,
      verdict: 'arrived',
      missing: 0,
      months: [{ month: '2024-01', expected: 3, there: 3, extra: 0 }],
    })
    const rows = [row, ...Array.from({ length: 399 }, (_, n) => quiet(n + 100))]
    const strips = mount(MonthStrips, { props: { rows, picked: null }, global })
    expect(strips.findAll('button')).toHaveLength(2)
    expect(strips.find('.all').text()).toBe('All 400−44 missing, Feb 2024')
    const together = strips.findAll('button')[1]
    expect(together?.text()).toContain('399 with nothing missing')
    await together?.trigger('click')
    expect(strips.findAll('button')).toHaveLength(401)
    expect(strips.emitted('pick')).toBeUndefined()
  })
  it('let what nobody expected hang below the line, in words too', () => {
    const months = [{ month: '2024-01', expected: 0, there: 0, extra: 2 }]
    const more: Schemas['ArrivalRow'] = { ...row, verdict: 'extra', missing: 0, extra: 2, months }
    const strip = mount(MonthStrips, { props: { rows: [more], picked: null }, global }).find('button')
    expect(strip.find('.sr').text()).toBe('2 more, Jan 2024')
    expect(strip.find('path.extra').attributes('d')).not.toBe('')
  })
  it('pick a conversation, and let it go again', async () => {
    const strips = mount(MonthStrips, { props: { rows: [row], picked: null }, global })
    await strips.find('button').trigger('click')
    await strips.setProps({ picked: 7 })
    await strips.find('button').trigger('click')
    expect(strips.emitted('pick')).toEqual([[7], [null]])
  })
})

describe('a line of the ledger', () => {
  const message = {
    id: 1,
    place: 5,
    kind: 'text',
    sent_at: '2024-03-01T10:00:00.000Z',
    odd_time: false,
    from_owner: false,
    sender: 'Ada',
    state: 'seen',
    length: 40,
    text: null,
    notice: null,
    starred: false,
    forwarded: false,
    reply: null,
    edited_at: null,
    expires_at: null,
    view_once: null,
    mentions: 0,
    effect: false,
    content: null,
    reactions: [],
    unknown_details: 0,
    attachments: [],
  } satisfies Schemas['Message']
  const line = (change: Partial<Schemas['Message']>, covered: boolean) =>
    mount(LedgerRow, {
      props: { message: { ...message, ...change }, isNewDay: true, covered, picked: false, preview: '/p/' },
      global,
    })
  it('shows bars in the length of a covered text', () => {
    const short = line({ length: 6 }, true)
    expect(short.find('.bars').attributes('aria-label')).toBe('Covered text of 6 characters')
    expect(line({ length: 90 }, true).findAll('.bars i').length).toBeGreaterThan(short.findAll('.bars i').length)
  })
  it('fetches no picture of what is covered', () => {
    const attachments = [
      {
        media_type: 'image/jpeg',
        name: null,
        bytes: 10,
        presence: 'present' as const,
        duration_ms: null,
        is_motion: false,
        preview: true,
      },
    ]
    expect(line({ kind: 'photo', attachments }, true).find('img').exists()).toBe(false)
    expect(line({ kind: 'photo', attachments }, false).find('img').attributes('src')).toBe('/p/1')
  })
  it('says that a file is gone and that a time is odd', () => {
    const attachments = [
      {
        media_type: 'image/jpeg',
        name: null,
        bytes: 10,
        presence: 'missing' as const,
        duration_ms: null,
        is_motion: false,
        preview: false,
      },
    ]
    const text = line({ kind: 'photo', attachments, odd_time: true }, true).text()
    expect(text).toContain('file missing on the giving phone')
    expect(text).toContain('?')
  })
  it('goes to the answered message, unless that is gone', async () => {
    const there = line(
      { reply: { place: 3, gone: false, elsewhere: false, sent_at: '2024-03-03T10:00:00.000Z' } },
      true,
    )
    expect(there.find('button.reply').text()).toContain('answers a message of 3 Mar 2024')
    await there.find('button.reply').trigger('click')
    expect(there.emitted('goTo')).toEqual([[3]])
    expect(
      line({ reply: { place: null, gone: true, elsewhere: false, sent_at: null } }, true)
        .find('button.reply')
        .attributes('disabled'),
    ).toBeDefined()
  })
  it('says that the answered message is in another conversation', () => {
    const text = line({ reply: { place: null, gone: false, elsewhere: true, sent_at: null } }, true).text()
    expect(text).toContain('answers in another conversation')
  })
  it('tells what was edited, runs out, names somebody or is to be seen once', () => {
    const marks = line(
      {
        edited_at: '2024-03-01T11:00:00.000Z',
        expires_at: '2030-01-02T11:00:00.000Z',
        mentions: 2,
        view_once: 'unopened',
        effect: true,
      },
      true,
    )
      .find('.marks')
      .text()
    for (const part of ['edited', 'disappears 2 Jan 2030', 'names 2 people', 'view once', 'with effect'])
      expect(marks).toContain(part)
  })
  it('shows a poll with its numbers, covered too', () => {
    const content = {
      sort: 'poll' as const,
      title: null,
      lines: [],
      count: 3,
      outcome: null,
      duration_ms: null,
    }
    expect(line({ kind: 'poll', content }, true).find('.content').text()).toBe('Poll, 3 votes')
  })
  it('shows markup in a text as text', () => {
    expect(line({ text: '<img src=x onerror=alert(1)>', length: 28 }, false).find('.text').text()).toContain('<img')
  })
})

it('marks a role by word and by shape', () => {
  const [gives, receives] = (['gives', 'receives'] as const).map((role) => mount(RoleMark, { props: { role }, global }))
  expect([gives?.text(), receives?.text()]).toEqual(['gives', 'receives'])
  expect(gives?.find('path').attributes('d')).not.toBe(receives?.find('path').attributes('d'))
})
