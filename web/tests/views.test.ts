import AfterRestore from '../components/arrival/AfterRestore.vue'
import NumberCheck from '../components/phone/NumberCheck.vue'
import TopBar from '../components/frame/TopBar.vue'
import { flushPromises, mount } from '@vue/test-utils'
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { createMemoryHistory, createRouter } from 'vue-router'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { createVuetify } from 'vuetify'
import type { Component } from 'vue'
import type { Schemas } from '../api/client'
import AcrossChats from '../components/chats/AcrossChats.vue'
import ArrivalTable from '../components/arrival/ArrivalTable.vue'
import LossTable from '../components/chats/LossTable.vue'
import PhoneCard from '../components/phone/PhoneCard.vue'
import GuideSteps from '../components/phone/GuideSteps.vue'
import PhoneDock from '../components/phone/PhoneDock.vue'
import RunSheet from '../components/run/RunSheet.vue'
import WaitsBanner from '../components/run/WaitsBanner.vue'
import StageBackUp from '../stages/StageBackUp.vue'
import StageCheck from '../stages/StageCheck.vue'
import StageHandOver from '../stages/StageHandOver.vue'
import KeepingChats from '../components/backup/KeepingChats.vue'
import KeptList from '../components/backup/KeptList.vue'
import StageIntake from '../stages/StageIntake.vue'
import UndoTold from '../components/backup/UndoTold.vue'
import WaysIn from '../components/backup/WaysIn.vue'
import StageReady from '../stages/StageReady.vue'
import StageRestore from '../stages/StageRestore.vue'
import NewTrayView from '../views/NewTrayView.vue'
import ShelfView from '../views/ShelfView.vue'
import WallView from '../views/WallView.vue'

/** What the server would answer, by method and path. */
let answers: Record<string, unknown> = {}
let sent: { method: string; path: string; body: unknown }[] = []

beforeEach(() => {
  sessionStorage.clear()
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
})

/** What a new tray was opened with; who has been here before is asked for by the clock, beside it. */
const opening = (): unknown => sent.find((one) => one.path === '/api/trays')?.body

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

const cable: Schemas['Offer'] = {
  id: 'cable',
  way: 'cable',
  made_at: null,
  bytes: 4_000,
  lock: 'open',
  attachments: null,
  attachment_bytes: null,
  videos: null,
  why: null,
  counts: null,
}
/** An account on a phone that holds so many messages; null while nobody has looked. */
const account = (messages: number | null, change: Partial<Schemas['Holds']> = {}): Schemas['Account'] => ({
  app: 'otterpost',
  edition: 'Otterpost',
  version: '7',
  number: '+447700900104',
  known: true,
  signed_out: false,
  sign_up: null,
  holds: {
    looking: messages === null,
    why: null,
    bytes: null,
    offers: [cable],
    could_be_made: ['local_backup'],
    counts:
      messages === null
        ? null
        : {
            number: '+447700900104',
            conversations: messages > 0 ? 2 : 0,
            messages,
            attachments: 0,
            attachment_bytes: 0,
            newest_at: messages > 0 ? '2026-11-20T12:00:00.000Z' : null,
            lost: 0,
            loss_uncounted: false,
          },
    ...change,
  },
})
const localBackup = (change: Partial<Schemas['Offer']> = {}): Schemas['Offer'] => ({
  id: 'local_backup/spares/one/pouch.sealed',
  way: 'local_backup',
  made_at: '2026-11-20T02:00:00.000Z',
  bytes: 340_000,
  lock: 'digits',
  attachments: 3,
  attachment_bytes: 5_000,
  videos: 1,
  why: null,
  counts: null,
  ...change,
})
const live = (change: Partial<Schemas['Live']> = {}): Schemas['Live'] => ({
  serial: 'S1',
  maker: 'Maker',
  model: 'Model',
  platform: 'ios',
  os_version: '18',
  plugged: true,
  open: true,
  unlocked: true,
  debugging: null,
  admitted: true,
  managed: false,
  charging: true,
  battery: 80,
  free_bytes: 9e9,
  on_bench: true,
  seen_at: '2026-11-20T12:00:00.000Z',
  fresh: true,
  accounts: [account(0)],
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
  kept: 0,
  kept_missing: 0,
  account_differing: 0,
  conversations_extra: 0,
  complete: true,
  ...change,
})
const waiting: Schemas['Waits'] = {
  for: 'person',
  since: null,
  who: 'technician',
  tag: '44-B',
  move: 1,
  text: 'The dry run adds up: confirm the restore',
  how: null,
  progress: null,
}
/** Whose turn it is where no run stands in the way, as the server says it. */
const TURNS: Partial<Record<Schemas['Stage'], string[]>> = {
  back_up: ['backup'],
  choose: ['backup', 'conversion'],
  convert: ['backup', 'conversion'],
  restore: ['backup', 'conversion', 'restore'],
  check: ['check', 'put_back'],
  hand_over: ['check', 'put_back'],
}
const turns = (acts: string[]): Schemas['Move']['may'] => acts.map((act) => ({ act, why: null }))
const move = (change: Partial<Schemas['Move']> = {}): Schemas['Move'] => ({
  may: turns(
    change.run && !['done', 'cancelled'].includes(change.run.state) ? [] : (TURNS[change.stage ?? 'restore'] ?? []),
  ),
  lacking_for: [],
  told: [],
  place: 1,
  app: 'otterpost',
  edition: 'Otterpost',
  left_out: false,
  number: '+447700900104',
  stage: 'restore',
  stage_place: 6,
  waits: waiting,
  lacking: null,
  after_restore: [],
  run: null,
  backup: {
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
    attachments: 3,
    attachments_absent: 1,
    lost: 0,
    attachment_bytes: 5_000_000,
    newest_at: null,
  },
  rehearsal: totals(),
  left_out_on_purpose: null,
  merges: false,
  eyes: 0,
  completes: false,
  bringings: [],
  trial: false,
  merge: null,
  brings: { messages: 1552, bytes: 4_600_000 },
  restored_at: null,
  put_back_at: null,
  safety_copy: null,
  arrival: null,
  checks: [],
  ...change,
})
const tray = (
  change: Partial<Schemas['Tray']> = {},
  receives: Partial<Schemas['Live']> = {},
  gives: Partial<Schemas['Live']> = {},
): Schemas['Tray'] => ({
  number: 44,
  withdrawn: false,
  may: [
    { act: 'hand_over', why: null },
    { act: 'turn', why: null },
  ],
  labels: [
    { tag: '44-A', code: '7K0F' },
    { tag: '44-B', code: 'X1Q2' },
  ],
  open: [],
  customer: 'Test Person',
  stage: 'restore',
  stage_place: 6,
  closed: false,
  changed_at: '2026-11-20T12:00:00.000Z',
  errand: 'move',
  contact: 'café',
  direction: null,
  proposal: null,
  switched: [],
  keeping: null,
  language: 'en',
  opened_at: '2026-11-20T12:00:00.000Z',
  opened_by: 'jette',
  waits: waiting,
  phones: [
    { tag: '44-A', role: 'gives', look_alike: null, live: live({ serial: 'S0', platform: 'android', ...gives }) },
    { tag: '44-B', role: 'receives', look_alike: null, live: live(receives) },
  ],
  accounts: [],
  steps: [],
  moves: [move()],
  ...change,
})

describe('looking through all conversations', () => {
  const across = '/api/backups/b1/across'
  const lease = 'ab'.repeat(16)
  const ended = `/api/uncoverings/${lease}`
  const props = (change = {}) => ({
    at: { number: 44, place: 1 },
    backup: 'b1',
    what: 'links',
    closed: false,
    ...change,
  })
  const uncovers = async () => {
    answers = {
      [`GET ${across}/kinds/links`]: { covered: false, total: 0, behind: null, messages: [] },
      [`GET ${across.replace('/b1/', '/b2/')}/kinds/links`]: { covered: true, total: 0, behind: null, messages: [] },
      [`PUT ${across}/uncovered`]: { covered: false, lease },
      [`DELETE ${ended}`]: { covered: true },
      [`POST ${across}/words`]: { behind: null, messages: [] },
    }
    const shown = await show(AcrossChats, props())
    await shown.find('button').trigger('click')
    await flushPromises()
    expect(shown.find('button').text()).toBe('Cover again')
    return shown
  }
  const asked = () => sent.map((one) => `${one.method} ${one.path}`)
  it('stays uncovered while the tray is looked at anew, and is covered when it is left', async () => {
    const shown = await uncovers()
    await shown.setProps(props({ at: { number: 44, place: 1 } }))
    expect(shown.find('button').text()).toBe('Cover again')
    shown.unmount()
    await flushPromises()
    expect(asked()).toEqual([`PUT ${across}/uncovered`, `DELETE ${ended}`])
  })
  it('is covered again when one leaves before it is uncovered', async () => {
    answers = {
      [`GET ${across}/kinds/links`]: { covered: true, total: 0, behind: null, messages: [] },
      [`PUT ${across}/uncovered`]: { covered: false, lease },
      [`DELETE ${ended}`]: { covered: true },
    }
    const shown = await show(AcrossChats, props())
    await shown.find('button').trigger('click')
    shown.unmount()
    await flushPromises()
    await flushPromises()
    expect(asked()).toEqual([`PUT ${across}/uncovered`, `DELETE ${ended}`])
  })
  it('is covered when another account is looked at', async () => {
    const shown = await uncovers()
    await shown.setProps(props({ at: { number: 44, place: 2 }, backup: 'b2' }))
    await flushPromises()
    expect(shown.find('button').text()).toBe('Uncover all')
    expect(asked().at(-1)).toBe(`DELETE ${ended}`)
  })
  it('says which words stand nowhere', async () => {
    const shown = await uncovers()
    await shown.setProps(props({ what: 'texts' }))
    await shown.find('input').setValue('  low tide ')
    await shown.find('form').trigger('submit')
    await flushPromises()
    expect(sent.at(-1)?.body).toEqual({ words: 'low tide' })
    expect(shown.text()).toContain('“low tide” stands in no text.')
  })
  it('offers no uncovering behind the hand-over', async () => {
    answers = { [`GET ${across}/kinds/links`]: { covered: true, total: 0, behind: null, messages: [] } }
    const shown = await show(AcrossChats, props({ closed: true }))
    expect(shown.find('button').exists()).toBe(false)
    expect(shown.text()).toContain('There is none in this backup.')
  })
})

describe('the restore', () => {
  const losses = { losses: [], may_choose: true, attachments_absent: 0, totals: totals() }
  it('asks for the tag and sends what was typed, once', async () => {
    answers = { 'GET /api/trays/44/moves/1/losses': losses, 'POST /api/trays/44/moves/1/runs': tray() }
    const panel = await show(StageRestore, { tray: tray(), move: move() })
    const button = () => panel.findAll('button').find((b) => b.text() === 'Restore onto 44-B')
    expect(button()?.attributes('disabled')).toBeDefined()
    await panel.find('input').setValue('44-A')
    expect(button()?.attributes('disabled')).toBeDefined()
    expect(panel.find('p[role="alert"]').text()).toBe(
      '44-A is the phone that gives. Type the tag of the phone that receives: 44-B.',
    )
    await panel.find('input').setValue(' 44-b ')
    expect(button()?.attributes('disabled')).toBeUndefined()
    void panel.find('form').trigger('submit')
    await panel.find('form').trigger('submit')
    await flushPromises()
    expect(sent).toEqual([
      { method: 'POST', path: '/api/trays/44/moves/1/runs', body: { kind: 'restore', confirmed_tag: ' 44-b ' } },
    ])
  })
  it('says in numbers what would be lost, and sends that it was seen', async () => {
    answers = { 'GET /api/trays/44/moves/1/losses': losses, 'POST /api/trays/44/moves/1/runs': tray() }
    const panel = await show(StageRestore, { tray: tray({}, { accounts: [account(70)] }), move: move() })
    expect(panel.text()).toContain('70 messages in 2 conversations')
    expect(panel.text()).toContain('kept here and read back')
    expect(panel.find('.next').text()).toBe('Replace them on 44-B')
    expect(panel.find('.next').attributes('disabled')).toBeDefined()
    await panel.find('input').setValue('44-B')
    await panel.find('form').trigger('submit')
    await flushPromises()
    expect(sent[0]?.body).toEqual({ kind: 'restore', confirmed_tag: '44-B', replaces: 70 })
  })
  it('asks for no tag before what is lacking on the phone is done', async () => {
    answers = { 'GET /api/trays/44/moves/1/losses': losses }
    const lacking: Schemas['Point'] = {
      id: 'theft_lock',
      app: null,
      status: 'to_do',
      who: 'owner',
      severity: 'blocks',
      told: false,
      what: 'Theft lock off',
      how: 'Switch it off.',
      guide: null,
    }
    const panel = await show(StageRestore, { tray: tray(), move: move({ lacking }) })
    expect(panel.find('.do').text()).toContain('Switch it off.')
    expect(panel.find('.do').text()).toContain('On 44-B')
    expect(panel.find('form').exists()).toBe(false)
  })
  it('shows why the phone can’t be read', async () => {
    answers = { 'GET /api/trays/44/moves/1/losses': losses }
    const accounts = [account(null, { looking: false, why: 'It is damaged.' })]
    const panel = await show(StageRestore, { tray: tray({}, { accounts }), move: move() })
    expect(panel.text()).toContain('It is damaged.')
    expect(panel.find('form').exists()).toBe(false)
  })
  it('shows the server’s refusal', async () => {
    answers = {
      'GET /api/trays/44/moves/1/losses': losses,
      'POST /api/trays/44/moves/1/runs': {
        type: 'about:blank',
        title: 'No',
        status: 422,
        detail: 'Work on this tray is going on already.',
      },
    }
    const panel = await show(StageRestore, { tray: tray(), move: move() })
    await panel.find('input').setValue('44-B')
    await panel.find('form').trigger('submit')
    await flushPromises()
    expect(panel.find('.trouble[role="alert"]').text()).toBe('Work on this tray is going on already.')
  })
})

describe('readiness', () => {
  const point = (id: string, status: Schemas['Point']['status'], how: string | null = null): Schemas['Point'] => ({
    id,
    app: null,
    status,
    who: 'owner',
    severity: 'blocks',
    told: false,
    what: id,
    how,
    guide: null,
  })
  const screen = (status: Schemas['Point']['status']) =>
    point('Screen unlocked', status, status === 'to_do' ? 'Unlock it.' : null)
  const phones = (gives: Schemas['Point']['status'], receives: Schemas['Point']['status'] = 'ready') => ({
    phones: [
      { tag: '44-A', role: 'gives', points: [point('Registered as +44 7700 900104', 'ready'), screen(gives)] },
      { tag: '44-B', role: 'receives', points: [screen(receives)] },
    ],
  })
  const begin = (gives: Partial<Schemas['Live']> = {}) =>
    tray(
      {
        stage: 'ready',
        moves: [move({ stage: 'back_up', backup: null, rehearsal: null })],
      },
      {},
      gives,
    )
  it('names what is to do, large what is next, and holds the backup back', async () => {
    answers = { 'GET /api/trays/44/readiness': phones('to_do') }
    const panel = await show(StageReady, { tray: begin() })
    expect(panel.find('h2').text()).toBe('1 thing still to do')
    expect(panel.find('.do').text().replace(/\s+/g, ' ')).toBe('On 44-A · the owner, on the phoneUnlock it.')
    expect(panel.findAll('article').map((a) => a.attributes('aria-label'))).toEqual(['Phone 44-A', 'Phone 44-B'])
    expect(panel.find('.next').attributes('disabled')).toBeDefined()
  })
  it('backs up what gives while the other phone is still set up', async () => {
    answers = { 'GET /api/trays/44/readiness': phones('ready', 'to_do') }
    const panel = await show(StageReady, { tray: begin() })
    expect(panel.find('.do').text()).toContain('On 44-B')
    expect(panel.find('.next').attributes('disabled')).toBeUndefined()
  })
  it('shows the way a step at a time, and begins anew with another point', async () => {
    const steps = (...says: string[]): Schemas['GuideStep'][] =>
      says.map((say) => ({ say, picture: { screen: 'list', row: 2 } }))
    const guided = (id: string, guide: Schemas['GuideStep'][]) => {
      const told = phones('ready')
      told.phones[1]?.points.push({ ...point(id, 'to_do', 'Do it.'), guide })
      return told
    }
    answers = { 'GET /api/trays/44/readiness': guided('Theft lock', steps('Open this.', 'Switch that.')) }
    const panel = await show(StageReady, { tray: begin() })
    const guide = () => panel.find('[role="group"]').text().replace(/\s+/g, ' ')
    expect(guide()).toContain('Step 1 of 2Open this.')
    await panel.findAll('.guide button')[1]?.trigger('click')
    expect(guide()).toContain('Step 2 of 2Switch that.')
    expect(guide()).toContain('seen by itself')
    const other = await show(GuideSteps, { steps: steps('A', 'B'), about: 'one' })
    await other.findAll('button')[1]?.trigger('click')
    await other.setProps({ steps: steps('C', 'D'), about: 'two' })
    expect(other.text()).toContain('C')
  })
  it('advises what is no hindrance, and lets the backup go', async () => {
    const ready = phones('ready')
    ready.phones[1]?.points.push({
      ...point('Screen locks itself too soon', 'to_do', 'Set it longer.'),
      severity: 'warns',
    })
    answers = { 'GET /api/trays/44/readiness': ready }
    const panel = await show(StageReady, { tray: begin() })
    expect(panel.find('h2').text()).toBe('Both phones are ready')
    expect(panel.find('.top').text()).toContain('One point is better done too')
    expect(panel.find('.do').text()).toContain('no hindrance, but better')
    expect(panel.find('.to_do.warns .tickbox').text()).toBe('~')
    expect(panel.find('.next').attributes('disabled')).toBeUndefined()
  })
  it('lets the backup go when all is ready', async () => {
    answers = { 'GET /api/trays/44/readiness': phones('ready'), 'POST /api/trays/44/backups': tray() }
    const panel = await show(StageReady, { tray: begin() })
    await panel.find('.next').trigger('click')
    await flushPromises()
    expect(sent.map((s) => [s.path, s.body])).toEqual([
      ['/api/trays/44/backups', { accounts: [{ place: 1, after: 'none', offer: 'cable' }] }],
    ])
  })
  it('has every account backed up at once', async () => {
    answers = {
      'GET /api/trays/44/readiness': phones('ready'),
      'POST /api/trays/44/backups': tray(),
    }
    const one = move({ stage: 'back_up', backup: null, rehearsal: null })
    const moves = [one, { ...one, place: 2, app: 'otterpost.counter', edition: 'Otterpost Counter' }]
    const panel = await show(StageReady, { tray: tray({ stage: 'ready', moves }) })
    expect(panel.find('.next').text()).toBe('Back up 2 accounts of 44-A')
    await panel.find('.next').trigger('click')
    await flushPromises()
    expect(sent.map((s) => [s.path, s.body])).toEqual([
      [
        '/api/trays/44/backups',
        {
          accounts: [
            { place: 1, after: 'none', offer: 'cable' },
            { place: 2, after: 'none' },
          ],
        },
      ],
    ])
  })
  it('asks for the key of a locked backup and sends it', async () => {
    answers = { 'GET /api/trays/44/readiness': phones('ready'), 'POST /api/trays/44/backups': tray() }
    const panel = await show(StageReady, {
      tray: begin({
        accounts: [account(null, { offers: [localBackup({ lock: 'password' })] })],
      }),
    })
    expect(panel.find('.next').attributes('disabled')).toBeDefined()
    expect(panel.find('.why').text()).toBe('First type what the backup is locked with.')
    const field = panel.find('input')
    expect(field.attributes('type')).toBe('password')
    await field.setValue('low tide ')
    expect(panel.find('.why').exists()).toBe(false)
    expect(panel.text()).toContain('Taken as a password.')
    await panel.find('.next').trigger('click')
    await flushPromises()
    expect(sent[0]?.body).toEqual({
      accounts: [{ place: 1, after: 'none', offer: 'local_backup/spares/one/pouch.sealed', key: 'low tide ' }],
    })
  })
  it('lets one choose among the ways in, each with its age, its size and what it holds', async () => {
    answers = { 'GET /api/trays/44/readiness': phones('ready'), 'POST /api/trays/44/backups': tray() }
    const open = localBackup({
      id: 'local_backup/spares/two/pouch.gz',
      lock: 'open',
      videos: 0,
      counts: { conversations: 2, messages: 8, newest_at: '2026-11-18T11:00:00.000Z' },
    })
    const offers = [cable, localBackup({ made_at: '2026-11-20T11:30:00.000Z' }), open]
    const panel = await show(StageReady, { tray: begin({ accounts: [account(10, { offers, bytes: 9_000 })] }) })
    const rows = panel.findAll('.way').map((row) => row.text().replace(/\s+/g, ' '))
    expect(rows[0]).toContain('Over the cable, as the chats are now')
    expect(rows[0]).toContain('10 messages, newest 20 Nov 2026, 12:00')
    expect(rows[1]).toContain('made 30 min before the newest message on the phone')
    expect(rows[1]).toContain('locked with 64 digits')
    expect(rows[2]).toContain('8 messages, newest 18 Nov 2026, 11:00')
    expect(rows[2]).toContain('ends 2 days before the newest message on the phone')
    expect(rows[2]).toContain('no videos in it')
    expect(panel.findAll('input[type=password]')).toHaveLength(0)
    await panel.findAll('input[type=radio]')[1]?.setValue()
    // Digits are counted before anything is copied.
    for (const digits of ['', 'a', 'a'.repeat(61), 'g'.repeat(64)]) {
      await panel.find('input[type=password]').setValue(digits)
      expect(panel.find('.next').attributes('disabled')).toBeDefined()
      expect(panel.find('.why').text()).not.toBe('')
    }
    await panel.find('input[type=password]').setValue('a1b2 '.repeat(16))
    expect(panel.find('.next').attributes('disabled')).toBeUndefined()
    await panel.findAll('input[type=radio]')[2]?.setValue()
    await panel.find('.next').trigger('click')
    await flushPromises()
    expect(sent[0]?.body).toEqual({
      accounts: [{ place: 1, after: 'none', offer: 'local_backup/spares/two/pouch.gz' }],
    })
  })
  it('says what an offer that is chosen needs on the phone first, and keeps the others open', async () => {
    answers = { 'GET /api/trays/44/readiness': phones('ready'), 'POST /api/trays/44/backups': tray() }
    const lent = localBackup({ id: 'lent/box', lock: 'open' })
    const point = {
      id: 'lent_version',
      app: 'otterpost',
      status: 'to_do',
      who: 'technician',
      severity: 'blocks',
      told: false,
      what: 'The older version lies on the phone',
      how: 'Put the older version beside the present one.',
      guide: null,
    } as const
    const shown = begin({ accounts: [account(10, { offers: [cable, lent], bytes: 9_000 })] })
    shown.moves.forEach((one) => (one.lacking_for = [{ offer: 'lent/box', points: [point] }]))
    const panel = await show(StageReady, { tray: shown })
    expect(panel.find('.next').attributes('disabled')).toBeUndefined()
    expect(panel.text()).not.toContain(point.how)
    await panel.findAll('input[type=radio]')[1]?.setValue()
    expect(panel.text()).toContain(point.how)
    expect(panel.find('.next').attributes('disabled')).toBeDefined()
    expect(panel.find('.why').text()).toContain('44-A')
    await panel.findAll('input[type=radio]')[0]?.setValue()
    expect(panel.find('.next').attributes('disabled')).toBeUndefined()
  })
  it('is told to be done where no phone shows it, taken back, and told to be undone before the hand-over', async () => {
    const tell = '/api/trays/44/moves/1/told/lent_confirmed'
    answers = { 'GET /api/trays/44/readiness': phones('ready') }
    for (const act of ['done', 'taken-back', 'undone']) answers[`POST ${tell}/${act}`] = tray()
    const point: Schemas['Point'] = {
      id: 'lent_confirmed',
      app: 'otterpost',
      status: 'to_do',
      who: 'owner',
      severity: 'blocks',
      told: true,
      what: 'The owner has confirmed the backup',
      how: 'Have its owner confirm the backup.',
      guide: null,
    }
    const told = { step: point.id, what: point.what, at: '2026-11-20T12:00:00.000Z', by: 'jette', undo: 'Remove it.' }
    const shown = begin({
      accounts: [account(10, { offers: [localBackup({ id: 'lent/box', lock: 'open' })], bytes: 9 })],
    })
    const at = shown.moves[0] ?? move()
    at.lacking_for = [{ offer: 'lent/box', points: [point] }]
    const ways = await show(WaysIn, { tray: shown, move: at, modelValue: null })
    expect(ways.text()).toContain('Have its owner confirm the backup.')
    await ways.find('button').trigger('click')
    await ways.setProps({ move: { ...at, lacking_for: [], told: [told] } })
    expect(ways.text()).toContain('The owner has confirmed the backup: told by jette')
    await ways.find('button').trigger('click')
    const left = await show(UndoTold, { tray: shown, move: { ...at, told: [told] } })
    expect(left.text()).toContain('Remove it.')
    await left.find('button').trigger('click')
    await flushPromises()
    expect(sent.filter((s) => s.path.startsWith(tell)).map((s) => s.path.split('/').at(-1))).toEqual([
      'done',
      'taken-back',
      'undone',
    ])
    await left.setProps({ move: { ...at, told: [{ ...told, undo: null }] } })
    expect(left.find('li').exists()).toBe(false)
  })
  it('counts what can’t be seen yet as open', async () => {
    answers = { 'GET /api/trays/44/readiness': phones('unseen') }
    expect((await show(StageReady, { tray: begin() })).find('.next').attributes('disabled')).toBeDefined()
  })
  it('never says that nothing is to do when nobody could be asked', async () => {
    answers = { 'GET /api/trays/44/readiness': { title: 'No', status: 500, detail: 'It is in the log.' } }
    const panel = await show(StageReady, { tray: begin() })
    expect(panel.find('h2').exists()).toBe(false)
    expect(panel.find('[role="alert"]').text()).toContain('It is in the log.')
  })
})

const run = (state: Schemas['Run']['state']): Schemas['Run'] => ({
  id: 'r1',
  kind: 'backup',
  tag: '44-A',
  state,
  trouble: 'Phone 44-A is not connected.',
  may: (['queued', 'working', 'waiting'].includes(state)
    ? ['pause', 'cancel']
    : ['failed', 'paused'].includes(state)
      ? ['go_on', 'cancel']
      : []) satisfies Schemas['Run']['may'],
  asked_at: '2026-11-20T12:00:00.000Z',
  asked_by: 'jette',
  finished_at: null,
  offer: null,
  progress: {
    phase: 'pulling',
    items_done: 4,
    items_total: 10,
    bytes_done: 40,
    bytes_total: 100,
    bytes_per_second: 10,
    seconds_left: 6,
    job_seconds_left: 90,
  },
})

describe('what an account waits for', () => {
  const banner = (change: Partial<Schemas['Move']>, isHere = true) => {
    const shown = move({ stage: 'back_up', ...change })
    return show(WaitsBanner, { tray: tray({ stage: 'back_up', moves: [shown] }), move: shown, isHere })
  }
  it('is the machine, with phase, items, bytes, speed and time left', async () => {
    const waits = { ...waiting, for: 'machine' as const, text: 'Backing up', progress: run('working').progress }
    const text = (await banner({ waits, run: run('working') })).text()
    const parts = ['Copying from the phone', '40%', '4 of 10', '40 B of 100 B', '10 B a second', 'About 2 min']
    for (const part of parts) expect(text).toContain(part)
    expect(text).toMatch(/About .*, then you are needed/)
    expect(text).not.toContain('left in this phase')
    const unknown = { ...run('working'), progress: { ...run('working').progress, job_seconds_left: null } }
    const unmeasured = await banner({ waits: { ...waits, progress: unknown.progress }, run: unknown })
    expect(unmeasured.text()).toContain('not known yet')
    expect(unmeasured.text()).toContain('about 6 s left')
  })
  it('is who has to plug the phone in, also behind the hand-over', async () => {
    const text = 'Otterpost: putting back interrupted'
    const waits = { ...waiting, for: 'person' as const, tag: '44-B', text, how: 'Plug its cable in.' }
    const put = move({ waits, run: { ...run('waiting'), kind: 'put_back' } })
    const closed = tray({ stage: 'hand_over', closed: true, waits, moves: [put] })
    const view = await show(WaitsBanner, { tray: closed, isHere: true })
    for (const part of [text, 'Plug its cable in.', '44-B']) expect(view.text()).toContain(part)
    expect(view.findAll('button').map((b) => b.text())).toEqual(['Pause', 'Cancel…'])
    const over = tray({ ...closed, moves: [move({ run: run('done') })] })
    expect((await show(WaitsBanner, { tray: over, isHere: true })).find('section').exists()).toBe(false)
  })
  it('is one who has it rest, and can end it', async () => {
    answers = {
      'POST /api/trays/44/moves/1/runs/r1/pause': tray(),
      'POST /api/trays/44/moves/1/runs/r1/cancel': tray(),
    }
    const view = await banner({ waits: { ...waiting, for: 'machine' }, run: run('working') })
    await view.findAll('button')[0]?.trigger('click')
    await flushPromises()
    expect(sent.map((one) => one.path)).toEqual(['/api/trays/44/moves/1/runs/r1/pause'])
    const paused = await banner({ waits: { ...waiting, text: 'Backup paused' }, run: run('paused') })
    expect(paused.findAll('button').map((b) => b.text())).toEqual(['Continue', 'Cancel…'])
    await paused.findAll('button')[1]?.trigger('click')
    await flushPromises()
    // Asked first: what is lost by it is said.
    expect(sent).toHaveLength(1)
    expect(document.body.textContent).toContain('Phone 44-A stays as it is')
    const sure = [...document.body.querySelectorAll('button')].find((b) => b.textContent?.includes('Cancel the backup'))
    sure?.click()
    await flushPromises()
    expect(sent.at(-1)?.path).toBe('/api/trays/44/moves/1/runs/r1/cancel')
  })
  it('is told what a cancelled one has left', async () => {
    const view = await banner({ run: { ...run('cancelled'), trouble: 'Nothing is left of it.' } })
    expect(view.text()).toContain('Nothing is left of it.')
  })
  it('is a cable, and nothing has to be pressed', async () => {
    const waits = { ...waiting, who: 'customer' as const, text: 'Interrupted', how: 'Phone 44-A is not connected.' }
    const view = await banner({ waits, run: run('waiting') })
    expect(view.text()).toContain('It goes on by itself')
    expect(view.findAll('button').map((b) => b.text())).toEqual(['Pause', 'Cancel…'])
  })
  it('is a person who decides to continue', async () => {
    answers = { 'POST /api/trays/44/moves/1/runs/r1/go-on': tray() }
    const view = await banner({ waits: { ...waiting, text: 'Stopped', how: 'It is damaged.' }, run: run('failed') })
    await view.find('button').trigger('click')
    await flushPromises()
    expect(sent[0]?.path).toBe('/api/trays/44/moves/1/runs/r1/go-on')
  })
  it('is one that what was agreed to is no more so: it is asked for anew, and not gone on with', async () => {
    const refused = { ...run('failed'), kind: 'restore' as const, may: ['cancel' as const] }
    const waits = { ...waiting, text: 'Restore stopped', how: 'Nobody has agreed.' }
    const view = await banner({ stage: 'restore', waits, run: refused })
    expect(view.text()).toContain('Nobody has agreed.')
    expect(view.findAll('button').map((b) => b.text())).toEqual(['Cancel…'])
  })
  it('is not said twice on its own stage', async () => {
    expect((await banner({})).find('section').exists()).toBe(false)
    expect((await banner({}, false)).text()).toContain('confirm the restore')
  })
})

describe('a phone in the dock', () => {
  it('says what each account holds, so that swapped roles are seen', async () => {
    const accounts = [
      account(20184),
      { ...account(3), app: 'otterpost.counter', edition: 'Otterpost Counter', number: '+447700900358' },
    ]
    const text = (await show(PhoneCard, { phone: { tag: '44-B', role: 'receives', live: live({ accounts }) } })).text()
    const parts = ['44-B', 'receives', '20,184', '20 Nov 2026', '+44 7700 900104', 'Otterpost Counter', '3 messages']
    for (const part of parts) expect(text).toContain(part)
  })
  it('says what it does not let us see', async () => {
    const hidden = { open: false, unlocked: false, free_bytes: null, battery: null, accounts: null }
    const card = await show(PhoneCard, { phone: { tag: '44-B', role: 'receives', live: live(hidden) } })
    expect(card.findAll('.bad').map((li) => li.text())).toEqual(['locked', 'this computer not allowed yet'])
    expect(card.text()).toContain('does not show its apps yet')
    // Of one that is away nobody knows more than that.
    const away = { ...hidden, plugged: false, unlocked: true }
    const gone = await show(PhoneCard, { phone: { tag: '44-B', role: 'receives', live: live(away) } })
    expect(gone.findAll('.bad').map((li) => li.text())).toEqual(['not connected'])
    for (const unknown of ['unlocked', 'allowed']) expect(gone.text()).not.toContain(unknown)
  })
  it('says how old what it shows is', async () => {
    const card = await show(PhoneCard, { phone: { tag: '44-B', role: 'receives', live: live({ fresh: false }) } })
    expect(card.text()).toContain('as of 12:00')
  })
})

describe('the two phones of a tray', () => {
  it('say when what they hold speaks against their roles', async () => {
    const doubt = '44-B receives and holds more than 44-A. Are the roles swapped?'
    const dock = await show(PhoneDock, { tray: tray({ direction: doubt }) })
    expect(dock.find('[role="status"]').text()).toBe(doubt)
    expect((await show(PhoneDock, { tray: tray() })).find('[role="status"]').exists()).toBe(false)
  })
})

describe('what is still to happen after a restore', () => {
  const step = (id: string, status: 'ready' | 'to_do'): Schemas['Point'] => ({
    id,
    app: 'otterpost',
    status,
    who: 'technician',
    severity: 'warns',
    told: false,
    what: `${id} is so`,
    how: status === 'ready' ? null : `Do ${id}.`,
    guide: null,
  })
  const shown = (points: Schemas['Point'][]) =>
    show(AfterRestore, { tray: tray(), move: move({ after_restore: points }) })
  it('is one thing large, and the list of all', async () => {
    const text = (await shown([step('a', 'ready'), step('b', 'to_do'), step('c', 'to_do')])).text()
    for (const part of ['Still to happen on 44-B', 'Do b.', 'a is so', 'c is so']) expect(text).toContain(part)
    expect(text).not.toContain('Do c.')
  })
  it('is said when it is all, and nothing before', async () => {
    expect((await shown([step('a', 'ready')])).text()).toContain('All has happened on 44-B')
    expect((await shown([])).find('section').exists()).toBe(false)
  })
})

describe('the number on the phone that receives', () => {
  const shown = (there: Partial<Schemas['Account']>, given: Partial<Schemas['Account']> = {}, quiet = false) => {
    const [gives, receives] = tray().phones
    if (!gives || !receives) throw new Error('Two phones.')
    const phones = [
      { ...gives, live: { ...gives.live, accounts: [{ ...account(9), ...given }] } },
      { ...receives, live: { ...receives.live, accounts: [{ ...account(0), ...there }] } },
    ]
    const props = { tray: tray({ phones }), move: move({ number: '+447700900104', arrival: null }), quiet }
    return show(NumberCheck, props)
  }
  const signUp = (change: Partial<NonNullable<Schemas['Account']['sign_up']>>) => ({
    number: null,
    sign_up: {
      number: '+447700900104',
      wants: 'code' as 'code' | 'another_code' | 'pin' | 'nothing',
      texts_left: 2,
      calls_left: 3,
      next_ask_at: null,
      ...change,
    },
  })
  it('is proposed, and what registering it does is said before', async () => {
    const text = (await shown({ number: null })).text()
    for (const part of ['+44 7700 900104', 'register this number', 'signs 44-A out']) expect(text).toContain(part)
    expect((await shown({ number: null }, {}, true)).find('section').exists()).toBe(false)
    expect((await shown({})).find('section').exists()).toBe(false)
  })
  it('has its codes counted and a clock until the next', async () => {
    const at = new Date(Date.now() + 299_000).toISOString()
    const text = (await shown(signUp({ next_ask_at: at }))).text()
    for (const part of ['waits for the code', '2 of 3', '3 of 3']) expect(text).toContain(part)
    expect(text).toMatch(/the next in 04:5\d/)
    expect((await shown(signUp({ next_ask_at: '2020-01-01T00:00:00Z' }))).find('[role="timer"]').exists()).toBe(false)
    expect((await shown(signUp({ wants: 'pin' }))).text()).toContain('two-step PIN')
    const isVoid = (await shown(signUp({ wants: 'another_code' }))).text()
    for (const part of ['void after three wrong', '2 of 3']) expect(isVoid).toContain(part)
    const isOff = (await shown(signUp({ wants: 'nothing' }))).text()
    expect(isOff).toContain('Go on with the registration on 44-B')
    expect(isOff).not.toContain('2 of 3')
    expect((await shown(signUp({ texts_left: 0, calls_left: 0 }))).text()).toContain('used up')
  })
  it('is warned of when it is another one', async () => {
    const text = (await shown(signUp({ number: '+447700900999' }))).find('[role="alert"]').text()
    expect(text).toContain('+44 7700 900999')
  })
  it('is said to be there, and that nobody signs in on the old one', async () => {
    const text = (await shown({}, { number: null, signed_out: true })).text()
    expect(text).toContain('44-A is signed out')
  })
})

describe('who gives', () => {
  const side = (messages: number, at: string | null) => ({ messages, newest_at: at })
  it('is said with its reasons, from what the phones hold', async () => {
    const there = side(20214, '2026-11-20T16:41:00.000Z')
    const proposal = { gives: '44-A', agrees: true, there, other: side(0, null), same_number: true }
    const text = (await show(PhoneDock, { tray: tray({ proposal }) })).text()
    for (const part of ['44-A to give', '20,214 messages against 0', 'the other has none', 'same number'])
      expect(text).toContain(part)
    const both = { ...proposal, other: side(3, '2024-03-01T10:00:00.000Z'), same_number: false }
    const other = (await show(PhoneDock, { tray: tray({ proposal: both }) })).text()
    expect(other).toContain('the other’s of')
    expect(other).not.toContain('same number')
  })
})

describe('the run sheet', () => {
  const step = (by: string, minute: string, text: string, at: number | null = 1): Schemas['Step'] => ({
    stage: 'back_up',
    move: at,
    at: `2026-11-20T12:${minute}:00.000Z`,
    by,
    code: 'backed_up',
    text,
  })
  it('has eight stages with who, when and how many', async () => {
    const steps = [step('jette', '00', '10 messages'), step('orla', '30', '12 messages')]
    const sheet = await show(RunSheet, { tray: tray({ steps }), shown: 'choose', move: move() })
    expect(sheet.findAll('li')).toHaveLength(8)
    expect(sheet.find('li.now').text()).toContain('Restore')
    expect(sheet.findAll('li.done')).toHaveLength(5)
    expect(sheet.find('[aria-current]').text()).toContain('Choose')
    expect(sheet.text().replace(/\s+/g, ' ')).toContain('12 messages 20 Nov 2026, 12:30, orla · 2 entries')
  })
  it('has the five between for each account, and the rest once', async () => {
    const moves = [move(), move({ place: 2, edition: 'Otterpost Counter', stage: 'choose', stage_place: 4 })]
    const steps = [step('jette', '00', 'ordinary'), step('jette', '30', 'counter', 2)]
    const sheet = await show(RunSheet, { tray: tray({ moves, steps }), shown: 'choose', move: moves[1] })
    expect(sheet.findAll('li')).toHaveLength(3 + 2 * 5)
    expect(sheet.findAll('h2').map((h) => h.text())).toEqual(['Otterpost', 'Otterpost Counter'])
    expect(sheet.findAll('li.now').map((li) => li.find('.word').text())).toEqual(['Restore, now', 'Choose, now'])
    expect(sheet.findAll('[aria-current]').map((a) => a.attributes('href'))).toEqual([
      expect.stringMatching(/\/trays\/44\/accounts\/2\/choose$/),
    ])
    expect(sheet.findAll('.told').map((t) => t.text())).toEqual(['ordinary', 'counter'])
  })
})

describe('losses before the fact', () => {
  it('have a count and an example, and tell changed from left out', async () => {
    answers = {
      'GET /api/trays/44/moves/1/losses': {
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
    const table = await show(LossTable, { tray: tray(), move: move() })
    expect(
      table.findAll('tbody tr').map((row) => row.findAll('td').map((td) => td.text().replace(/\s+/g, ' '))),
    ).toEqual([
      ['stays in the backup No lists. Ask the customer Stays behind To everybodyFor instance “Recipients”.', '2', '1'],
      ['changed No wallpaper. For instance in “Crew”: voice note of 1 Mar 2024, 10:00.', '–', '1'],
    ])
    const choices = table.findAll('input[type=radio]')
    expect(choices.map((c) => (c.element as HTMLInputElement).checked)).toEqual([true, false])
    await choices[1]?.setValue(true)
    await flushPromises()
    expect(sent).toEqual([
      { method: 'PUT', path: '/api/trays/44/moves/1/choices/broadcast_list', body: { choice: 'as_conversations' } },
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
    kept: 0,
    kept_missing: 0,
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
      at: { number: 44, place: 1 },
      check: 3,
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
      .find((b) => b.text().startsWith('stays in the backup'))
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
      'GET /api/trays/44/moves/1/arrival/1': {
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
            sides: [],
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
            sides: [],
            attachment: null,
          },
        ],
      },
    }
    const table = await open(1)
    expect(table.findAll('.inner tbody tr').map((r) => r.findAll('td').map((td) => td.text()))).toEqual([
      ['30 Jan 2024, 10:00', 'Ada', 'photo, 1.2 kB', 'message there, file missing'],
      ['31 Jan 2024, 10:00', 'the owner', 'text', 'there, but different: text, time of sending'],
    ])
  })
})

describe('a tray that only backs up', () => {
  const one = (change: Partial<Schemas['Move']> = {}) => {
    const shown = tray({ errand: 'only_back_up', stage: 'hand_over', moves: [move({ stage: 'hand_over', ...change })] })
    return { ...shown, phones: shown.phones.slice(0, 1) }
  }
  it('is handed over with its backup, and speaks of no other phone', async () => {
    const panel = await show(StageHandOver, { tray: one({ rehearsal: null }) })
    expect(panel.find('h2').text()).toBe('Backed up: ready to hand over')
    expect(panel.text()).toContain('Messages10')
    expect(panel.text()).not.toContain('open the messenger')
    expect(panel.find('.next').attributes('disabled')).toBeUndefined()
    const none = await show(StageHandOver, { tray: one({ backup: null }) })
    expect(none.text()).toContain('once there is a backup')
  })
  it('has five stages, and nobody has to look', async () => {
    const shown = one()
    const sheet = await show(RunSheet, { tray: shown, shown: 'hand_over', move: undefined })
    const stages = sheet.findAll('li').map((row) => [row.find('.place').text(), row.find('.word').text()])
    expect(stages).toEqual([
      ['✓', 'Intake, done'],
      ['✓', 'Ready, done'],
      ['✓', 'Back up, done'],
      ['4', 'Look, ahead'],
      ['5', 'Hand over, now'],
    ])
  })
})

describe('the hand-over', () => {
  it('lists what is to be switched back, and ticks off what is', async () => {
    const switched = [
      { tag: '44-A', code: 'usb_debugging', app: '', back: false, text: 'Switch USB debugging off again' },
      { tag: '44-B', code: 'theft_lock', app: '', back: true, text: 'The theft lock is on again' },
    ]
    const shown = tray({ switched, moves: [move({ arrival: totals() })] })
    const rows = (await show(StageHandOver, { tray: shown })).findAll('.switched li')
    expect(rows.map((li) => [li.find('.tickbox').text(), li.classes('done')])).toEqual([
      ['', false],
      ['✓', true],
    ])
    expect(rows[0]?.text()).toContain('44-A')
    const none = await show(StageHandOver, { tray: tray({ moves: [move({ arrival: totals() })] }) })
    expect(none.find('.switched').exists()).toBe(false)
  })
})

describe('the wall', () => {
  it('has who waits longest first, large, and what the machine does below', async () => {
    const at = (ago: number) => new Date(Date.now() - ago * 60_000).toISOString()
    const one = (number: number, change: Partial<Schemas['Waits']>) => ({ number, waits: { ...waiting, ...change } })
    answers = {
      'GET /api/wall': {
        trays: [
          one(41, { tag: '41-A', text: 'Screen is locked', since: at(2) }),
          one(42, { tag: null, text: 'Look at it', since: at(50) }),
          one(43, { tag: '43-A', text: 'Backing up', for: 'machine' }),
        ],
      },
    }
    const view = await show(WallView)
    await flushPromises()
    const calls = view.findAll('.call').map((li) => li.text().replace(/\s+/g, ' '))
    expect(calls.map((text) => text.slice(0, 4))).toEqual(['42Lo', '41-A'])
    expect(calls[0]).toContain('50')
    expect(view.find('.machine').text()).toContain('Backing up')
    answers = { 'GET /api/wall': { trays: [] } }
    const empty = await show(WallView)
    await flushPromises()
    expect(empty.text()).toContain('Nobody is waited for')
  })
})

describe('a new tray', () => {
  const free = { ...account(0), holds: null }
  it('gives each phone one role, and knows nothing of what they hold', async () => {
    answers = {
      'GET /api/phones': {
        phones: [
          { live: live({ serial: 'OLD', model: 'Old', accounts: [free] }), tray: null },
          { live: live({ serial: 'NEW', model: 'New', accounts: [free] }), tray: null },
          { live: live({ serial: 'BUSY', model: 'Busy' }), tray: 41 },
        ],
      },
      'GET /api/session': {
        user: { name: 'jette', display_name: 'Jette', role: 'technician' },
        language: 'en',
        token: 't',
        desk: true,
      },
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
    expect(view.text()).toContain('looked at once the tray is open, not before')
    // Giving the other one swaps them.
    await press(0, 'Gives')
    expect(view.find('.chosen').text().replace(/\s+/g, ' ')).toBe('gives Old receives New')
  })
  it('keeps what was chosen while a phone is away, and opens nothing without it', async () => {
    const bench = (serials: string[]) => ({
      phones: serials.map((serial) => ({ live: live({ serial, model: serial, accounts: [free] }), tray: null })),
    })
    answers = { 'GET /api/phones': bench(['NEW']) }
    const told = { user: '', customer: 'Ada', contact: 'café', consent: true, giving: 'OLD', receiving: 'NEW' }
    sessionStorage.setItem('geschenk.new-tray', JSON.stringify(told))
    const view = await show(NewTrayView)
    await flushPromises()
    expect(view.find('.next').attributes('disabled')).toBeDefined()
    expect(view.find('.why').text()).toContain('the phone that gives')
    await view.findAll('.who input')[1]?.setValue('the pier')
    expect(JSON.parse(sessionStorage.getItem('geschenk.new-tray') ?? '{}')).toMatchObject({ giving: 'OLD' })
    view.unmount()
    answers = { 'GET /api/phones': bench(['NEW', 'OLD']) }
    const again = await show(NewTrayView)
    await flushPromises()
    expect(again.find('.next').attributes('disabled')).toBeUndefined()
    again.unmount()
    sessionStorage.clear()
  })
  it('wants one phone where it is only backed up', async () => {
    answers = {
      'GET /api/phones': { phones: [{ live: live({ serial: 'OLD', model: 'Old', accounts: [free] }), tray: null }] },
      'GET /api/session': {
        user: { name: 'jette', display_name: 'Jette', role: 'technician' },
        language: 'en',
        token: 't',
        desk: true,
      },
      'POST /api/trays': tray({ number: 45, errand: 'only_back_up' }),
    }
    sessionStorage.setItem(
      'geschenk.new-tray',
      JSON.stringify({ user: '', customer: 'Ada', contact: 'café', consent: true, errand: 'only_back_up' }),
    )
    const view = await show(NewTrayView)
    await flushPromises()
    const buttons = view.findAll('article button')
    expect(buttons.map((b) => b.text())).toEqual(['This one'])
    await buttons[0]?.trigger('click')
    expect(view.find('.chosen').text().replace(/\s+/g, ' ')).toBe('gives Old')
    await view.find('form').trigger('submit')
    await flushPromises()
    expect(opening()).toMatchObject({ errand: 'only_back_up', giving: 'OLD', consent: true })
    expect(opening()).not.toHaveProperty('receiving')
    sessionStorage.clear()
  })
  it('wants a kept backup and one phone where that is brought', async () => {
    const kept = (id: string, change: Partial<Schemas['KeptBackup']> = {}): Schemas['KeptBackup'] => ({
      id,
      tray: 41,
      customer_id: 7,
      customer: 'Ada',
      contact: 'café',
      language: 'en',
      app: 'otterpost',
      edition: 'Otterpost',
      account: '+447700900700',
      taken_at: '2026-03-01T10:00:00Z',
      newest_at: null,
      conversations: 3,
      messages: 7,
      attachment_bytes: 9,
      lost: 0,
      kept_until: null,
      ...change,
    })
    answers = {
      'GET /api/phones': { phones: [{ live: live({ serial: 'NEW', model: 'New', accounts: [free] }), tray: null }] },
      'GET /api/session': {
        user: { name: 'jette', display_name: 'Jette', role: 'technician' },
        language: 'en',
        token: 't',
        desk: true,
      },
      'POST /api/backups/find': {
        backups: [
          kept('b1'),
          kept('b2', { messages: 5, lost: 2 }),
          kept('b3', { app: 'other', edition: 'Other' }),
          kept('b4', { customer_id: 8, customer: 'Ada', app: 'third' }),
        ],
        behind: null,
      },
      'POST /api/trays': tray({ number: 45, errand: 'bring_kept' }),
    }
    sessionStorage.setItem('geschenk.new-tray', JSON.stringify({ user: '', errand: 'bring_kept' }))
    const view = await show(NewTrayView)
    await flushPromises()
    expect(view.text()).toContain('the backup')
    const [first, second, third, others] = view.findAll('.kept input[type="checkbox"]')
    // A tray is one customer's, whatever they are called.
    await others?.trigger('change')
    await first?.trigger('change')
    await third?.trigger('change')
    // Another one of the same messenger takes the place of the first.
    await second?.trigger('change')
    expect(view.find('.kept .lost').text()).toContain('2 messages')
    const typed = view.findAll('.who input').map((i) => (i.element as HTMLInputElement).value)
    expect(typed).toEqual(expect.arrayContaining(['Ada', 'café']))
    const buttons = view.findAll('article button')
    expect(buttons.map((b) => b.text())).toEqual(['This one'])
    await buttons[0]?.trigger('click')
    await view.find('.who input[type="checkbox"]').setValue(true)
    sent = []
    await view.find('.who').trigger('submit')
    await flushPromises()
    expect(opening()).toMatchObject({ errand: 'bring_kept', receiving: 'NEW', backups: ['b3', 'b2'] })
    expect(opening()).not.toHaveProperty('giving')
    sessionStorage.clear()
  })
})

describe('what may be begun', () => {
  const why = 'Phone 44-A is not ready yet. Charge it.'
  it('is offered with the server’s reason where it would be refused now', async () => {
    const lacking = move({ stage: 'back_up', backup: null, may: [{ act: 'backup', why }] })
    const view = await show(StageBackUp, { tray: tray({ moves: [lacking] }), move: lacking })
    expect(view.find('.next').attributes('disabled')).toBeDefined()
    expect(view.text()).toContain(why)
    await view.setProps({ move: { ...lacking, may: turns(['backup']) } })
    expect(view.find('.next').attributes('disabled')).toBeUndefined()
    expect(view.text()).not.toContain(why)
  })
  it('is what the server says of the tray: correcting, withdrawing, printing, taking an account in again', async () => {
    const left = move({ left_out: true })
    const view = await show(StageIntake, { tray: tray({ stage: 'intake', moves: [left], may: [] }) })
    const words = ['Correct…', 'End without a hand-over…', 'Print labels', 'Take this account in'].map(
      (word) => () => view.text().includes(word),
    )
    expect(words.map((has) => has())).toEqual([false, false, false, false])
    await view.setProps({
      tray: tray({
        stage: 'intake',
        moves: [{ ...left, may: turns(['take_in']) }],
        may: turns(['correct', 'withdraw', 'print_labels']),
      }),
    })
    expect(words.map((has) => has())).toEqual([true, true, true, true])
  })
  it('is erasing one backup by itself, against the number of its tray, where more than one is kept', async () => {
    const kept = (id: string, state: 'kept' | 'erased', may: Schemas['May'][]): Schemas['Keeping']['list'][number] => ({
      id,
      edition: 'Otterpost',
      account: '+447700900104',
      taken_at: '2026-11-20T12:00:00.000Z',
      messages: 10,
      bytes: 4_000,
      state,
      note: '',
      locked_at: null,
      erased_at: state === 'erased' ? '2026-11-21T12:00:00.000Z' : null,
      erased_by: state === 'erased' ? 'Jette Holm' : null,
      files: 12,
      is_there: false,
      verified_at: '2026-11-20T12:05:00.000Z',
      until: null,
      run: null,
      trouble: null,
      may,
    })
    const keeping = (list: Schemas['Keeping']['list']): Schemas['Keeping'] => ({
      until: null,
      backups: list.length,
      safety_copies: 0,
      bytes: 8_000,
      list,
      erase_asked_at: null,
      erased_at: null,
      erased_by: null,
      erased: [],
    })
    const erase = [{ act: 'erase', why: null }]
    const one = tray({ closed: true, keeping: keeping([kept('a', 'kept', erase)]) })
    answers = { 'GET /api/phones': { phones: [] }, 'POST /api/backups/b/erase': one }
    const view = await show(KeepingChats, { tray: one })
    expect(view.find('.kept').text()).toContain('whole on 20 Nov 2026, 12:05')
    expect(view.find('.kept').text()).not.toContain('Erase this one…')
    await view.setProps({ tray: { ...one, keeping: keeping([kept('a', 'erased', []), kept('b', 'kept', erase)]) } })
    const rows = view.findAll('.kept > li').map((row) => row.text())
    expect(view.text()).toContain('2 backups, with')
    expect(rows[0]).toContain('✓ is gone')
    expect(rows[1]).toContain('Erase this one…')
    await view.findAll('.kept button').at(-1)?.trigger('click')
    await flushPromises()
    const field = document.querySelector<HTMLInputElement>('.ask input')
    const done = document.querySelector<HTMLButtonElement>('.ask button[type=submit]')
    expect(done?.disabled).toBe(true)
    if (field) field.value = '44'
    field?.dispatchEvent(new Event('input'))
    await flushPromises()
    expect(done?.disabled).toBe(false)
    document.querySelector<HTMLFormElement>('form.ask')?.dispatchEvent(new Event('submit'))
    await flushPromises()
    const erased = sent.filter((s) => s.path.endsWith('/erase'))
    expect(erased.map((s) => [s.path, s.body])).toEqual([['/api/backups/b/erase', { number: '44' }]])
  })
  it('is keeping one backup until a day of its own, and shows what is kept on when the rest is erased', async () => {
    const kept = (id: string, state: 'kept' | 'erased'): Schemas['Keeping']['list'][number] => ({
      id,
      edition: 'Otterpost',
      account: '+447700900104',
      taken_at: '2026-11-20T12:00:00.000Z',
      messages: 10,
      bytes: 4_000,
      state,
      note: '',
      locked_at: null,
      erased_at: null,
      erased_by: null,
      files: 0,
      is_there: false,
      verified_at: '2026-11-20T12:05:00.000Z',
      until: state === 'kept' ? '2027-02-24T23:59:59.000Z' : null,
      run: null,
      trouble: null,
      may: state === 'kept' ? [{ act: 'keep', why: null }] : [],
    })
    const keeping: Schemas['Keeping'] = {
      until: null,
      backups: 1,
      safety_copies: 0,
      bytes: 4_000,
      list: [kept('a', 'erased'), kept('b', 'kept')],
      erase_asked_at: '2026-12-20T12:00:00.000Z',
      erased_at: '2026-12-20T12:00:00.000Z',
      erased_by: 'the shop’s rule',
      erased: [],
    }
    const shown = tray({ closed: true, keeping })
    answers = { 'GET /api/phones': { phones: [] }, 'PUT /api/backups/b/keeping': shown }
    const view = await show(KeepingChats, { tray: shown })
    expect(view.findAll('.kept > li')).toHaveLength(1)
    expect(view.text()).toContain('until 24 Feb 2027')
    await view.find('button').trigger('click')
    await flushPromises()
    const field = document.querySelector<HTMLInputElement>('.keep input')
    const done = document.querySelector<HTMLButtonElement>('.keep button[type=submit]')
    expect(done?.disabled).toBe(true)
    if (field) field.value = '1.3.2027'
    field?.dispatchEvent(new Event('input'))
    await flushPromises()
    expect(done?.disabled).toBe(false)
    document.querySelector<HTMLFormElement>('form.keep')?.dispatchEvent(new Event('submit'))
    await flushPromises()
    const put = sent.filter((s) => s.path.endsWith('/keeping'))
    expect(put.map((s) => [s.path, s.body])).toEqual([['/api/backups/b/keeping', { keep_until: '2027-03-01' }]])
  })
  it('is reading a kept backup back, and says what was found', async () => {
    const kept = {
      id: 'a',
      edition: 'Otterpost',
      account: '+447700900104',
      taken_at: '2026-11-20T12:00:00.000Z',
      messages: 10,
      bytes: 4_000,
      state: 'kept' as const,
      note: '',
      locked_at: null,
      erased_at: null,
      erased_by: null,
      files: 0,
      is_there: false,
      verified_at: '2026-11-20T12:05:00.000Z',
      until: null as string | null,
      run: null as Schemas['Run'] | null,
      trouble: null as string | null,
      may: [{ act: 'verify', why: null }],
    }
    const shown = tray({ closed: true })
    answers = { 'POST /api/backups/a/verify': shown }
    const view = await show(KeptList, { number: shown.number, list: [kept] })
    await view.find('button').trigger('click')
    await flushPromises()
    expect(sent.filter((s) => s.path.endsWith('/verify'))).toHaveLength(1)
    const working = { ...run('working'), kind: 'verification', tag: null, trouble: null }
    await view.setProps({ list: [{ ...kept, may: [], run: working }] })
    expect(view.find('[role=progressbar]').exists()).toBe(true)
    answers['POST /api/backups/a/runs/r1/pause'] = answers['POST /api/backups/a/runs/r1/go-on'] = shown
    await view.findAll('button')[0]?.trigger('click')
    const standing = { ...working, state: 'paused' as const, may: ['go_on' as const], trouble: 'Paused by jette.' }
    await view.setProps({ list: [{ ...kept, may: [], run: standing }] })
    expect(view.text()).toContain('stands still: Paused by jette.')
    await view.findAll('button')[0]?.trigger('click')
    await flushPromises()
    expect(sent.filter((s) => s.path.includes('/runs/')).map((s) => s.path)).toEqual([
      '/api/backups/a/runs/r1/pause',
      '/api/backups/a/runs/r1/go-on',
    ])
    await view.setProps({ list: [{ ...kept, trouble: 'A file of it was changed.' }] })
    expect(view.text()).toContain('Not as it was kept: A file of it was changed.')
  })
  it('is not offered where it is not its turn', async () => {
    const standing = move({ stage: 'check', restored_at: '2026-11-20T12:00:00.000Z', may: [] })
    const view = await show(StageCheck, { tray: tray({ moves: [standing] }), move: standing })
    expect(view.find('.next').exists()).toBe(false)
    await view.setProps({ move: { ...standing, may: turns(['check']) } })
    expect(view.find('.next').exists()).toBe(true)
  })
})

describe('a shelf with more than is shown', () => {
  it('says so, and has the earlier ones when they are asked for', async () => {
    const done = (number: number) =>
      tray({ number, customer: `Customer ${number}`, closed: true, waits: { ...tray().waits, for: 'nobody' } })
    answers = {
      'GET /api/trays': { trays: [done(99)], behind: 99 },
      'GET /api/phones': { phones: [] },
      'GET /api/clock': { now: '2026-03-01T10:00:00Z', doubt: null },
    }
    const view = await show(ShelfView)
    await flushPromises()
    expect(view.find('.section').text()).toContain('1+')
    answers['GET /api/trays'] = { trays: [done(41)], behind: null }
    const more = view.findAll('button').find((b) => b.text() === 'Show earlier ones')
    await more?.trigger('click')
    await vi.waitFor(() => expect(view.text()).toContain('Customer 41'))
    expect(view.text()).toContain('Customer 99')
    expect(view.findAll('button').some((b) => b.text() === 'Show earlier ones')).toBe(false)
  })
})

describe('somebody who comes again', () => {
  const ada: Schemas['KnownCustomer'] = {
    id: 7,
    name: 'Ada Quay',
    contact: 'café',
    language: 'de',
    trays: 2,
    last_tray: 43,
    last_at: '2026-03-01T10:00:00Z',
  }
  it('is chosen by whoever asks them, and is nobody else’s namesake unasked', async () => {
    answers = {
      'GET /api/phones': { phones: [{ live: live({ serial: 'OLD', model: 'Old', accounts: [] }), tray: null }] },
      'GET /api/session': {
        user: { name: 'jette', display_name: 'Jette', role: 'technician' },
        language: 'en',
        token: 't',
        desk: true,
      },
      'POST /api/customers/find': { customers: [ada] },
      'POST /api/trays': tray({ number: 45, errand: 'only_back_up' }),
    }
    sessionStorage.setItem(
      'geschenk.new-tray',
      JSON.stringify({ user: '', customer: 'Ada', contact: '', consent: true, errand: 'only_back_up', giving: 'OLD' }),
    )
    const view = await show(NewTrayView)
    await vi.waitFor(() => expect(view.find('.known button').exists()).toBe(true))
    expect(sent.find((s) => s.path.endsWith('/customers/find'))?.body).toEqual({ words: 'Ada' })
    expect(view.find('.known').text()).toContain('2 trays')
    const values = () => view.findAll('.who input').map((i) => (i.element as HTMLInputElement).value)
    expect(values()).not.toContain('Ada Quay')
    await view.find('.known button').trigger('click')
    expect(values()).toEqual(expect.arrayContaining(['Ada Quay', 'café']))
    expect(view.find('.known.chosen').text()).toContain('Was here before')
    await view.find('.known button').trigger('click')
    expect(view.find('.known.chosen').exists()).toBe(false)
    await vi.waitFor(() => expect(view.find('.known li button').exists()).toBe(true))
    await view.find('.known li button').trigger('click')
    sent = []
    await view.find('form').trigger('submit')
    await flushPromises()
    expect(opening()).toMatchObject({ known: 7, customer: 'Ada Quay', contact: 'café', language: 'de' })
    sessionStorage.clear()
  })
})

describe('a shop', () => {
  const bar = (desk: boolean) =>
    show(TopBar, {
      trays: [],
      user: { name: 'jette', display_name: 'Jette', role: 'technician' },
      desk,
      sound: true,
    })
  it('has no desk with stand-in phones, the demonstration has one', async () => {
    expect((await bar(false)).text()).not.toContain('Stand-in desk')
    expect((await bar(true)).text()).toContain('Stand-in desk')
  })
})
