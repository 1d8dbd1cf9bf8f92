import * as THREE from 'three'
import { LineSegments2 } from 'three/examples/jsm/lines/LineSegments2.js'
import { describe, expect, it, vi } from 'vitest'
import type { StepState } from '../api/live'
import type { Stage } from './stage'

vi.mock('../theme', () => ({ colour: (name: string) => name }))
const made: { points: number[]; colour: string; width: number }[] = []
vi.mock('./lines', async (real) => ({
  ...(await real<typeof import('./lines')>()),
  strokes: (points: number[], look: { colour: string; width: number }) => {
    made.push({ points, colour: look.colour, width: look.width })
    return new LineSegments2()
  },
}))
const { ReadingLayer } = await import('./readings')

const scene = new THREE.Scene()
const redraw = vi.fn()
const layer = new ReadingLayer({ scene, redraw } as unknown as Stage)
const reading = (points: number[], more: Partial<StepState> = {}): StepState =>
  ({ id: 'r', state: 'built', verdict: 'none', points, ...more }) as StepState
function drawn(kept: StepState[], measured: [number, number, number][] = []): typeof made {
  made.length = 0
  layer.draw(kept, measured)
  return [...made]
}

describe('leaders', () => {
  it('run between the foot points, with a bar across each end', () => {
    const [only] = drawn([reading([0, 0, 0, 100, 0, 0])])
    expect(only!.points).toEqual([0, 0, 0, 100, 0, 0, 0, 2, 0, 0, -2, 0, 100, 2, 0, 100, -2, 0])
  })

  it('have bars where they are upright too', () => {
    const [only] = drawn([reading([0, 0, 0, 0, 0, 50])])
    expect(only!.points.slice(6)).toEqual([1, 0, 0, -1, 0, 0, 1, 0, 50, -1, 0, 50])
  })

  it('show how they stand to their limits', () => {
    const three = (['none', 'near', 'fail'] as const).map((verdict) =>
      reading([0, 0, 0, 1, 0, 0], { verdict }),
    )
    expect(drawn(three).map((m) => m.colour)).toEqual(['muted', 'copper', 'alert'])
  })

  it('say by a thin line what they were projected from', () => {
    const both = drawn([reading([0, 0, 0, 10, 0, 0, 10, 5, 0])])
    expect(both[1]).toMatchObject({ points: [10, 0, 0, 10, 5, 0], width: 0.7 })
  })

  it('are left out for readings without two places, that fail, or of nothing', () => {
    expect(
      drawn([reading([]), reading([0, 0, 0]), reading([0, 0, 0, 1, 0, 0], { state: 'failed' })]),
    ).toEqual([])
    expect(drawn([reading([5, 5, 5, 5, 5, 5])])).toEqual([])
  })

  it('of what is being measured stand out, and everything before is cleared', () => {
    drawn([reading([0, 0, 0, 1, 0, 0])])
    const now = drawn(
      [],
      [
        [0, 0, 0],
        [4, 0, 0],
      ],
    )
    expect(now).toMatchObject([{ colour: 'accent', width: 1.8 }])
    expect(scene.children[0]!.children).toHaveLength(1)
    expect(redraw).toHaveBeenCalled()
  })
})
