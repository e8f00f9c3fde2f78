import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { nextTick } from 'vue'
import { api, ApiProblem, body, forgetAnswers, whenOtherLanguage, whenSignedOut } from '../api/client'
import { failed, forgetOldFailures, heard, line } from '../api/line'
import { forgetDraft, useDraft } from '../lib/draft'

beforeEach(() => {
  vi.useFakeTimers({ now: 1_000_000 })
  sessionStorage.clear()
  heard('/api/a')
  heard('/api/b')
  heard('/api/trays')
})
afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
})

describe('the line to the server', () => {
  it('is troubled until each that failed was heard again, since the moment when all was well', () => {
    expect(line.value).toBeNull()
    vi.setSystemTime(1_005_000)
    failed('/api/a', 'troubled')
    failed('/api/b', 'gone')
    expect(line.value).toEqual({ trouble: 'gone', since: 1_000_000 })
    heard('/api/b')
    expect(line.value).toEqual({ trouble: 'troubled', since: 1_000_000 })
    heard('/api/a')
    expect(line.value).toBeNull()
  })

  it('forgets what nobody asks for any longer', () => {
    failed('/api/a', 'gone')
    forgetOldFailures(1_014_000)
    expect(line.value?.trouble).toBe('gone')
    forgetOldFailures(1_016_000)
    expect(line.value).toBeNull()
  })

  it('gives up on a server that does not answer, and lets the request go', async () => {
    let signal: AbortSignal | null | undefined
    vi.stubGlobal('fetch', (_: Request, init?: RequestInit) => {
      signal = init?.signal
      return new Promise((_resolve, reject) => signal?.addEventListener('abort', () => reject(new Error('aborted'))))
    })
    const asked = body(api.GET('/api/trays')).catch((error: unknown) => error)
    await vi.advanceTimersByTimeAsync(9_900)
    expect(signal?.aborted).toBe(false)
    await vi.advanceTimersByTimeAsync(200)
    const problem = await asked
    expect(problem).toBeInstanceOf(ApiProblem)
    expect((problem as ApiProblem).status).toBe(0)
    expect(signal?.aborted).toBe(true)
    expect(line.value?.trouble).toBe('gone')
  })

  it('notices that another window of the same user has changed the language', async () => {
    const changed = vi.fn()
    whenOtherLanguage(changed)
    const answer = (spoken: string) => async () =>
      new Response('{"trays":[]}', { headers: { 'Content-Type': 'application/json', 'Content-Language': spoken } })
    vi.stubGlobal('fetch', answer('en'))
    await body(api.GET('/api/trays'))
    expect(changed).not.toHaveBeenCalled()
    vi.stubGlobal('fetch', answer('de'))
    await body(api.GET('/api/trays'))
    expect(changed).toHaveBeenCalledOnce()
    whenOtherLanguage(() => undefined)
  })

  it('hears of what has not changed no more than that, and knows it all the same', async () => {
    const asked: (string | null)[] = []
    let now = { mark: 'W/"1"', text: '{"trays":[{"number":44}]}' }
    vi.stubGlobal('fetch', async (request: Request) => {
      asked.push(request.headers.get('If-None-Match'))
      if (request.headers.get('If-None-Match') === now.mark) return new Response(null, { status: 304 })
      return new Response(now.text, { headers: { 'Content-Type': 'application/json', ETag: now.mark } })
    })
    const first = await body(api.GET('/api/trays'))
    expect(await body(api.GET('/api/trays'))).toEqual(first)
    now = { mark: 'W/"2"', text: '{"trays":[]}' }
    expect(await body(api.GET('/api/trays'))).toEqual({ trays: [] })
    forgetAnswers()
    expect(await body(api.GET('/api/trays'))).toEqual({ trays: [] })
    expect(asked).toEqual([null, 'W/"1"', 'W/"1"', null])
    // Contents are asked for whole, and nothing of them is held.
    asked.length = 0
    for (let n = 0; n < 2; ++n) await body(api.GET('/api/session'))
    expect(asked).toEqual([null, null])
  })

  it('tells a server in trouble from one that is gone, and neither signs anybody out', async () => {
    const signedOut = vi.fn()
    whenSignedOut(signedOut)
    vi.stubGlobal('fetch', async () => new Response('oh', { status: 502 }))
    await expect(body(api.GET('/api/trays'))).rejects.toMatchObject({ status: 502 })
    expect(line.value?.trouble).toBe('troubled')
    expect(signedOut).not.toHaveBeenCalled()
    vi.stubGlobal('fetch', async () => new Response('{}', { status: 401 }))
    await expect(body(api.GET('/api/trays'))).rejects.toMatchObject({ status: 401 })
    expect(line.value).toBeNull()
    expect(signedOut).toHaveBeenCalledOnce()
  })
})

describe('the draft of a new tray', () => {
  it('is there again after a reload, for the same user alone', async () => {
    const draft = useDraft('jette', 'de')
    expect(draft.language).toBe('de')
    draft.customer = 'Ada'
    draft.consent = true
    await nextTick()
    expect(useDraft('jette', 'en')).toMatchObject({ customer: 'Ada', consent: true, language: 'de' })
    expect(useDraft('orla', 'en')).toMatchObject({ customer: '', consent: false, language: 'en' })
  })

  it('is gone when the tray was opened, and a spoilt one is none', async () => {
    sessionStorage.setItem('geschenk.new-tray', '{"customer":')
    const draft = useDraft('jette', 'en')
    expect(draft.customer).toBe('')
    draft.customer = 'Ada'
    draft.consent = true
    forgetDraft()
    // The phones are taken now, which the page still hears of before it is left.
    draft.giving = ''
    await nextTick()
    expect(sessionStorage.length).toBe(0)
    expect(useDraft('jette', 'en')).toMatchObject({ customer: '', consent: false })
  })
})
