import createClient from 'openapi-fetch'
import type { components, paths } from './schema'

export type PartSnapshot = components['schemas']['PartSnapshot']
export type StepView = components['schemas']['StepView']
export type SketchView = components['schemas']['SketchView']
export type DimensionView = components['schemas']['DimensionView']
export type EntityView = components['schemas']['EntityView']
export type PartListing = components['schemas']['PartListing']
export type ToolView = components['schemas']['ToolView']
export type PartCommand = components['schemas']['PartCommand']

export const api = createClient<paths>({ baseUrl: '/' })

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
  return problem?.detail ?? 'The server could not be reached. Nothing was changed; try again.'
}
