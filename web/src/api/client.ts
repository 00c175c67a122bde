/** The typed door to the server; every refusal becomes a Refusal with the server's words. */
import createClient from 'openapi-fetch'
import type { Clash, paths, Problem as Told, TerrainAsked } from '@/api/schema'

let visit = new AbortController()
/** What changes a job is carried to its end wherever the person goes meanwhile. */
const CARRIED = /\/(edits|undo|redo)$/

/** Questions about a job end when it is left: an answer about one is never taken for one about another. */
function asked(request: Request): Promise<Response> {
  const path = new URL(request.url).pathname
  const ofJob = path.startsWith('/api/jobs/') && !CARRIED.test(path)
  return fetch(ofJob ? new Request(request, { signal: AbortSignal.any([request.signal, visit.signal]) }) : request)
}

export const api = createClient<paths>({ baseUrl: location.origin, fetch: asked })

export interface Problem {
  status: number
  title: string
  detail: string
  /** What a page has to tell apart. */
  why?: Told['why']
  clashes?: readonly Clash[]
  revision?: number | null
  /** The change an undo was about to step over. */
  target?: number | null
}

/** The server understood and said no. */
export class Refusal extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail)
  }
}

/** The server was not reached, or cannot keep anything just now; worth trying again. */
export class Unreachable extends Error {}

/** The job was left before the answer came. */
export class Left extends Unreachable {
  constructor() {
    super('The job was left before this was done.')
  }
}

/** End every question about the job that is left. */
export function leaveJob(): void {
  visit.abort(new Left())
  visit = new AbortController()
}

function isProblem(body: unknown): body is Problem {
  return typeof body === 'object' && body !== null && 'detail' in body && 'status' in body
}

/** Throw what a failed response means. */
export function refuse(response: Response, body: unknown): never {
  if (response.status === 503 || response.status === 502 || response.status === 504) {
    throw new Unreachable(isProblem(body) ? body.detail : 'The server cannot keep anything just now.')
  }
  if (isProblem(body)) throw new Refusal(body)
  throw new Refusal({ status: response.status, title: 'Refused', detail: `The server answered ${response.status}.` })
}

/** Await a call of the client: its data, or a Refusal or Unreachable. */
export async function take<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let result
  try {
    result = await call
  } catch (error) {
    if (error instanceof Left) throw error
    if (error instanceof DOMException && error.name === 'AbortError') throw error
    throw new Unreachable('The server was not reached.')
  }
  if (result.data === undefined) refuse(result.response, result.error)
  return result.data
}

/** A file, and fields beside it, as the body of a call; the generated types know a file as a string. */
export function inForm<More extends Readonly<Record<string, number | string | Readonly<Record<string, string>>>>>(
  file: Blob,
  name: string,
  more: More = {} as More,
): { file: string } & More {
  const form = new FormData()
  form.append('file', file, name)
  for (const [key, value] of Object.entries(more)) {
    form.append(key, typeof value === 'object' ? JSON.stringify(value) : String(value))
  }
  return form as unknown as { file: string } & More
}

/** The bytes of a layer of the air; Unreachable when the server is not, a Refusal when it says no. */
export function fetchTerrain(jobId: string, body: Partial<TerrainAsked>): Promise<ArrayBuffer> {
  const params = { path: { job_id: jobId } }
  const call = api.POST('/api/jobs/{job_id}/air/terrain', {
    params,
    body: body as TerrainAsked,
    parseAs: 'arrayBuffer',
  })
  return take(call as Promise<{ data?: ArrayBuffer; error?: unknown; response: Response }>)
}
