import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { SketchView } from '../api/client'
import type { MotionMessage } from '../api/live'
import { playMotion } from './motion'
import type { SketchLayer } from './sketches'

/** Frames that come when they are let; time in milliseconds. */
let frames: ((now: number) => void)[] = []
let now = 0
beforeEach(() => {
  frames = []
  now = 0
  vi.stubGlobal('performance', { now: () => now })
  vi.stubGlobal('requestAnimationFrame', (f: (now: number) => void) => frames.push(f))
  vi.stubGlobal('cancelAnimationFrame', () => (frames = []))
})
afterEach(() => vi.unstubAllGlobals())
function at(time: number): void {
  now = time
  const due = frames
  frames = []
  due.forEach((f) => f(now))
}

/** A line from p to q, a circle about q and a path; p moves along x, the circle about q grows and q stays. */
const view = {
  entities: [
    { id: 'p', kind: 'point', numbers: [0, 0] },
    { id: 'q', kind: 'point', numbers: [10, 0] },
    { id: 'l', kind: 'line', numbers: [0, 0, 10, 0] },
    { id: 'c', kind: 'circle', numbers: [10, 0, 3] },
    { id: 's', kind: 'path', numbers: [0, 0, 5, 5] },
  ],
} as unknown as SketchView
const motion = {
  moves: { p: [1, 0], c: [0.5] },
  paths: { s: [0, 0, 0, 2] },
} as unknown as MotionMessage
const drawn: Record<string, number[]>[] = []
const layer = {
  drawCurves: (entities: { id: string; numbers: number[] }[]) =>
    drawn.push(Object.fromEntries(entities.map((e) => [e.id, e.numbers]))),
} as unknown as SketchLayer

describe('a remaining motion', () => {
  beforeEach(() => (drawn.length = 0))

  it('moves what moves, as far as is asked, and leaves the rest', () => {
    playMotion(layer, view, motion, 4)
    at(350)
    const quarter = drawn[0]!
    expect(quarter.p![0]).toBeCloseTo(4, 9)
    expect(quarter.q).toEqual([10, 0])
    expect(quarter.l![0]).toBeCloseTo(4, 9)
    expect(quarter.l!.slice(2)).toEqual([10, 0])
    expect(quarter.c![2]).toBeCloseTo(5, 9)
    expect(quarter.s![3]).toBeCloseTo(13, 9)
    at(1050)
    expect(drawn[1]!.p![0]).toBeCloseTo(-4, 9)
  })

  it('ends where it began', () => {
    playMotion(layer, view, motion, 4)
    at(700)
    at(5000)
    expect(drawn.at(-1)).toEqual({ p: [0, 0], q: [10, 0], l: [0, 0, 10, 0], c: [10, 0, 3], s: [0, 0, 5, 5] })
    expect(frames).toEqual([])
  })

  it('stops when it is told', () => {
    const stop = playMotion(layer, view, motion, 4)
    at(100)
    stop()
    at(200)
    expect(drawn).toHaveLength(1)
  })
})
