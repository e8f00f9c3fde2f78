import createClient, { type Middleware } from 'openapi-fetch'
import { language, say } from '../lib/say'
import { failed, heard } from './line'
import type { components, paths } from './schema'

export type Schemas = components['schemas']

/** What the server says when something can't be done: what, and what now. */
export class ApiProblem extends Error {
  constructor(
    readonly status: number,
    readonly title: string,
    detail: string,
  ) {
    super(detail)
  }
}

/** Milliseconds: a server that takes longer does not answer. Of a large phone it has much to count. */
const PATIENCE = { read: 10_000, large: 180_000, change: 30_000 }
const LARGE = /\/(conversations|scope|sum|losses|arrival|eyes|since|words)$|\/(kinds|uploads|sticks)\/[\w-]+$/

let token = ''
let onSignedOut: () => void = () => undefined

export const setToken = (value: string): void => {
  token = value
}
let onOtherLanguage: () => void = () => undefined
/** Another window of the same user has changed the language: what comes is in that one. */
export const whenOtherLanguage = (act: () => void): void => {
  onOtherLanguage = act
}
export const whenSignedOut = (act: () => void): void => {
  onSignedOut = act
}

const pathOf = (request: Request): string => new URL(request.url).pathname

const guard: Middleware = {
  onRequest({ request }) {
    if (request.method !== 'GET') request.headers.set('X-Geschenk-Token', token)
    return request
  },
  async onResponse({ request, response }) {
    const isRead = request.method === 'GET'
    // A proxy's page, or a Wi-Fi's, is no answer of the server, whatever it says of itself.
    const isAnswer = response.headers.get('Content-Type')?.includes('json') === true
    if (response.ok && !isAnswer) {
      if (isRead) failed(pathOf(request), 'troubled')
      throw new ApiProblem(0, say('app.no_answer'), say('app.no_answer_how'))
    }
    if (isRead && response.status >= 500) failed(pathOf(request), 'troubled')
    else if (isRead) heard(pathOf(request))
    const spoken = response.headers.get('Content-Language')
    if (spoken !== null && spoken !== language.value && !pathOf(request).startsWith('/api/session')) onOtherLanguage()
    if (response.ok) return response
    if (response.status === 401 && !request.url.endsWith('/api/session')) onSignedOut()
    const problem = (await response
      .clone()
      .json()
      .catch(() => null)) as Schemas['Problem'] | null
    throw new ApiProblem(
      response.status,
      problem?.title ?? say('app.no_answer'),
      problem?.detail ?? say('app.no_answer_how'),
    )
  },
  onError({ error, request }) {
    if (error instanceof ApiProblem) return error
    if (request.method === 'GET') failed(pathOf(request), 'gone')
    return new ApiProblem(0, say('app.no_connection'), say('app.no_connection_how'))
  },
}

/** What is asked for again and again, and holds no chats. */
const POLLED = /^\/api\/(trays|phones|wall|trays\/\d+|trays\/\d+\/readiness)$/
/** The last answer to each of these, with its mark: for as long as somebody is signed in, and in no browser's store. */
const shown = new Map<string, { mark: string; text: string }>()
export const forgetAnswers = (): void => shown.clear()

/** A request that gives up: nothing spins for ever, and none that hangs takes the place of the next. */
function patiently(request: Request): Promise<Response> {
  const end = new AbortController()
  const patience = request.method === 'GET' ? PATIENCE.read : PATIENCE.change
  const clock = setTimeout(() => end.abort(), LARGE.test(pathOf(request)) ? PATIENCE.large : patience)
  request.signal.addEventListener('abort', () => end.abort())
  const ask = request.method === 'GET' && POLLED.test(pathOf(request)) ? whatChanged : fetch
  return ask(request, { signal: end.signal }).finally(() => clearTimeout(clock))
}

/** Nothing travels twice: where the server says that nothing has changed, the last answer is the answer. */
async function whatChanged(request: Request, init: RequestInit): Promise<Response> {
  const path = pathOf(request)
  const last = shown.get(path)
  if (last) request.headers.set('If-None-Match', last.mark)
  const answer = await fetch(request, init)
  if (answer.status === 304 && last) {
    const headers = new Headers(answer.headers)
    headers.set('Content-Type', 'application/json')
    return new Response(last.text, { status: 200, headers })
  }
  const mark = answer.headers.get('ETag')
  if (answer.ok && mark !== null) shown.set(path, { mark, text: await answer.clone().text() })
  else shown.delete(path)
  return answer
}

export const api = createClient<paths>({ baseUrl: location.origin, fetch: patiently })
api.use(guard)

/** The body of an answer, or the problem as an exception. */
export async function body<T>(call: Promise<{ data?: T }>): Promise<T> {
  const { data } = await call.catch((error: unknown) => {
    // What can't be parsed is no answer either.
    throw error instanceof ApiProblem ? error : new ApiProblem(0, say('app.no_answer'), say('app.no_answer_how'))
  })
  if (data === undefined) throw new ApiProblem(0, say('app.no_answer'), say('app.no_answer_how'))
  return data
}
