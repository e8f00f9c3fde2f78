import createClient, { type Middleware } from 'openapi-fetch'
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

let token = ''
let onSignedOut: () => void = () => undefined

export const setToken = (value: string): void => {
  token = value
}
export const whenSignedOut = (act: () => void): void => {
  onSignedOut = act
}

const guard: Middleware = {
  onRequest({ request }) {
    if (request.method !== 'GET') request.headers.set('X-Geschenk-Token', token)
    return request
  },
  async onResponse({ request, response }) {
    if (response.ok) return response
    if (response.status === 401 && !request.url.endsWith('/api/session')) onSignedOut()
    const problem = (await response
      .clone()
      .json()
      .catch(() => null)) as Schemas['Problem'] | null
    throw new ApiProblem(
      response.status,
      problem?.title ?? 'No answer',
      problem?.detail ?? 'The server did not answer as expected. Try again in a moment.',
    )
  },
  onError({ error }) {
    return error instanceof ApiProblem
      ? error
      : new ApiProblem(
          0,
          'No connection',
          'The server can’t be reached. Work on the trays goes on; this page comes back by itself.',
        )
  },
}

export const api = createClient<paths>({ baseUrl: location.origin, fetch: (request) => fetch(request) })
api.use(guard)

/** The body of an answer, or the problem as an exception. */
export async function body<T>(call: Promise<{ data?: T }>): Promise<T> {
  const { data } = await call
  if (data === undefined) throw new ApiProblem(0, 'No answer', 'The server sent nothing. Try again in a moment.')
  return data
}
