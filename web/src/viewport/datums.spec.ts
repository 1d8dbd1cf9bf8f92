import * as THREE from 'three'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { DatumAnswer } from '../api/datums'
import type { Stage } from './stage'

vi.mock('../theme', () => ({ colour: () => '#888888' }))
const { DatumLayer } = await import('./datums')
type Shown = Parameters<InstanceType<typeof DatumLayer>['show']>[0][number]

/** Seen from straight above, a tenth of a millimetre to the pixel. */
let ray = new THREE.Ray()
const scene = new THREE.Scene()
const stage = { scene, ray: () => ray, perPixel: () => 0.1, redraw: () => undefined } as unknown as Stage
const over = (x: number, y: number): MouseEvent => {
  ray = new THREE.Ray(new THREE.Vector3(x, y, 100), new THREE.Vector3(0, 0, -1))
  scene.updateMatrixWorld(true)
  return {} as MouseEvent
}
const FLAT = [0, 0, 0, 1, 0, 0, 0, 1, 0]
const at = (x: number, y: number, z: number): number[] => [x, y, z, 1, 0, 0, 0, 1, 0]
const datum = (
  name: string,
  kind: Shown['kind'],
  numbers: number[],
  extent = 10,
  drawn: number[] = [],
): Shown => ({
  name,
  label: name.toUpperCase(),
  kind,
  numbers,
  drawn,
  extent,
  faint: false,
})

let layer: InstanceType<typeof DatumLayer>
beforeEach(() => {
  scene.clear()
  layer = new DatumLayer(stage)
})

describe('picking datums', () => {
  beforeEach(() =>
    layer.show(
      [
        datum('plane', 'plane', FLAT, 40),
        datum('axis', 'axis', at(0, 20, 5), 30),
        datum('point', 'point', at(10, 20.4, 5)),
        datum('frame', 'frame', at(-20, -20, 0), 20),
        datum('curve', 'curve', [], 0, [20, 0, 0, 20, 10, 0, 25, 15, 0]),
      ],
      '',
      [],
    ),
  )

  it('takes points before lines before planes', () => {
    expect(layer.pick(over(0, 0))).toBe('plane')
    expect(layer.pick(over(-5, 20.3))).toBe('axis')
    expect(layer.pick(over(10, 20.1))).toBe('point')
    expect(layer.pick(over(90, 0))).toBe('')
  })

  it('reaches a line only as far as it is drawn', () => {
    expect(layer.pick(over(29, 20))).toBe('axis')
    expect(layer.near(over(31, 20))).toBe('')
    expect(layer.near(over(22.5, 12.5))).toBe('curve')
  })

  it('tells the directions of a frame from its origin', () => {
    expect(layer.near(over(-20, -20))).toBe('frame')
    expect(layer.near(over(-13, -20))).toBe('frame/x')
    expect(layer.near(over(-20, -12))).toBe('frame/y')
  })

  it('passes over what lies behind the material', () => {
    expect(layer.near(over(10, 20.4), 95)).toBe('point')
    expect(layer.near(over(10, 20.4), 80)).toBe('')
  })

  it('writes every name where its datum is', () => {
    const labels = layer.labels()
    expect(labels.map((l) => l.text)).toEqual(['PLANE', 'AXIS', 'POINT', 'FRAME', 'CURVE'])
    expect(labels[1]!.at.toArray()).toEqual([30, 20, 5])
  })

  it('reaches over points and lines for the fit, planes left out', () => {
    expect(layer.box().min.toArray()).toEqual([-30, -20, 0])
    expect(layer.box().max.x).toBe(30)
  })
})

describe('entities of sketches', () => {
  it('are picked like datums', () => {
    layer.setSketchTargets([
      { name: 's/l', places: [new THREE.Vector3(0, 0, 0), new THREE.Vector3(10, 0, 0)] },
      { name: 's/p', places: [new THREE.Vector3(10, 0, 0)] },
    ])
    expect(layer.near(over(5, 0.4))).toBe('s/l')
    expect(layer.near(over(9.8, 0.3))).toBe('s/p')
    expect(layer.near(over(5, 2))).toBe('')
  })
})

describe('the bench', () => {
  const solution = (z: number): object => ({
    label: `${z}`,
    frame: { origin: [0, 0, z], x: [1, 0, 0], y: [0, 1, 0] },
  })
  const answer = (grips: ([number, number, number] | null)[] = []): DatumAnswer =>
    ({
      draft: { makes: 'plane' },
      solutions: [solution(5), solution(-5)],
      chosen: 0,
      extensions: [],
      fields: grips.map((grip, i) => ({ name: `f${i}`, grip, way: i === 0 ? [0, 0, 1] : [1, 0, 0] })),
    }) as unknown as DatumAnswer

  it('finds the solution that is nearest under the pointer', () => {
    layer.drawAnswer(answer(), 20)
    over(3, 3)
    expect(layer.solutionAt(ray)).toBe(0)
    ray = new THREE.Ray(new THREE.Vector3(3, 3, -100), new THREE.Vector3(0, 0, 1))
    expect(layer.solutionAt(ray)).toBe(1)
    over(50, 0)
    expect(layer.solutionAt(ray)).toBe(-1)
    layer.drawAnswer(null, 20)
    over(3, 3)
    expect(layer.solutionAt(ray)).toBe(-1)
  })

  it('grips a value by its handle, within reach', () => {
    layer.drawAnswer(answer([[0, 0, 5], null]), 20)
    expect(layer.gripAt(over(1, 0))?.field).toBe('f0')
    expect(layer.gripAt(over(2, 0))).toBeNull()
    expect(layer.gripPlaces()).toHaveLength(1)
  })

  it('pulls apart handles that sit at one place, and knows by how much', () => {
    layer.drawAnswer(
      answer([
        [0, 0, 5],
        [0, 0, 5],
      ]),
      20,
    )
    const [up, along] = layer.gripPlaces()
    expect(up!.at.z).toBeCloseTo(5 + 4.6)
    expect(along!.at.x).toBeCloseTo(4.6)
    expect(along!.off.toArray()).toEqual([4.6000000000000005, 0, 0])
    expect(layer.gripAt(over(4.6, 0))?.field).toBe('f1')
  })

  it('grips the turn of a frame about one axis at a time, and its shifts always', () => {
    const frame = {
      ...answer(),
      draft: { makes: 'frame' },
      fields: ['x', 'y', 'z', 'about x', 'about y', 'about z'].map((name, i) => ({
        name,
        grip: [i, 0, 0],
        way: [0, 0, 1],
      })),
    } as unknown as DatumAnswer
    layer.drawAnswer(frame, 20)
    expect(layer.gripPlaces().map((g) => g.field)).toEqual(['x', 'y', 'z', 'about z'])
    layer.drawAnswer(frame, 20, 'x')
    expect(layer.gripPlaces().map((g) => g.field)).toEqual(['x', 'y', 'z', 'about x'])
  })

  it('shows the handles of a form in place of its own', () => {
    layer.drawAnswer(answer([[0, 0, 5]]), 20)
    layer.drawGrips([{ field: 'length', at: [9, 9, 9], way: [0, 0, 1] }])
    expect(layer.gripPlaces().map((g) => g.field)).toEqual(['length'])
    over(3, 3)
    expect(layer.solutionAt(ray)).toBe(-1)
  })
})
