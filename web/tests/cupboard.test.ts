import { beforeEach, describe, expect, it, vi } from 'vitest'
import { flushPromises, mount } from '@vue/test-utils'
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { createMemoryHistory, createRouter } from 'vue-router'
import { createVuetify } from 'vuetify'
import type { Component } from 'vue'
import type { Schemas } from '../api/client'
import { asked, daysLeft, forgetAsked, told } from '../lib/cupboard'
import CupboardView from '../views/CupboardView.vue'
import CustomerView from '../views/CustomerView.vue'
import FromCupboardView from '../views/FromCupboardView.vue'

const kept: Schemas['KeptBackup'] = {
  id: 'b1',
  tray: 7,
  customer_id: 3,
  customer: 'Ada Quay',
  contact: 'the café',
  language: 'en',
  app: 'otterpost',
  edition: 'Otterpost',
  account: '+447700900104',
  taken_at: '2026-11-20T12:00:00.000Z',
  newest_at: '2026-11-19T12:00:00.000Z',
  conversations: 12,
  messages: 3_000,
  attachment_bytes: 4_000_000,
  lost: 0,
  kept_until: '2026-12-25T00:00:00.000Z',
}
const row: Schemas['InCupboard'] = {
  of: kept,
  origin: 'account',
  way_in: 'cable',
  state: 'kept',
  phone: 'Fathom 4',
  serial: 'S1',
  until: '2026-12-24T23:59:59.000Z',
  is_due: false,
  is_open: false,
  verified_at: '2026-11-20T12:05:00.000Z',
  is_whole: true,
}
const counts = { kept: 120, due: 2, broken: 0, alone: 3, safety_copies: 1, erased: 4 }
let found: { backups: Schemas['InCupboard'][]; counts: typeof counts; page_size: number }
let one: Schemas['FromCupboard']
let bodies: Record<string, unknown>[] = []
const known: Schemas['Customer'] = {
  ...{ id: 3, name: 'Ada Quay', contact: 'the café', language: 'en', backups: [{ ...row, is_whole: false }] },
  ...{ forgotten_at: null, forgets_at: null },
  trays: [
    {
      ...{ number: 7, errand: 'move', opened_at: kept.taken_at, opened_by: 'jette', agreed: 'Ada Quay consents' },
      ...{ closed_at: kept.taken_at, withdrawn: true, erased_at: kept.taken_at, erased_by: 'orla' },
      phones: [{ tag: '7-A', role: 'gives', serial: 'S1', model: null }],
    },
  ],
}
let customer = known

beforeEach(() => {
  customer = known
  sessionStorage.clear()
  forgetAsked()
  bodies = []
  found = { backups: [row], counts, page_size: 50 }
  one = {
    row,
    facts: {
      ...{ id: 'b1', tray: 7, kept: true, taken_at: kept.taken_at, way_in: 'cable', made_at: null, locked_with: null },
      ...{ without_videos: false, phone_newest_at: null, account: kept.account, conversations: 12, messages: 3_000 },
      ...{ attachments: 5, attachments_absent: 0, lost: 0, attachment_bytes: 4_000_000, newest_at: kept.newest_at },
    },
    keeping: {
      ...{ id: 'b1', edition: 'Otterpost', account: kept.account, taken_at: kept.taken_at, messages: 3_000 },
      ...{
        bytes: 4_000_000,
        state: 'kept',
        note: '',
        locked_at: null,
        erased_at: null,
        erased_by: null,
        files: 0,
        is_there: false,
      },
      ...{ verified_at: kept.taken_at, until: null, run: null, trouble: null },
      may: ['verify', 'keep', 'erase'].map((act) => ({ act, why: null })),
    },
    history: [
      { at: kept.taken_at, what: 'taken', tray: 7, tag: null, by: null },
      { at: kept.taken_at, what: 'arrived', tray: 7, tag: '7-B', by: null },
    ],
    bring: { act: 'bring', why: null },
    look: { at_rest: false },
    has_earlier: false,
    has_place: false,
    copy: null,
  }
  vi.stubGlobal('fetch', async (request: Request) => {
    const path = new URL(request.url).pathname
    if (request.method === 'POST') bodies.push(JSON.parse((await request.text()) || 'null') as Record<string, unknown>)
    const session = {
      user: { name: 'jette', display_name: 'Jette', role: 'technician' },
      token: 't',
      desk: true,
      language: 'en',
    }
    const answers: Record<string, unknown> = {
      '/api/cupboard/find': found,
      '/api/session': session,
      '/api/trays': { trays: [] },
      '/api/customers/3': customer,
      '/api/cupboard/calls': {
        ...{ broken: 0, due: 2, has_place: false, place_is_late: false },
        round: { at: '2026-12-01T02:00:00.000Z', read: 4 },
        rounds: 30,
      },
    }
    const answer = answers[path] ?? one
    return new Response(JSON.stringify(answer), { headers: { 'Content-Type': 'application/json' } })
  })
})

async function show(component: Component, at: string) {
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [
      { path: '/cupboard/:backup', component: { template: '<i/>' } },
      { path: '/customers/:customer', component: { template: '<i/>' } },
      { path: '/:rest(.*)', component: { template: '<i/>' } },
    ],
  })
  await router.push(at)
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false, refetchInterval: false } } })
  const view = mount(component, {
    global: { plugins: [createVuetify(), router, [VueQueryPlugin, { queryClient: queries }]] },
  })
  await flushPromises()
  return { view, router }
}

describe('the cupboard', () => {
  it('takes a day as it is typed and everything else as it is', () => {
    expect(told(' Quay  12.11.2026 +44 ')).toBe('Quay 2026-11-12 +44')
    expect(told('31.2.2026')).toBe('31.2.2026')
    expect(told('')).toBe('')
  })
  it('counts the days that are left until the end of the last one', () => {
    const until = '2026-12-24T23:59:59.000Z'
    expect(daysLeft(until, Date.parse('2026-12-24T12:00:00.000Z'))).toBe(0)
    expect(daysLeft(until, Date.parse('2026-12-21T12:00:00.000Z'))).toBe(3)
    expect(daysLeft(until, Date.parse('2026-12-25T12:00:00.000Z'))).toBeLessThan(0)
  })
  it('finds by words, turns the order round and its pages, and is as it was for whoever comes back', async () => {
    const { view } = await show(CupboardView, '/cupboard')
    expect(bodies).toEqual([{ words: '', shown: 'kept', sorted_by: 'taken', descending: true, page: 1 }])
    expect(view.text()).toContain('1–50 of 120')
    await view.findAll('nav button')[1]?.trigger('click')
    await flushPromises()
    expect(bodies.at(-1)).toMatchObject({ page: 2 })
    const header = (name: string) => view.findAll('th button').find((b) => b.text().startsWith(name))
    await header('Customer')?.trigger('click')
    await flushPromises()
    expect(bodies.at(-1)).toMatchObject({ sorted_by: 'customer', descending: false, page: 1 })
    await header('Customer')?.trigger('click')
    await flushPromises()
    expect(bodies.at(-1)).toMatchObject({ sorted_by: 'customer', descending: true })
    expect(view.find('th[aria-sort=descending]').text()).toContain('Customer')
    await view.find('input').setValue('Quay 12.11.2026')
    await view.find('form').trigger('submit')
    await flushPromises()
    expect(bodies.at(-1)).toMatchObject({ words: 'Quay 2026-11-12', page: 1 })
    const due = view.findAll('.which button')[1]
    await due?.trigger('click')
    await flushPromises()
    expect(bodies.at(-1)).toMatchObject({ words: 'Quay 2026-11-12', shown: 'due' })
    expect(due?.attributes('aria-pressed')).toBe('true')
    const again = await show(CupboardView, '/cupboard')
    expect(again.view.find('input').element.value).toBe('Quay 12.11.2026')
    forgetAsked()
    expect(asked.words).toBe('')
  })
  it('says where else the words find something, and what goes soon', async () => {
    found = { ...found, backups: [], counts: { ...counts, kept: 0 } }
    asked.words = 'quay'
    const none = await show(CupboardView, '/cupboard')
    expect(none.view.text()).toContain('Found elsewhere: Going this week, Safety copies, Erased')
    vi.useFakeTimers({ now: Date.parse('2026-12-22T12:00:00.000Z'), toFake: ['Date'] })
    found = { ...found, backups: [{ ...row, is_due: true, is_whole: false }] }
    asked.words = ''
    const due = await show(CupboardView, '/cupboard')
    expect(due.view.text()).toContain('goes in 2 days')
    expect(due.view.text()).toContain('✕ not whole')
    vi.useRealTimers()
  })
  it('is not behind its end once it is shorter', async () => {
    found = { ...found, counts: { ...counts, kept: 40 } }
    asked.page = 3
    await show(CupboardView, '/cupboard')
    expect(bodies.at(-1)).toMatchObject({ page: 1 })
  })
  it('tells of a customer what was agreed to, how each tray ended and how each backup stands', async () => {
    const { view } = await show(CustomerView, '/customers/3')
    expect(view.text()).toContain('Ada Quay consents')
    expect(view.text()).toMatch(/Ended without a hand-over on .*All that was kept of it was erased on .* by orla/)
    expect(view.text()).toContain('✕ not whole')
    expect(view.findAll('a').map((a) => a.attributes('href'))).toEqual(['/cupboard', '/trays/7', '/cupboard/b1'])
  })
  it('says when a customer is forgotten of whom nothing is kept, and that one was', async () => {
    customer = { ...customer, forgets_at: '2027-05-25T09:00:00.000Z' }
    expect((await show(CustomerView, '/customers/3')).view.text()).toMatch(/the shop forgets who they are on 25/)
    customer = { ...customer, name: '—', contact: '', forgets_at: null, forgotten_at: '2027-05-25T09:00:00.000Z' }
    const { view } = await show(CustomerView, '/customers/3')
    expect(view.find('h1').text()).toBe('A customer who was forgotten')
    expect(view.text()).toMatch(/Forgotten on 25.* by the shop’s rule/)
  })
  it('leads from one backup to its chats, its trays and to a phone', async () => {
    const { view, router } = await show(FromCupboardView, '/cupboard/b1')
    const links = view.findAll('a').map((a) => a.attributes('href'))
    expect(links).toContain('/cupboard/b1/look')
    expect(view.text()).toContain('All of it arrived on 7-B')
    await view.find('.next').trigger('click')
    await flushPromises()
    await vi.waitFor(() => expect(router.currentRoute.value.path).toBe('/trays/new'))
    expect(JSON.parse(sessionStorage.getItem('geschenk.new-tray') ?? '')).toMatchObject({
      user: 'jette',
      errand: 'bring_kept',
      customer: 'Ada Quay',
      backups: [{ id: 'b1' }],
    })
    expect(view.findAll('.acts button').map((b) => b.text())).toEqual(
      expect.arrayContaining(['Read back', 'Erase this one…']),
    )
    one = { ...one, bring: { act: 'bring', why: 'Tray 7 still works with it.' }, look: null }
    const open = await show(FromCupboardView, '/cupboard/b2')
    expect(open.view.find('.next').attributes('disabled')).toBeDefined()
    expect(open.view.text()).toContain('Tray 7 still works with it.')
  })
})
