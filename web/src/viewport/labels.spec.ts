import * as THREE from 'three'
import { describe, expect, it } from 'vitest'
import type { SketchView, StepView } from '../api/client'
import type { GaugeValue } from '../api/gauge'
import type { StepState } from '../api/live'
import { failureLabels, readingLabels, sketchLabels } from './labels'
import { SketchPlane, WORLD_PLANES } from '../stores/plane'
import type { Stage } from './stage'

/** A picture where a millimetre is a pixel, seen from above, with y downwards. */
const stage = { toScreen: (p: THREE.Vector3) => ({ x: p.x, y: -p.y }) } as unknown as Stage
const reading = (id: string, more: Partial<StepView> = {}): StepView =>
  ({ id, name: id, kind: 'reading', hidden: null, ...more }) as StepView
const state = (points: number[], more: Partial<StepState> = {}): StepState =>
  ({ state: 'built', reading: '12 mm', points, verdict: 'none', message: '', ...more }) as StepState

describe('readingLabels', () => {
  const steps = [reading('width'), reading('gone'), reading('hidden', { hidden: true })]
  const states = new Map([
    ['width', state([0, 0, 0, 20, 0, 0])],
    ['gone', state([0, 0, 0])],
    ['hidden', state([0, 0, 0, 1, 0, 0])],
  ])

  it('writes the name and the value half-way between the foot points, above the leader', () => {
    expect(readingLabels(stage, steps, states, null)).toEqual([
      { id: 'width', text: 'width 12 mm', kind: 'reading', x: 10, y: -11 },
    ])
  })

  it('tells a failing limit apart', () => {
    const failing = new Map([['width', state([0, 0, 0, 20, 0, 0], { verdict: 'fail' })]])
    expect(readingLabels(stage, steps, failing, null)[0]!.kind).toBe('reading-fail')
  })

  it('writes what is being measured below its leader, first of all', () => {
    const near = new Map([['width', state([0, 0, 0, 20, 0, 0])]])
    const measured = {
      shown: '12.1 mm',
      points: [
        [0, 20, 0],
        [20, 20, 0],
      ],
    } as unknown as GaugeValue
    const [now, kept] = readingLabels(stage, [reading('width')], near, measured)
    expect(now).toMatchObject({ id: 'measured', y: -20 - 11 + 22 })
    expect(kept).toMatchObject({ id: 'width', y: -11 })
  })
})

describe('sketchLabels', () => {
  const plane = new SketchPlane(WORLD_PLANES['world/xy']!)
  const view = {
    dimensions: [{ id: 'd1', text: '20 mm' }],
    constraints: [
      { id: 'c1', kind: 'equal-length', of: ['a', 'b'], at: [5, 5] },
      { id: 'c2', kind: 'parallel', of: ['a', 'b'], at: [5, 5] },
      { id: 'c3', kind: 'parallel', of: ['c', 'd'], at: [90, 5] },
    ],
    issues: [{ kind: 'open-end', words: 'The outline is open here.', at: [1, 2] }],
  } as unknown as SketchView

  it('puts sizes where their text was put, and marks of one place side by side', () => {
    const labels = sketchLabels(stage, plane, view, () => [3, 4])
    const written = sketchLabels(
      stage,
      plane,
      view,
      () => [3, 4],
      (id) => (id === view.dimensions[0]!.id ? 'H7' : ''),
    )
    expect(written.filter((l) => l.kind === 'dimension').map((l) => l.text)).toEqual(
      view.dimensions.map((d, i) => (i === 0 ? `${d.text} H7` : d.text)),
    )
    expect(labels[0]).toEqual({ id: 'd1', text: '20 mm', kind: 'dimension', x: 3, y: -4 })
    const marks = labels.filter((l) => l.kind === 'constraint')
    expect(marks.map((m) => m.x)).toEqual([16, 31, 101])
    expect(marks[0]!.title).toBe('equal length a, b')
  })

  it('says what is wrong where it is', () => {
    const issue = sketchLabels(stage, plane, view, () => [0, 0]).find((l) => l.kind === 'issue')
    expect(issue).toMatchObject({ x: 1, y: -2, title: 'The outline is open here.' })
  })
})

describe('failureLabels', () => {
  it('marks every place that a message speaks of', () => {
    const marks = failureLabels(stage, { message: 'It is too tight.', points: [1, 2, 3, 4, 5, 6] })
    expect(marks.map((m) => [m.x, m.y])).toEqual([
      [1, -2],
      [4, -5],
    ])
    expect(marks.every((m) => m.title === 'It is too tight.')).toBe(true)
    expect(new Set(marks.map((m) => m.id)).size).toBe(2)
  })
})
