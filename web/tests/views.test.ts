import { flushPromises, mount } from '@vue/test-utils'
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { createMemoryHistory, createRouter } from 'vue-router'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { createVuetify } from 'vuetify'
import type { Component } from 'vue'
import type { Schemas } from '../api/client'
import ArrivalTable from '../components/ArrivalTable.vue'
import LossTable from '../components/LossTable.vue'
import PhoneCard from '../components/PhoneCard.vue'
import RunSheet from '../components/RunSheet.vue'
import WaitsBanner from '../components/WaitsBanner.vue'
import StageReady from '../stages/StageReady.vue'
import StageRestore from '../stages/StageRestore.vue'
import NewTrayView from '../views/NewTrayView.vue'

/** What the server would answer, by method and path. */
let answers: Record<string, unknown> = {}
let sent: { method: string; path: string; body: unknown }[] = []

beforeEach(() => {
  answers = {}
  sent = []
  vi.stubGlobal('fetch', async (request: Request) => {
    const path = new URL(request.url).pathname
    if (request.method !== 'GET')
      sent.push({ method: request.method, path, body: JSON.parse((await request.text()) || 'null') })
    const answer = answers[`${request.method} ${path}`]
    const isProblem = typeof answer === 'object' && answer !== null && 'status' in answer && 'detail' in answer
    return new Response(JSON.stringify(answer ?? {}), {
      status: isProblem ? Number(answer.status) : 200,
      headers: { 'Content-Type': 'application/json' },
    })
  })
  globalThis.ResizeObserver = class {
    observe() {}
    unobserve() {}
    disconnect() {}
  }
})

async function show(component: Component, props: Record<string, unknown> = {}) {
  const router = createRouter({
    history: createMemoryHistory('http://localhost/'),
    routes: [{ path: '/:rest(.*)', component: { template: '<i/>' } }],
  })
  const wrapper = mount(component, {
    props,
    global: {
      plugins: [
        createVuetify(),
        router,
        [
          VueQueryPlugin,
          { queryClient: new QueryClient({ defaultOptions: { queries: { retry: false, refetchInterval: false } } }) },
        ],
      ],
    },
  })
  await router.isReady()
  await flushPromises()
  return wrapper
}

const live = (change: Partial<Schemas['Live']> = {}): Schemas['Live'] => ({
  serial: 'S1',
  maker: 'Maker',
  model: 'Model',
  platform: 'ios',
  os_version: '18',
  plugged: true,
  open: true,
  unlocked: true,
  battery: 80,
  free_bytes: 9e9,
  messenger: { name: 'Otterpost', version: '7', number: '+447700900104' },
  ...change,
})
const totals = (change: Partial<Schemas['Totals']> = {}): Schemas['Totals'] => ({
  conversations: 2,
  messages: 10,
  arrived: 10,
  changed: 0,
  left_out: 0,
  missing: 0,
  extra: 0,
  settings_differing: 0,
  added: 0,
  added_missing: 0,
  account_differing: 0,
  conversations_extra: 0,
  complete: true,
  ...change,
})
const tray = (change: Partial<Schemas['Tray']> = {}): Schemas['Tray'] => ({
  number: 44,
  customer: 'Test Person',
  stage: 'restore',
  stage_place: 6,
  closed: false,
  changed_at: '2026-11-20T12:00:00.000Z',
  contact: 'café',
  opened_at: '2026-11-20T12:00:00.000Z',
  opened_by: 'jette',
  waits: {
    for: 'person',
    who: 'technician',
    tag: '44-B',
    text: 'The rehearsal tallies: confirm the restore',
    how: null,
    progress: null,
  },
  phones: [
    { tag: '44-A', role: 'gives', live: live({ serial: 'S0', platform: 'android' }) },
    { tag: '44-B', role: 'receives', live: live() },
  ],
  steps: [],
  run: null,
  backup: {
    id: 'b',
    taken_at: '2026-11-20T12:00:00.000Z',
    account: '+447700900104',
    conversations: 2,
    messages: 10,
    attachments: 3,
    attachments_absent: 1,
    lost: 0,
    attachment_bytes: 5_000_000,
    newest_at: null,
  },
  rehearsal: totals(),
  arrival: null,
  ...change,
})
const counts = (messages: number) => ({
  readable: true,
  why: null,
  counts: {
    number: '+447700900104',
    conversations: messages > 0 ? 2 : 0,
    messages,
    attachments: 0,
    attachment_bytes: 0,
    newest_at: messages > 0 ? '2026-11-20T12:00:00.000Z' : null,
  },
})

describe('the restore', () => {
  const losses = { losses: [], may_choose: true, attachments_absent: 0, totals: totals() }
  it('asks for the tag and sends what was typed', async () => {
    answers = {
      'GET /api/phones/S1/holdings': counts(0),
      'GET /api/trays/44/losses': losses,
      'POST /api/trays/44/runs': tray(),
    }
    const panel = await show(StageRestore, { tray: tray() })
    const button = () => panel.findAll('button').find((b) => b.text() === 'Restore onto 44-B')
    expect(button()?.attributes('disabled')).toBeDefined()
    await panel.find('input').setValue('44-A')
    expect(button()?.attributes('disabled')).toBeDefined()
    await panel.find('input').setValue(' 44-b ')
    expect(button()?.attributes('disabled')).toBeUndefined()
    await panel.find('form').trigger('submit')
    await flushPromises()
    expect(sent).toEqual([
      { method: 'POST', path: '/api/trays/44/runs', body: { kind: 'restore', confirmed_tag: ' 44-b ' } },
    ])
  })
  it('says in numbers what would be lost, and offers nothing', async () => {
    answers = { 'GET /api/phones/S1/holdings': counts(70), 'GET /api/trays/44/losses': losses }
    const panel = await show(StageRestore, { tray: tray() })
    expect(panel.text()).toContain('70 messages in 2 conversations')
    expect(panel.find('form').exists()).toBe(false)
  })
  it('shows why the phone can’t be read', async () => {
    answers = {
      'GET /api/phones/S1/holdings': { readable: false, why: 'Phone 44-B is not connected.', counts: null },
      'GET /api/trays/44/losses': losses,
    }
    expect((await show(StageRestore, { tray: tray() })).text()).toContain('Phone 44-B is not connected.')
  })
  it('shows the server’s refusal', async () => {
    answers = {
      'GET /api/phones/S1/holdings': counts(0),
      'GET /api/trays/44/losses': losses,
      'POST /api/trays/44/runs': {
        type: 'about:blank',
        title: 'No',
        status: 422,
        detail: 'Work on this tray is going on already.',
      },
    }
    const panel = await show(StageRestore, { tray: tray() })
    await panel.find('input').setValue('44-B')
    await panel.find('form').trigger('submit')
    await flushPromises()
    expect(panel.find('.trouble[role="alert"]').text()).toBe('Work on this tray is going on already.')
  })
})

describe('readiness', () => {
  const check = (id: string, status: Schemas['Check']['status'], how: string | null = null): Schemas['Check'] => ({
    id,
    status,
    what: id,
    how,
  })
  const phones = (status: Schemas['Check']['status']) => ({
    phones: [
      {
        tag: '44-B',
        role: 'receives',
        ready: status === 'ready',
        checks: [check('Screen unlocked', status, 'Unlock it.')],
      },
      { tag: '44-A', role: 'gives', ready: true, checks: [check('Registered as +447700900104', 'ready')] },
    ],
  })
  it('names what is to do, the giving phone first, and holds the backup back', async () => {
    answers = { 'GET /api/trays/44/readiness': phones('to_do') }
    const panel = await show(StageReady, { tray: tray({ stage: 'ready' }) })
    expect(panel.find('h2').text()).toBe('1 point to go')
    expect(panel.findAll('article').map((a) => a.attributes('aria-label'))).toEqual(['Phone 44-A', 'Phone 44-B'])
    expect(panel.text()).toContain('Unlock it.')
    expect(panel.text()).toContain('Registered as +44 7700 900 104')
    expect(panel.find('.next').attributes('disabled')).toBeDefined()
  })
  it('lets the backup go when all is ready', async () => {
    answers = { 'GET /api/trays/44/readiness': phones('ready'), 'POST /api/trays/44/runs': tray() }
    const panel = await show(StageReady, { tray: tray({ stage: 'ready' }) })
    await panel.find('.next').trigger('click')
    await flushPromises()
    expect(sent[0]?.body).toEqual({ kind: 'backup' })
  })
  it('asks for the key of a sealed backup and sends it', async () => {
    const sealed = { bytes: 340_000, made_at: '2026-11-20T02:00:00.000Z' }
    answers = {
      'GET /api/trays/44/readiness': phones('ready'),
      'GET /api/phones/S0/holdings': { readable: false, why: 'It is sealed.', sealed, counts: null },
      'POST /api/trays/44/runs': tray(),
    }
    const panel = await show(StageReady, { tray: tray({ stage: 'ready' }) })
    expect(panel.find('.next').attributes('disabled')).toBeDefined()
    const field = panel.find('input')
    expect(field.attributes('type')).toBe('password')
    await field.setValue('low tide ')
    expect(panel.text()).toContain('Taken as a password.')
    await panel.find('.next').trigger('click')
    await flushPromises()
    expect(sent[0]?.body).toEqual({ kind: 'backup', key: 'low tide ' })
  })
  it('counts what can’t be seen yet as open', async () => {
    answers = { 'GET /api/trays/44/readiness': phones('unseen') }
    expect(
      (await show(StageReady, { tray: tray({ stage: 'ready' }) })).find('.next').attributes('disabled'),
    ).toBeDefined()
  })
})

describe('what a tray waits for', () => {
  const run = (state: Schemas['Run']['state']): Schemas['Run'] => ({
    id: 'r1',
    kind: 'backup',
    state,
    trouble: 'Phone 44-A is not connected.',
    asked_at: '2026-11-20T12:00:00.000Z',
    asked_by: 'jette',
    finished_at: null,
    progress: {
      phase: 'pulling',
      items_done: 4,
      items_total: 10,
      bytes_done: 40,
      bytes_total: 100,
      bytes_per_second: 10,
      seconds_left: 6,
    },
  })
  it('is the machine, with phase, items, bytes, speed and time left', async () => {
    const waits = {
      for: 'machine' as const,
      who: null,
      tag: '44-A',
      text: 'Backing up 44-A',
      how: null,
      progress: run('working').progress,
    }
    const text = (
      await show(WaitsBanner, { tray: tray({ stage: 'back_up', waits, run: run('working') }), shown: 'back_up' })
    ).text()
    for (const part of ['Pulling files', '40 %', '4 of 10 items', '40 B of 100 B', '10 B a second', 'about 6 s left'])
      expect(text).toContain(part)
  })
  it('is a cable, and nothing has to be pressed', async () => {
    const waits = {
      for: 'person' as const,
      who: 'customer' as const,
      tag: '44-A',
      text: 'Backup interrupted',
      how: 'Phone 44-A is not connected. It goes on by itself.',
      progress: null,
    }
    const banner = await show(WaitsBanner, {
      tray: tray({ stage: 'back_up', waits, run: run('waiting') }),
      shown: 'back_up',
    })
    expect(banner.text()).toContain('It goes on by itself')
    expect(banner.findAll('button').map((b) => b.text())).toEqual(['Stop this run'])
  })
  it('is a person who decides to go on', async () => {
    answers = { 'POST /api/trays/44/runs/r1/go-on': tray() }
    const waits = {
      for: 'person' as const,
      who: 'technician' as const,
      tag: '44-A',
      text: 'Backup stopped',
      how: 'The database is damaged.',
      progress: null,
    }
    const banner = await show(WaitsBanner, {
      tray: tray({ stage: 'back_up', waits, run: run('failed') }),
      shown: 'back_up',
    })
    await banner.find('button').trigger('click')
    await flushPromises()
    expect(sent[0]?.path).toBe('/api/trays/44/runs/r1/go-on')
  })
  it('is not said twice on its own stage', async () => {
    expect((await show(WaitsBanner, { tray: tray(), shown: 'restore' })).find('section').exists()).toBe(false)
    expect((await show(WaitsBanner, { tray: tray(), shown: 'look' })).text()).toContain('confirm the restore')
  })
})

describe('a phone in the dock', () => {
  it('says what it holds, so that swapped roles are seen', async () => {
    answers = { 'GET /api/phones/S1/holdings': counts(20184) }
    const text = (await show(PhoneCard, { phone: { tag: '44-B', role: 'receives', live: live() } })).text()
    for (const part of ['44-B', 'receives', '20,184', '20 Nov 2026', '+44 7700 900 104']) expect(text).toContain(part)
  })
  it('says what it does not let us see', async () => {
    answers = { 'GET /api/phones/S1/holdings': { readable: false, why: 'x', counts: null } }
    const card = await show(PhoneCard, {
      phone: {
        tag: '44-B',
        role: 'receives',
        live: live({ plugged: false, open: false, unlocked: false, free_bytes: null, battery: null }),
      },
    })
    expect(card.findAll('.bad').map((li) => li.text())).toEqual([
      'not connected',
      'locked',
      'does not let this computer in',
    ])
    expect(card.text()).toContain('can’t be seen yet')
  })
})

describe('the run sheet', () => {
  it('has eight stages with who, when and how many', async () => {
    const steps = [
      { stage: 'back_up' as const, at: '2026-11-20T12:00:00.000Z', by: 'jette', text: '10 messages' },
      { stage: 'back_up' as const, at: '2026-11-20T12:30:00.000Z', by: 'orla', text: '12 messages' },
    ]
    const sheet = await show(RunSheet, { tray: tray({ steps }), shown: 'look' })
    expect(sheet.findAll('li')).toHaveLength(8)
    expect(sheet.find('li.now').text()).toContain('Restore')
    expect(sheet.findAll('li.done')).toHaveLength(5)
    expect(sheet.find('[aria-current]').text()).toContain('Look')
    expect(sheet.text().replace(/\s+/g, ' ')).toContain('12 messages 20 Nov 2026, 12:30, orla · 2 entries')
  })
})

describe('losses before the fact', () => {
  it('have a count and an example, and tell changed from left out', async () => {
    answers = {
      'GET /api/trays/44/losses': {
        may_choose: true,
        attachments_absent: 3,
        totals: totals({ messages: 10, arrived: 7, changed: 1, left_out: 2 }),
        losses: [
          {
            rule: 'broadcast_list',
            sentence: 'No lists.',
            outcome: 'left_out',
            choice: 'left_out',
            choices: [
              { key: 'left_out', words: 'Stays behind' },
              { key: 'as_conversations', words: 'To everybody' },
            ],
            messages: 2,
            conversations: 1,
            example: { conversation: 'Recipients', kind: null, sent_at: null },
          },
          {
            rule: 'wallpaper',
            sentence: 'No wallpaper.',
            outcome: 'changed',
            choice: 'changed',
            choices: [{ key: 'changed', words: 'Goes across changed' }],
            messages: 0,
            conversations: 1,
            example: { conversation: 'Crew', kind: 'voice', sent_at: '2024-03-01T10:00:00.000Z' },
          },
        ],
      },
    }
    const table = await show(LossTable, { tray: tray() })
    expect(
      table.findAll('tbody tr').map((row) => row.findAll('td').map((td) => td.text().replace(/\s+/g, ' '))),
    ).toEqual([
      ['left out No lists. Ask the customer Stays behind To everybodyFor instance “Recipients”.', '2', '1'],
      ['changed No wallpaper. For instance in “Crew”: voice note of 1 Mar 2024, 10:00.', '–', '1'],
    ])
    const choices = table.findAll('input[type=radio]')
    expect(choices.map((c) => (c.element as HTMLInputElement).checked)).toEqual([true, false])
    await choices[1]?.setValue(true)
    await flushPromises()
    expect(sent).toEqual([
      { method: 'PUT', path: '/api/trays/44/choices/broadcast_list', body: { choice: 'as_conversations' } },
    ])
    expect(table.text()).toContain('3 attachments had no file on the giving phone')
  })
})

describe('the table of the arrival check', () => {
  const row = (
    id: number,
    verdict: Schemas['Verdict'],
    change: Partial<Schemas['ArrivalRow']> = {},
  ): Schemas['ArrivalRow'] => ({
    id,
    title: `Room ${id}`,
    kind: 'group',
    verdict,
    arrived: 5,
    changed: 0,
    left_out: 0,
    missing: 0,
    extra: 0,
    added: 0,
    added_missing: 0,
    messages_expected: 5,
    messages_found: 5,
    attachments_expected: 2,
    attachments_found: 2,
    people_expected: 3,
    people_found: 3,
    first_expected: '2024-01-01T10:00:00.000Z',
    first_found: '2024-01-01T10:00:00.000Z',
    last_expected: '2024-02-01T10:00:00.000Z',
    last_found: '2024-02-01T10:00:00.000Z',
    settings: [],
    rules: [],
    months: [],
    ...change,
  })
  const rows = [
    row(1, 'missing', { missing: 2, messages_found: 3, attachments_found: 1, last_found: '2024-01-20T10:00:00.000Z' }),
    row(2, 'left_out', {
      left_out: 5,
      messages_found: 0,
      attachments_found: 0,
      people_found: 0,
      first_found: null,
      last_found: null,
    }),
    row(3, 'arrived'),
  ]
  const open = (picked: number | null) =>
    show(ArrivalTable, {
      number: 44,
      rows,
      losses: [
        {
          rule: 'broadcast_list',
          sentence: 'No lists.',
          outcome: 'left_out' as const,
          choice: 'left_out',
          choices: [{ key: 'left_out', words: 'Stays behind' }],
          messages: 5,
          conversations: 1,
          example: null,
        },
      ],
      picked,
    })
  it('shows both sides where they differ', async () => {
    const text = (await open(null)).findAll('tbody tr')[0]?.text().replace(/\s+/g, ' ')
    for (const part of ['missing 2', '3 of 5', '1 of 2', '20 Jan 2024', 'meant 1 Feb 2024'])
      expect(text).toContain(part)
  })
  it('does not call what stayed behind a difference', async () => {
    const left = (await open(null)).findAll('tbody tr')[1]
    expect(left?.find('.hole').exists()).toBe(false)
    expect(left?.text()).not.toContain('of')
  })
  it('filters by verdict and by title', async () => {
    const table = await open(null)
    await table
      .findAll('.filters button')
      .find((b) => b.text().startsWith('left out'))
      ?.trigger('click')
    expect(table.findAll('tr.pick').map((r) => r.find('.title').text())).toEqual(['Room 2'])
    await table.findAll('.filters button')[0]?.trigger('click')
    await table.find('input').setValue('room 3')
    expect(table.findAll('tr.pick').map((r) => r.find('.title').text())).toEqual(['Room 3'])
    await table.find('input').setValue('nothing like it')
    expect(table.text()).toContain('No conversation matches.')
  })
  it('opens to the single messages with the reason', async () => {
    answers = {
      'GET /api/trays/44/arrival/1': {
        findings: [
          {
            id: 1,
            account: 'missing',
            reason: 'attachment_not_there',
            place: 4,
            kind: 'photo',
            sent_at: '2024-01-30T10:00:00.000Z',
            sender: 'Ada',
            from_owner: false,
            aspects: ['attachments'],
            found: true,
            attachment: { media_type: 'image/jpeg', bytes: 1200 },
          },
          {
            id: 2,
            account: 'missing',
            reason: 'different',
            place: 5,
            kind: 'text',
            sent_at: '2024-01-31T10:00:00.000Z',
            sender: null,
            from_owner: true,
            aspects: ['text', 'sent_at'],
            found: true,
            attachment: null,
          },
        ],
      },
    }
    const table = await open(1)
    expect(table.findAll('.inner tbody tr').map((r) => r.findAll('td').map((td) => td.text()))).toEqual([
      ['30 Jan 2024, 10:00', 'Ada', 'photo, 1.2 kB', 'message there, file gone'],
      ['31 Jan 2024, 10:00', 'the owner', 'text', 'there, but different: text, sent at'],
    ])
  })
})

describe('a new tray', () => {
  it('warns when the data speaks against the direction', async () => {
    answers = {
      'GET /api/phones': {
        phones: [
          { live: live({ serial: 'OLD', model: 'Old' }), tray: null },
          { live: live({ serial: 'NEW', model: 'New' }), tray: null },
          { live: live({ serial: 'BUSY', model: 'Busy' }), tray: 41 },
        ],
      },
      'GET /api/phones/OLD/holdings': counts(900),
      'GET /api/phones/NEW/holdings': counts(0),
    }
    const view = await show(NewTrayView)
    await flushPromises()
    expect(view.findAll('article').map((a) => a.attributes('aria-label'))).toEqual(['Maker Old', 'Maker New'])
    expect(view.text()).toContain('Busy (41)')
    const press = (phone: number, role: string) =>
      view
        .findAll('article')
        [phone]?.findAll('button')
        .find((b) => b.text() === role)
        ?.trigger('click')
    await press(1, 'Gives')
    await press(0, 'Receives')
    expect(view.find('[role="status"]').text()).toContain('Are the roles swapped?')
    // Giving the other one swaps them.
    await press(0, 'Gives')
    expect(view.find('[role="status"]').exists()).toBe(false)
    expect(view.find('.chosen').text().replace(/\s+/g, ' ')).toBe('gives Old receives New')
  })
})
