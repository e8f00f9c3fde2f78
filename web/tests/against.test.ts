import { beforeEach, describe, expect, it, vi } from 'vitest'
import { flushPromises, mount } from '@vue/test-utils'
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { createMemoryHistory, createRouter } from 'vue-router'
import { createVuetify } from 'vuetify'
import type { Schemas } from '../api/client'
import { drawBetween, isQuiet, sumBetween } from '../lib/between'
import AgainstView from '../views/AgainstView.vue'

const of = (id: string, at: string) =>
  ({
    ...{ id, tray: 7, customer_id: 3, customer: 'Ada Quay', contact: 'café', language: 'en', app: 'otterpost' },
    ...{ edition: 'Otterpost', account: '+447700900104', taken_at: at, newest_at: at, conversations: 2 },
    ...{ messages: 12, attachment_bytes: 5, lost: 0, kept_until: null },
  }) as Schemas['KeptBackup']
const row = (title: string, told: Partial<Schemas['BetweenRow']>): Schemas['BetweenRow'] => ({
  ...{ title, kind: 'direct', same: 0, changed: 0, went: 0, came: 0, months: [], aspects: [], settings: [] },
  ...told,
})
let against: Schemas['Against']
let between: Schemas['Between'] | null
let asked: { path: string; body: unknown }[]

beforeEach(() => {
  asked = []
  against = {
    ...{ of: of('b2', '2026-11-20T12:00:00.000Z'), is_locked: false, run: null },
    earlier: [{ of: of('b1', '2026-10-20T12:00:00.000Z'), is_locked: false, made_at: null }],
  }
  between = null
  vi.stubGlobal('fetch', async (request: Request) => {
    const path = new URL(request.url).pathname
    if (request.method === 'POST') asked.push({ path, body: await request.json() })
    const answer = path.endsWith('/b1') ? between : against
    return new Response(JSON.stringify(answer ?? { title: 'no', detail: 'none' }), {
      status: answer === null ? 404 : 200,
      headers: { 'Content-Type': 'application/json' },
    })
  })
})

async function show() {
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [
      { path: '/cupboard/:backup/against', component: { template: '<i/>' } },
      { path: '/:rest(.*)', component: { template: '<i/>' } },
    ],
  })
  await router.push('/cupboard/b2/against')
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false, refetchInterval: false } } })
  const view = mount(AgainstView, {
    global: { plugins: [createVuetify(), router, [VueQueryPlugin, { queryClient: queries }]] },
  })
  await flushPromises()
  return view
}

describe('a backup against an earlier one', () => {
  it('has them held against each other by whoever asks', async () => {
    const view = await show()
    expect(view.text()).toContain('12 messages')
    await view.find('button.next').trigger('click')
    await flushPromises()
    expect(asked).toEqual([{ path: '/api/backups/b2/against', body: { earlier: 'b1' } }])
  })
  it('says that there is none, and that one is locked', async () => {
    Object.assign(against.earlier[0] ?? {}, { is_locked: true })
    const view = await show()
    expect(view.find('button.next').attributes('disabled')).toBeDefined()
    expect(view.text()).toContain('locked by its customer')
    against.earlier = []
    expect((await show()).text()).toContain('No earlier backup of this account is kept.')
  })
  it('tells what went first, what changed of it, and how many are the same', async () => {
    Object.assign(against.earlier[0] ?? {}, { made_at: '2026-11-21T12:00:00.000Z' })
    const months = [{ month: '2026-10', same: 3, changed: 2, went: 4, came: 1 }]
    between = {
      made_at: '2026-11-21T12:00:00.000Z',
      totals: { same: 1_003, changed: 2, went: 4, came: 1 },
      conversations: [
        row('Choir', { same: 3, changed: 2, went: 4, came: 1, months, aspects: { state: 2 }, settings: ['title'] }),
        row('Quiet', { same: 1_000, months: [{ month: '2026-09', same: 1_000, changed: 0, went: 0, came: 0 }] }),
      ],
    }
    const view = await show()
    expect(view.find('.sum').text()).toMatch(/1,003 the same.*2 changed.*4 went.*1 came/)
    expect(view.findAll('tbody tr')).toHaveLength(1)
    expect(view.find('tbody').text()).toContain('settings: title')
    expect(view.findAll('.strip svg title').at(-1)?.text()).toBe('Choir, by month: 4 went, 1 came, 2 changed')
    expect(view.text()).toContain('1 conversation is the same in both')
  })
  it('says when nothing happened, and when what came of it is gone', async () => {
    Object.assign(against.earlier[0] ?? {}, { made_at: '2026-11-21T12:00:00.000Z' })
    between = {
      made_at: '',
      totals: { same: 1, changed: 0, went: 0, came: 0 },
      conversations: [row('Quiet', { same: 1 })],
    }
    expect((await show()).text()).toContain('Nothing went, came or changed')
    between = null
    expect((await show()).text()).toContain('lies here no more')
  })
})

describe('its strips', () => {
  it('stand on the line what was there before, and hang below what came', () => {
    const paths = drawBetween(
      ['2026-09', '2026-10'],
      [{ month: '2026-10', same: 99, changed: 1, went: 0, came: 5 }],
      100,
    )
    expect(paths.same).toMatch(/^M10 /)
    expect(paths.changed).toMatch(/v4\.0/)
    expect(paths.went).toBe('')
    expect(paths.came).toMatch(/^M10 23h8v/)
    expect(drawBetween([], [], 1)).toEqual({ same: '', changed: '', went: '', came: '' })
  })
  it('add up by month, in the order of time', () => {
    const month = (name: string, same: number) => ({ month: name, same, changed: 0, went: 1, came: 0 })
    const sums = sumBetween([{ months: [month('2026-10', 1)] }, { months: [month('2026-09', 2), month('2026-10', 3)] }])
    expect(sums.map((m) => [m.month, m.same, m.went])).toEqual([
      ['2026-09', 2, 1],
      ['2026-10', 4, 2],
    ])
  })
  it('are quiet where nothing happened, settings among it', () => {
    expect(isQuiet(row('a', { same: 4 }))).toBe(true)
    expect(isQuiet(row('a', { settings: ['title'] }))).toBe(false)
    expect(isQuiet(row('a', { came: 1 }))).toBe(false)
  })
})
