import createClient from 'openapi-fetch'
import { ref } from 'vue'
import { busy } from './busy'
import type { components, paths } from './schema'

export type PartSnapshot = components['schemas']['PartSnapshot']
export type StepView = components['schemas']['StepView']
export type SketchView = components['schemas']['SketchView']
export type DimensionView = components['schemas']['DimensionView']
export type EntityView = components['schemas']['EntityView']
export type PartListing = components['schemas']['PartListing']
export type AccountView = components['schemas']['AccountView']
export type AccountKept = components['schemas']['AccountKept']
export type ToolView = components['schemas']['ToolView']
export type FormatView = components['schemas']['FormatView']
export type PartCommand = components['schemas']['PartCommand']

/** A request that does not reach the server is answered like one that it refuses, without saying why. */
export const reach = (...request: Parameters<typeof fetch>): Promise<Response> =>
  busy(fetch(...request).catch(() => Response.json({}, { status: 503 })))

/** Requests that wait because the server cannot do them just now. */
export const waiting = ref(0)

/** How often a request is sent once more, and after how many seconds at most. */
const MOST_TRIES = 8
const LONGEST_WAIT = 10

/** What may be sent twice: what only asks, and edits, which name the revision that they were made on. */
const repeats = (request: Request): boolean =>
  request.method === 'GET' || /\/(commands|undo|redo)$/.test(new URL(request.url).pathname)

/** Sends a request again by itself while the server says that it cannot do it just now and when to ask again. */
export async function patient(request: Request): Promise<Response> {
  for (let tries = 1; ; tries++) {
    const answer = await reach(request.clone())
    const after = Number(answer.headers.get('Retry-After'))
    if (answer.status !== 503 || !after || !repeats(request) || tries === MOST_TRIES) return answer
    waiting.value++
    await new Promise((go) => setTimeout(go, Math.min(after, LONGEST_WAIT) * 1000))
    waiting.value--
  }
}

export const api = createClient<paths>({ baseUrl: '/', fetch: patient })

/** A refusal as problem details (RFC 9457). */
export interface Problem {
  detail?: string | null
  code?: string
  where?: string | null
  involved?: string[]
  status?: number | null
}

/** What is wrong, in words. */
export function reason(error: unknown): string {
  const problem = error as Problem | undefined
  if (problem?.detail) return problem.detail
  return problem?.status
    ? 'Something went wrong on the server. Nothing was changed; try again.'
    : 'The server could not be reached. Nothing was changed; try again.'
}
