import * as THREE from 'three'
import type { SketchView, StepView } from '../api/client'
import type { GaugeValue } from '../api/gauge'
import type { StepState } from '../api/live'
import type { SketchPlane } from '../stores/plane'
import type { Stage } from './stage'

/** How far above its leader a value stands, in pixels. */
const ABOVE = 11
/** Something written at a place of the picture. */
export interface Label {
  id: string
  text: string
  kind: string
  x: number
  y: number
  title?: string
}

/** Sizes with their tolerances as `written`, constraints and what is wrong with a sketch. */
export function sketchLabels(
  stage: Stage,
  plane: SketchPlane,
  view: SketchView,
  placeOf: (d: SketchView['dimensions'][number]) => [number, number],
  written: (dimension: string) => string = () => '',
): Label[] {
  const sized = (d: SketchView['dimensions'][number]): string => `${d.text} ${written(d.id)}`.trim()
  const on = (x: number, y: number): { x: number; y: number } => stage.toScreen(plane.at(x, y))
  const crowd = new Map<string, number>()
  return [
    ...view.dimensions.map((d) => ({ id: d.id, text: sized(d), kind: 'dimension', ...on(...placeOf(d)) })),
    ...view.constraints.map((c) => {
      const at = on(c.at[0]!, c.at[1]!)
      const key = `${Math.round(at.x / 8)},${Math.round(at.y / 8)}`
      const n = crowd.get(key) ?? 0
      crowd.set(key, n + 1)
      const title = `${c.kind.replace(/-/g, ' ')} ${c.of.join(', ')}`
      return { id: c.id, text: c.kind, kind: 'constraint', x: at.x + 11 + 15 * n, y: at.y + 11, title }
    }),
    ...view.issues.map((issue, i) => ({
      id: `issue${i}`,
      text: issue.kind,
      kind: 'issue',
      ...on(issue.at[0]!, issue.at[1]!),
      title: issue.words,
    })),
  ]
}

/** The values of readings, half-way between their foot points, and of what is being measured. */
export function readingLabels(
  stage: Stage,
  steps: readonly StepView[],
  states: ReadonlyMap<string, StepState>,
  measured: Pick<GaugeValue, 'shown' | 'points'> | null,
): Label[] {
  const between = (p: number[]): { x: number; y: number } => {
    const [a, b] = [new THREE.Vector3().fromArray(p), new THREE.Vector3().fromArray(p, 3)]
    const at = stage.toScreen(a.add(b).multiplyScalar(0.5))
    return { x: at.x, y: at.y - ABOVE }
  }
  const kept = steps.flatMap((step) => {
    const state = states.get(step.id)
    if (step.kind !== 'reading' || !state?.reading || state.points.length < 6 || step.hidden === true)
      return []
    const kind = state.verdict === 'fail' ? 'reading-fail' : 'reading'
    return [{ id: step.id, text: `${step.name} ${state.reading}`, kind, ...between(state.points) }]
  })
  if (!measured || measured.points.length < 2) return kept
  // Below its leader, where the value of a reading that is kept there does not stand.
  const { x, y } = between(measured.points.flat())
  const now = { id: 'measured', text: measured.shown, kind: 'measured', x, y: y + 2 * ABOVE }
  return [now, ...kept]
}

/** The places that the message of a failing step speaks of. */
export function failureLabels(stage: Stage, step: { message: string; points: number[] }): Label[] {
  const places = Array.from({ length: Math.floor(step.points.length / 3) }, (_, i) =>
    stage.toScreen(new THREE.Vector3().fromArray(step.points, 3 * i)),
  )
  return places.map((at, i) => ({
    id: `${step.message}${i}`,
    text: 'failing',
    kind: 'issue',
    ...at,
    title: step.message,
  }))
}
