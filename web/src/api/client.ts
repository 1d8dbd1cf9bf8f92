import createClient from 'openapi-fetch'
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
export type PartCommand = components['schemas']['PartCommand']

/** A request that does not reach the server is answered like one that it refuses, without saying why. */
export const reach = (...request: Parameters<typeof fetch>): Promise<Response> =>
  fetch(...request).catch(() => Response.json({}, { status: 503 }))

export const api = createClient<paths>({ baseUrl: '/', fetch: reach })

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
