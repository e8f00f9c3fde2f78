import { beforeEach, describe, expect, it, vi } from 'vitest'
import { flushPromises, mount } from '@vue/test-utils'
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { createMemoryHistory, createRouter } from 'vue-router'
import { createVuetify } from 'vuetify'
import type { Schemas } from '../api/client'
import { copyThere } from '../lib/cupboard'
import SecondPlaceView from '../views/SecondPlaceView.vue'

let place: Schemas['SecondPlace']
let role: string
let asked: string[]

beforeEach(() => {
  role = 'technician'
  asked = []
  place = {
    ...{ is_set: true, label: '/mnt/second', trouble: null, is_same_disk: false, is_late: false, run: null },
    ...{ since: '2026-11-01T12:00:00.000Z', complete_at: '2026-11-30T02:00:00.000Z', kept: 12, there: 12 },
    ...{ not_whole: 0, to_erase: 0, bytes: 4_000_000, read_since: '2026-11-02T12:00:00.000Z' },
  }
  vi.stubGlobal('fetch', async (request: Request) => {
    const path = new URL(request.url).pathname
    if (request.method === 'POST') asked.push(path)
    const session = { user: { name: 'x', display_name: 'X', role }, token: 't', desk: false, language: 'en' }
    return new Response(JSON.stringify(path === '/api/session' ? session : place), {
      headers: { 'Content-Type': 'application/json' },
    })
  })
})

async function show() {
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [
      { path: '/cupboard', name: 'cupboard', component: { template: '<i/>' } },
      { path: '/:rest(.*)', component: { template: '<i/>' } },
    ],
  })
  await router.push('/second-place')
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false, refetchInterval: false } } })
  const view = mount(SecondPlaceView, {
    global: { plugins: [createVuetify(), router, [VueQueryPlugin, { queryClient: queries }]] },
  })
  await flushPromises()
  return view
}

describe('the second place', () => {
  it('says that all is there, and has it copied by whoever asks', async () => {
    const view = await show()
    expect(view.find('.verdict').text()).toBe('✓ All 12 backups that are kept lie there too')
    expect(view.text()).not.toContain('Which ones')
    expect(view.text()).not.toContain('Begin at another place')
    await view.find('button.next').trigger('click')
    await flushPromises()
    expect(asked).toEqual(['/api/second-place/runs'])
  })
  it('says what is missing there, what still lies there, and why that matters', async () => {
    Object.assign(place, { there: 11, not_whole: 1, to_erase: 2, is_late: true, is_same_disk: true })
    const view = await show()
    expect(view.find('.verdict').text()).toBe('▲ 1 of 12 backups is not there')
    expect(view.find('a[href="/cupboard?shown=alone"]').exists()).toBe(true)
    expect(view.text()).toContain('more than two days')
    expect(view.text()).toContain('2 backups that were erased still lie there')
    expect(view.text()).toContain('1 copy there is not whole')
    expect(view.text()).toContain('on the same disk')
  })
  it('says that there is none, and what that means', async () => {
    Object.assign(place, { is_set: false, label: null, since: null, complete_at: null, there: 0 })
    const view = await show()
    expect(view.text()).toContain('The 12 backups that are kept lie on this computer alone')
    expect(view.find('button').exists()).toBe(false)
  })
  it('has what is under way rest, and go on', async () => {
    const progress = {
      ...{ phase: 'placing', items_done: 1, items_total: 4, bytes_done: 1, bytes_total: 4 },
      ...{ bytes_per_second: null, seconds_left: null, job_seconds_left: null },
    }
    const run = {
      ...{ id: 'r1', kind: 'placing', tag: null, state: 'working' as const, trouble: null, may: ['pause', 'cancel'] },
      ...{ asked_at: '', asked_by: 'bench', finished_at: null, offer: null },
    }
    place.run = { ...run, progress } as Schemas['Run']
    const view = await show()
    expect(view.find('button.next').exists()).toBe(false)
    const button = (text: string) => view.findAll('button').find((one) => one.text() === text)
    await button('Pause')?.trigger('click')
    await flushPromises()
    expect(asked).toEqual(['/api/second-place/runs/r1/pause'])
    place.run = { ...run, progress, may: ['go_on'], trouble: 'It can’t be reached.' } as Schemas['Run']
    const stopped = await show()
    expect(stopped.text()).toContain('It can’t be reached.')
    await stopped.find('button.next').trigger('click')
    await flushPromises()
    expect(asked.at(-1)).toBe('/api/second-place/runs/r1/go-on')
  })
  it('is left by the manager alone, who is asked once more', async () => {
    role = 'manager'
    const view = await show()
    await view.find('.leave button').trigger('click')
    await flushPromises()
    expect(asked).toEqual([])
    const sure = [...document.querySelectorAll<HTMLElement>('.v-overlay button')].find((one) =>
      one.textContent.includes('Begin at another place'),
    )
    sure?.click()
    await flushPromises()
    expect(asked).toEqual(['/api/second-place/leave'])
  })
  it('is told with each backup in one line', () => {
    const at = '2026-11-30T02:00:00.000Z'
    const copy = { placed_at: at, read_at: at, is_whole: true, mended_at: null, gone_at: null }
    const of = (state: string, told: Partial<Schemas['FromCupboard']>) =>
      copyThere({ row: { state }, has_place: true, copy: null, ...told } as Schemas['FromCupboard'])
    expect(of('kept', {})).toBe('Not at the second place yet')
    expect(of('kept', { has_place: false })).toBe('')
    expect(of('locked', { copy })).toContain('A copy lies at the second place since')
    expect(of('kept', { copy: { ...copy, is_whole: false } })).toContain('is not whole')
    expect(of('erased', { copy })).toContain('Still at the second place')
    expect(of('erased', { copy: { ...copy, gone_at: at } })).toContain('Erased at the second place too')
    expect(of('erased', {})).toBe('')
  })
})
