import * as THREE from 'three'
import { LineSegments2 } from 'three/examples/jsm/lines/LineSegments2.js'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { SketchView } from '../api/client'
import type { CurveMessage } from '../api/live'
import { SketchPlane } from '../stores/plane'
import { temper } from '../temper'
import type { Stage } from './stage'

const pen = new Proxy({}, { get: () => () => undefined, set: () => true })
vi.stubGlobal('window', { devicePixelRatio: 1 })
vi.stubGlobal('document', { createElement: () => ({ getContext: () => pen }) })
const tints: Record<string, string> = {
  steel: '#000001',
  bronze: '#000002',
  copper: '#000003',
  amber: '#000004',
}
vi.mock('../theme', () => ({ colour: (name: string) => tints[name] ?? '#00000f' }))
const { SketchLayer, movedIn } = await import('./sketches')

const scene = new THREE.Scene()
const stage = { scene, perPixel: () => 0.1, redraw: () => undefined } as unknown as Stage
/** Upright, facing the viewer, with its origin at (100, 0, 0). */
const plane = new SketchPlane([100, 0, 0, 1, 0, 0, 0, 0, 1])
const entity = (
  id: string,
  kind: string,
  numbers: number[],
  freedoms = 0,
  construction = false,
): CurveMessage => ({ id, kind, numbers, freedoms, construction }) as CurveMessage
const square = (r: number): number[] => [-r, -r, r, -r, r, r, -r, r]
const view = {
  entities: [
    entity('p', 'point', [3, 4]),
    entity('l', 'line', [0, 0, 10, 0], 1),
    entity('c', 'circle', [0, 0, 5], 3),
    entity('a', 'arc', [0, 0, 2, 0, Math.PI / 2], 0, true),
  ],
  constraints: [],
  dimensions: [
    {
      id: 'd',
      drawing: { lines: [0, 5, 10, 5], arrows: [0, 5, -1, 0, 10, 5, 1, 0], arc: [], textAt: [5, 6] },
    },
  ],
  regions: [
    { key: 'ring', outer: square(20), holes: [square(8)] },
    { key: 'core', outer: square(8), holes: [] },
  ],
} as unknown as SketchView

const strokesIn = (): LineSegments2[] => {
  const found: LineSegments2[] = []
  scene.traverse((o) => {
    if (o instanceof LineSegments2) found.push(o)
  })
  return found
}
const from = (x: number, z: number): THREE.Ray =>
  new THREE.Ray(new THREE.Vector3(100 + x, -50, z), new THREE.Vector3(0, 1, 0))

beforeEach(() => scene.clear())

describe('a sketch in the picture', () => {
  it('lies on its plane', () => {
    const layer = new SketchLayer(stage, plane, view, false)
    const box = layer.box()
    expect(box.min.x).toBeCloseTo(95)
    expect(box.max.x).toBeCloseTo(110)
    expect([box.min.y, box.max.y]).toEqual([0, 0])
    expect(box.max.z).toBeCloseTo(5, 1)
  })

  it('names its entities as references, a point by one place and a curve by a row', () => {
    const targets = new SketchLayer(stage, plane, view, false).targets('s')
    expect(targets.map((t) => t.name)).toEqual(['s/p', 's/l', 's/c', 's/a'])
    expect(targets[0]!.places.map((p) => p.toArray())).toEqual([[103, 0, 4]])
    expect(targets[1]!.places).toHaveLength(2)
    const arc = targets[3]!.places
    expect(arc[0]!.toArray()).toEqual([102, 0, 0])
    expect(arc.at(-1)!.x).toBeCloseTo(100)
    expect(arc.at(-1)!.z).toBeCloseTo(2)
  })

  it('is gone when it is removed', () => {
    const layer = new SketchLayer(stage, plane, view, true)
    layer.remove()
    expect(scene.children).toHaveLength(0)
  })
})

describe('the code of freedoms', () => {
  it.each([
    [0, 'steel'],
    [1, 'bronze'],
    [2, 'copper'],
    [3, 'amber'],
    [7, 'amber'],
  ])('%i is %s', (freedoms, name) => expect(temper(freedoms)).toBe(name))

  it('shows without colour as well: width and dashes differ', () => {
    const layer = new SketchLayer(stage, plane, { ...view, regions: [], entities: [] }, true)
    const looks = (freedoms: number, construction: boolean): string => {
      const before = new Set(strokesIn())
      layer.drawCurves([entity('l', 'line', [0, 0, 1, 0], freedoms, construction)])
      const drawn = strokesIn().find((s) => !before.has(s))!.material
      return `${drawn.linewidth} ${drawn.dashed ? drawn.dashSize : 'solid'}`
    }
    const all = [looks(0, false), looks(1, false), looks(3, false), looks(0, true)]
    expect(new Set(all).size).toBe(all.length)
  })

  it('is not shown of a sketch that is not open', () => {
    new SketchLayer(stage, plane, view, false)
    const colours = strokesIn().map((s) => s.material.color.getHexString())
    expect(new Set(colours)).toEqual(new Set(['00000f']))
  })
})

describe('regions', () => {
  it('are found under the pointer, holes left out', () => {
    const layer = new SketchLayer(stage, plane, view, true)
    layer.drawRegions(['core'])
    scene.updateMatrixWorld(true)
    expect(layer.regionAt(from(15, 0))).toBe('ring')
    expect(layer.regionAt(from(0, 0))).toBe('core')
    expect(layer.regionAt(from(30, 0))).toBe('')
  })

  it('that are chosen are filled more strongly', () => {
    const layer = new SketchLayer(stage, plane, view, true)
    layer.drawRegions(['core'])
    const fills: Record<string, number> = {}
    scene.traverse((o) => {
      if (o.userData.key)
        fills[o.userData.key as string] = ((o as THREE.Mesh).material as THREE.Material).opacity
    })
    expect(fills.core).toBeGreaterThan(fills.ring! * 2)
  })
})

describe('what a tool shows', () => {
  it('tells what comes from what goes and from what only explains', () => {
    const layer = new SketchLayer(stage, plane, { ...view, entities: [], regions: [] }, false)
    const roles = ['', 'gone', 'guide'].map((role, i) => ({ ...entity(role, 'line', [0, i, 1, i]), role }))
    layer.drawPreview(roles as CurveMessage[], null)
    expect(strokesIn().map((s) => s.material.dashed)).toEqual([false, true, true])
    layer.drawPreview([], null)
    expect(strokesIn()).toHaveLength(0)
  })

  it('points to the snap with its guides, but not where the pointer is free', () => {
    const layer = new SketchLayer(stage, plane, { ...view, entities: [], regions: [] }, false)
    layer.drawPreview([], { kind: 'middle', at: [5, 5], guides: [0, 5, 5, 0] })
    expect(strokesIn()).toHaveLength(1)
    layer.drawPreview([], { kind: 'free', at: [5, 5], guides: [0, 5] })
    expect(strokesIn()).toHaveLength(0)
  })

  it('bands what clashes by short strokes across it', () => {
    const layer = new SketchLayer(stage, plane, { ...view, regions: [] }, false)
    const before = strokesIn().length
    layer.mark('', [], ['l'])
    const band = strokesIn().slice(before)
    expect(band).toHaveLength(1)
    expect([band[0]!.material.dashed, band[0]!.material.linewidth]).toEqual([true, 11])
    layer.mark('', [], [])
    expect(strokesIn()).toHaveLength(before)
  })

  it('draws arrows of one size on the screen', () => {
    const layer = new SketchLayer(stage, plane, { ...view, entities: [], regions: [] }, false)
    layer.drawDimensions()
    const heads: THREE.BufferAttribute[] = []
    scene.traverse((o) => {
      if (o instanceof THREE.Mesh && !(o instanceof LineSegments2))
        heads.push(o.geometry.getAttribute('position') as THREE.BufferAttribute)
    })
    expect(heads).toHaveLength(1)
    expect(heads[0]!.count).toBe(6)
    // Nine pixels long at a tenth of a millimetre each, drawn back from the tip.
    expect(heads[0]!.getX(0)).toBeCloseTo(100)
    expect(heads[0]!.getX(1)).toBeCloseTo(100.9)
    expect(heads[0]!.getX(4)).toBeCloseTo(109.1)
  })

  it('draws what a drag moves, and all as it was when nothing came of it', () => {
    const layer = new SketchLayer(stage, plane, { ...view, regions: [] }, false)
    const ends = (): number[] =>
      strokesIn().flatMap((s) =>
        [...(s.geometry.getAttribute('instanceStart') as THREE.InterleavedBufferAttribute).data.array].map(
          Math.round,
        ),
      )
    const before = ends()
    layer.drawMoved([0, 2, 5, 4, 1, 4, 0, 0, 12, 1])
    expect(ends()).toContain(112)
    expect(ends()).not.toEqual(before)
    layer.settle()
    expect(ends()).toEqual(before)
  })

  it('reads places, counts and numbers', () => {
    const was = [{ numbers: [1] }, { numbers: [2, 3] }]
    expect(movedIn(was, [1, 2, 8, 9])).toEqual([{ numbers: [1] }, { numbers: [8, 9] }])
    expect(movedIn(was, [7, 1, 5])).toEqual(was)
  })
})
