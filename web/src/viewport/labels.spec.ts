import * as THREE from 'three'
import { describe, expect, it } from 'vitest'
import type { SketchView, StepView } from '../api/client'
import type { GaugeValue } from '../api/gauge'
import type { StepState } from '../api/live'
import { failureLabels, readingLabels, sketchLabels, spread, type Label } from './labels'
import { SketchPlane, WORLD_PLANES } from '../stores/plane'
import type { Stage } from './stage'

/** A picture where a millimetre is a pixel, seen from above, with y downwards. */
const stage = { toScreen: (p: THREE.Vector3) => ({ x: p.x, y: -p.y }) } as unknown as Stage
const reading = (id: string, more: Partial<StepView> = {}): StepView =>
  ({ id, name: id, kind: 'reading', hidden: null, ...more }) as StepView
const state = (points: number[], more: Partial<StepState> = {}): StepState =>
  ({ state: 'built', reading: '12 mm', points, verdict: 'none', message: '', ...more }) as StepState
const label = (id: string, x: number, y: number, text = id): Label => ({ id, text, kind: 'reading', x, y })

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

  it('leaves what is being measured its place and moves what is kept', () => {
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
    expect(Math.abs(kept!.y - now!.y)).toBeGreaterThanOrEqual(17)
  })
})

describe('spread', () => {
  it('leaves alone what does not meet', () => {
    const apart = [label('a', 0, 0), label('b', 0, 17), label('c', 100, 0)]
    expect(spread(apart)).toEqual(apart)
  })

  it('moves the later one by one line, down first', () => {
    expect(spread([label('a', 0, 0), label('b', 4, 3)]).map((l) => l.y)).toEqual([0, 20])
  })

  it('parts a heap so that none covers another', () => {
    const heap = Array.from({ length: 9 }, (_, i) => label(`value ${i}`, i, 2 * i))
    const done = spread(heap)
    for (const [i, a] of done.entries())
      for (const b of done.slice(i + 1)) expect(Math.abs(a.y - b.y)).toBeGreaterThanOrEqual(17 - 1e-6)
    expect(done.map((l) => l.x)).toEqual(heap.map((l) => l.x))
  })

  it('gives up rather than moving a label far away', () => {
    const crowd = Array.from({ length: 40 }, (_, i) => label(`n${i}`, 0, 0))
    expect(Math.max(...spread(crowd).map((l) => Math.abs(l.y)))).toBeLessThanOrEqual(6 * 17)
  })

  it('knows that long words reach further', () => {
    const long = 'a very long name of a reading 123.456 mm'
    expect(spread([label('a', 0, 0, long), label('b', 90, 0)])[1]!.y).not.toBe(0)
    expect(spread([label('a', 0, 0), label('b', 90, 0)])[1]!.y).toBe(0)
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
