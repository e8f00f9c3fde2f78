import { flushPromises, mount } from '@vue/test-utils'
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Component } from 'vue'
import { createMemoryHistory, createRouter } from 'vue-router'
import { createVuetify } from 'vuetify'
import type { components } from '../api/schema'
import AccountsBar from '../components/run/AccountsBar.vue'
import ArrivalCheck from '../components/arrival/ArrivalCheck.vue'
import BackupFacts from '../components/backup/BackupFacts.vue'
import ConversationTable from '../components/chats/ConversationTable.vue'

type Schemas = components['schemas']

let answers: Record<string, unknown> = {}
beforeEach(() => {
  answers = {}
  vi.stubGlobal('fetch', async (request: Request) => {
    const answer = answers[new URL(request.url).pathname] ?? {}
    return new Response(JSON.stringify(answer), { headers: { 'Content-Type': 'application/json' } })
  })
})

async function show(component: Component, props: Record<string, unknown>) {
  const router = createRouter({
    history: createMemoryHistory('http://localhost/'),
    routes: [{ path: '/:rest(.*)', component: { template: '<i/>' } }],
  })
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  const plugins = [createVuetify(), router, [VueQueryPlugin, { queryClient: client }]] as never
  const wrapper = mount(component, { props, global: { plugins } })
  await router.isReady()
  await flushPromises()
  return wrapper
}

const conversation = (change: Partial<Schemas['Conversation']>): Schemas['Conversation'] => ({
  id: 1,
  kind: 'group',
  title: 'Crew',
  archived: false,
  hidden: false,
  labels: [],
  pin_place: null,
  unread: 0,
  lost: 0,
  messages: 10,
  attachments: 0,
  attachment_bytes: 0,
  attachments_absent: 0,
  first_at: null,
  last_at: null,
  ...change,
})
const totals = (change: Partial<Schemas['Totals']> = {}): Schemas['Totals'] => ({
  conversations: 1,
  messages: 10,
  arrived: 10,
  changed: 0,
  left_out: 0,
  missing: 0,
  extra: 0,
  settings_differing: 0,
  added: 0,
  added_missing: 0,
  kept: 0,
  kept_missing: 0,
  account_differing: 0,
  conversations_extra: 0,
  complete: true,
  ...change,
})

describe('a damaged backup', () => {
  const table = (
    conversations: Schemas['Conversation'][],
    findings: { code: string; subject: string; count: number }[],
  ) => {
    answers['/api/backups/b1/conversations'] = { conversations, messages_by_kind: {}, findings }
    return show(ConversationTable, { at: { number: 7, place: 1 }, backup: 'b1', find: '' })
  }
  it('is said before the list, in numbers, and at each conversation', async () => {
    const view = await table(
      [
        conversation({ lost: 3 }),
        conversation({ id: 2, title: 'Altos', lost: 1 }),
        conversation({ id: 3, title: 'Whole' }),
      ],
      [
        { code: 'rows_lost', subject: 'slip_in_room', count: 4 },
        { code: 'time_zero', subject: 'sent_at', count: 1 },
      ],
    )
    const alert = view.find('[role=alert]').text().replace(/\s+/g, ' ')
    expect(alert).toContain('4 messages in 2 conversations can’t be read')
    expect(alert).not.toContain('beginning of time')
    expect(view.findAll('tbody tr').map((row) => row.text().includes('damaged'))).toEqual([true, true, false])
    expect(view.find('.listed').text()).toContain('Sent at the beginning of time')
  })
  it('is said too when nothing was lost by it', async () => {
    const view = await table([conversation({})], [{ code: 'damage_mended', subject: 'indexes', count: 1 }])
    expect(view.find('[role=alert]').text()).toContain('The phone’s own storage is damaged.')
  })
  it('is nothing to speak of when there is none', async () => {
    const view = await table([conversation({ hidden: true, labels: ['Paid', 'New'], archived: true })], [])
    expect(view.find('[role=alert]').exists()).toBe(false)
    for (const part of ['hidden by an unofficial version', '“Paid”', '“New”', 'archived'])
      expect(view.text()).toContain(part)
  })
  it('stands among the facts of the backup', () => {
    const backup: Schemas['Backup'] = {
      id: 'b',
      taken_at: '2026-11-20T12:00:00.000Z',
      way_in: 'cable',
      made_at: null,
      locked_with: null,
      without_videos: false,
      tray: 44,
      kept: true,
      phone_newest_at: null,
      account: '+447700900104',
      conversations: 2,
      messages: 10,
      attachments: 0,
      attachments_absent: 0,
      lost: 17,
      attachment_bytes: 0,
      newest_at: null,
    }
    expect(mount(BackupFacts, { props: { backup } }).text()).toContain('17 messages')
    expect(mount(BackupFacts, { props: { backup: { ...backup, lost: 0 } } }).text()).not.toContain('Damaged')
    const own = {
      ...backup,
      way_in: 'local_backup',
      made_at: '2026-11-20T02:00:00.000Z',
      locked_with: 'digits',
      without_videos: true,
    } as const
    const text = mount(BackupFacts, { props: { backup: own } }).text()
    expect(text).toContain('the messenger’s own backup of 20 Nov 2026, 02:00, opened with its 64 digits')
    expect(text).toContain('without videos')
  })
})

describe('what a conversion makes', () => {
  it('is told beside the four accounts and not among them', () => {
    const text = (t: Schemas['Totals']) =>
      mount(AccountsBar, { props: { totals: t } })
        .text()
        .replace(/\s+/g, ' ')
    expect(text(totals({ added: 48 }))).toContain('= 10 in the backup · 48 copies made when converting')
    expect(text(totals({ added: 47, added_missing: 1, complete: false }))).toContain(
      '47 copies made when converting, 1 of them not there',
    )
    expect(text(totals())).not.toContain('copies made when converting')
  })
})

describe('the headline of the arrival check', () => {
  const phones = [{ tag: '7-B', role: 'receives', live: {} }]
  const headline = async (t: Partial<Schemas['Totals']>, account: unknown[] = [], reasons = {}) => {
    answers['/api/trays/7/moves/1/arrival'] = {
      check: 3,
      totals: totals({ complete: false, ...t }),
      reasons,
      checked_at: '2026-11-20T12:00:00.000Z',
      losses: [],
      account,
      conversations: [],
    }
    return (
      await show(ArrivalCheck, {
        tray: { number: 7, phones },
        move: { place: 1, checks: [], bringings: [] },
      })
    )
      .find('h2')
      .text()
  }
  it.each([
    [{ complete: true }, [], 'Everything that was meant to arrive is there'],
    [{ missing: 2 }, [], '2 messages missing, in 0 conversations'],
    [{ added_missing: 1 }, [], '1 copy missing'],
    [{ extra: 3 }, [], '3 messages more than expected'],
    [{ settings_differing: 1 }, [], '1 conversation with other settings'],
    [
      { account_differing: 3 },
      [
        { what: 'person', expected: 5, found: 5, differing: 2 },
        { what: 'label', expected: 2, found: 1, differing: 1 },
        { what: 'canned_answer', expected: 2, found: 2, differing: 0 },
      ],
      'people: 2 not as expected, labels: 1 not as expected',
    ],
  ])('says what is wrong: %#', async (t, account, words) => {
    expect(await headline(t, account)).toBe(words)
  })
  it.each([
    [{ attachment_not_there: 2 }, '2 files missing, in 0 conversations; the messages are there'],
    [
      { attachment_not_there: 1, attachment_different: 1 },
      '2 files missing or different, in 0 conversations; the messages are there',
    ],
    [{ attachment_not_there: 1 }, '1 message and 1 file missing or different, in 0 conversations'],
  ])('calls no message missing of which only the file is: %#', async (reasons, words) => {
    expect(await headline({ missing: 2 }, [], reasons)).toBe(words)
  })
})
