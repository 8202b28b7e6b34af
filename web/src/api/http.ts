import createClient from 'openapi-fetch'
import type { components, paths } from './schema'
import { windowId } from './window'

export type Schemas = components['schemas']

export const client = createClient<paths>({ baseUrl: '/' })
client.use({ onRequest: ({ request }) => request.headers.set('X-Window', windowId()) })

export const ACCEPTED = 202 // it is being made

/** A refusal by the server, in its own words. */
export class Refused extends Error {
  /** Did another revision come in between? */
  readonly stale: boolean

  constructor(message: string, stale = false) {
    super(message)
    this.stale = stale
  }
}

/** What the server says in the body of a refusal; `otherwise` where it says nothing. It names the newest revision where that is the reason. */
export function refusedBy(body: unknown, otherwise: string): Refused {
  const said = body as { message?: string; head?: number | null } | null
  return new Refused(said?.message ?? otherwise, said?.head != null)
}

export async function refusal(response: Response, body?: unknown): Promise<Refused> {
  const said = body ?? (await response.json().catch(() => null))
  return refusedBy(said, response.status === 413 ? 'The file is too large. Nothing was stored.' : `The server answered ${response.status}. Is it still running?`)
}

export type Answer = Promise<{ data?: unknown; error?: unknown; response: Response }>

/** The answer, or the refusal thrown. The client widens tuples to arrays, so the type is said here. */
export async function wanted<T>(request: Answer): Promise<T> {
  const { data, error, response } = await request
  if (data === undefined) throw await refusal(response, error)
  return data as T
}

/** Returns once something is done that has no answer; a refusal is thrown in the server's words. */
export async function done(request: Answer): Promise<void> {
  const { error, response } = await request
  if (!response.ok) throw await refusal(response, error)
}
