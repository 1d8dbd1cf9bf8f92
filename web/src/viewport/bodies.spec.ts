import * as THREE from 'three'
import { LineSegments2 } from 'three/examples/jsm/lines/LineSegments2.js'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { BodyMessage } from '../api/live'
import type { Stage } from './stage'

vi.stubGlobal('window', { addEventListener: () => undefined, removeEventListener: () => undefined })
vi.mock('../theme', () => ({ colour: () => '#888888' }))
const { BodyLayer } = await import('./bodies')

const bytes = (numbers: Float32Array | Uint32Array): Uint8Array => new Uint8Array(numbers.buffer)

/** A box from the origin to (w, d, h) as the server sends it: faces by their outward axis, edges and vertices along x only. */
function box(name: string, w: number, d: number, h: number, shift = 0): BodyMessage {
  const geometry = new THREE.BoxGeometry(w, d, h).translate(w / 2 + shift, d / 2, h / 2)
  const edge = (y: number, z: number): number[] => [shift, y, z, shift + w, y, z]
  const edges = [edge(0, 0), edge(d, 0), edge(0, h), edge(d, h)]
  return {
    name,
    key: name,
    positions: bytes(new Float32Array(geometry.getAttribute('position').array)),
    normals: bytes(new Float32Array(geometry.getAttribute('normal').array)),
    triangles: bytes(new Uint32Array(geometry.getIndex()!.array)),
    faceTriangles: [2, 2, 2, 2, 2, 2],
    edgePoints: bytes(new Float32Array(edges.flat())),
    edgeCounts: [2, 2, 2, 2],
    vertices: [shift, 0, h],
    faces: ['right', 'left', 'back', 'front', 'top', 'bottom'].map((f) => `${name}/${f}`),
    surfaces: Array.from({ length: 6 }, () => 'plane'),
    edges: ['front-low', 'back-low', 'front-high', 'back-high'].map((e) => `${name}/${e}`),
    vertexNames: [`${name}/corner`],
    volume: w * d * h,
    same: false,
    reference: false,
    colour: null,
  }
}

/** Seen from straight above, a tenth of a millimetre to the pixel. */
let ray = new THREE.Ray()
const scene = new THREE.Scene()
const stage = { scene, ray: () => ray, perPixel: () => 0.1, redraw: () => undefined } as unknown as Stage
const from = (x: number, y: number, z: number, dx = 0, dy = 0, dz = -1): MouseEvent => {
  ray = new THREE.Ray(new THREE.Vector3(x, y, z), new THREE.Vector3(dx, dy, dz))
  scene.updateMatrixWorld(true)
  return {} as MouseEvent
}

let layer: InstanceType<typeof BodyLayer>
beforeEach(() => {
  scene.clear()
  layer = new BodyLayer(stage)
  layer.setBodies([box('a', 20, 10, 5)])
})

describe('pick', () => {
  it('takes the face that is nearest', () => {
    expect(layer.pick(from(10, 5, 50))).toBe('a/top')
    expect(layer.pick(from(10, 5, -50, 0, 0, 1))).toBe('a/bottom')
    expect(layer.pick(from(10, -50, 2.5, 0, 1, 0))).toBe('a/front')
    expect(layer.pick(from(40, 5, 50))).toBe('')
  })

  it('takes an edge before a face, and a vertex before an edge, within reach', () => {
    expect(layer.pick(from(10, 0.5, 50))).toBe('a/front-high')
    expect(layer.pick(from(10, 0.8, 50))).toBe('a/top')
    expect(layer.pick(from(0.3, 0.4, 50))).toBe('a/corner')
  })

  it('passes over faces where only thin things are wanted', () => {
    expect(layer.pick(from(10, 5, 50), false)).toBe('')
    expect(layer.pick(from(10, 0.5, 50), false)).toBe('a/front-high')
  })

  it('takes no edge that lies behind the material', () => {
    // Straight from the front, the low edge at the back is behind the box.
    expect(layer.pick(from(10, -50, 0.9, 0, 1, 0))).toBe('a/front')
    expect(layer.pick(from(10, -50, 0.3, 0, 1, 0))).toBe('a/front-low')
  })

  it('takes the first of two edges that one sees as one', () => {
    for (const swap of [false, true]) {
      const message = box('a', 20, 10, 5)
      if (swap) {
        // The same edges in the other order: high ones first.
        const points = new Float32Array(message.edgePoints.slice().buffer)
        message.edgePoints = bytes(new Float32Array([...points.subarray(12), ...points.subarray(0, 12)]))
        message.edges = [...message.edges.slice(2), ...message.edges.slice(0, 2)]
      }
      layer.setBodies([message])
      expect(layer.pick(from(10, -0.4, 50))).toBe('a/front-high')
      expect(layer.pick(from(10, -0.4, -50, 0, 0, 1))).toBe('a/front-low')
    }
  })

  it('says how far it is to the material', () => {
    expect(layer.depth(from(10, 5, 50))).toBeCloseTo(45)
    expect(layer.depth(from(90, 5, 50))).toBe(Infinity)
  })

  it('tells bodies apart', () => {
    layer.setBodies([box('a', 20, 10, 5), box('b', 20, 10, 8, 40)])
    expect(layer.pick(from(50, 5, 50))).toBe('b/top')
    expect(layer.box().max.x).toBeCloseTo(60, 4)
  })
})

describe('pickAll', () => {
  it('lists what lies under the pointer in order of depth, from behind too', () => {
    expect(layer.pickAll(from(10, 5, 50))).toEqual(['a/top', 'a/bottom'])
    expect(layer.pickAll(from(10, 0.5, 50))).toEqual(['a/front-high', 'a/top', 'a/front-low', 'a/bottom'])
  })
})

describe('a section', () => {
  // What is above z = 3 is cut away.
  const below = (z: number): THREE.Plane => new THREE.Plane(new THREE.Vector3(0, 0, -1), z)

  it('lets the pointer through to what it opens', () => {
    layer.setSection(below(3))
    expect(layer.pick(from(10, 5, 50))).toBe('a/bottom')
    expect(layer.pickAll(from(10, 0.5, 50))).toEqual(['a/front-low', 'a/bottom'])
    layer.setSection(null)
    expect(layer.pick(from(10, 5, 50))).toBe('a/top')
  })

  it('has a cap across the cut, and no more than one', () => {
    const caps = (): number => {
      let found = 0
      scene.traverse((o) => {
        if (o instanceof THREE.Mesh && o.geometry instanceof THREE.PlaneGeometry) found++
      })
      return found
    }
    layer.setSection(below(3))
    layer.setSection(below(2))
    expect(caps()).toBe(1)
    layer.setSection(null)
    expect(caps()).toBe(0)
  })
})

describe('what is drawn', () => {
  const meshes = (): THREE.Mesh[] => {
    const found: THREE.Mesh[] = []
    scene.traverse((o) => {
      if (o instanceof THREE.Mesh && o.material instanceof THREE.MeshLambertMaterial) found.push(o)
    })
    return found
  }

  it('shows of a form that is being made only its own faces', () => {
    const made = box('e', 20, 10, 5)
    made.faces = made.faces.map((f, i) => (i < 2 ? f : `other/${i}`))
    made.edges = made.edges.map((_, i) => `other/${i}`)
    layer.setFresh([made], 'e', '#00ff00')
    const fresh = meshes().filter((m) => m.renderOrder === 4)
    expect(fresh).toHaveLength(1)
    expect(fresh[0]!.geometry.getIndex()!.count).toBe(4 * 3)
    layer.setFresh([], '', '#00ff00')
    expect(meshes().filter((m) => m.renderOrder === 4)).toHaveLength(0)
  })

  it('lets few edges of a form show through, and many only where they are seen', () => {
    const through = (edges: number): boolean => {
      const made = box('e', 20, 10, 5)
      made.edges = Array.from({ length: edges }, (_, i) => `e/${i}`)
      made.edgeCounts = made.edges.map(() => 2)
      made.edgePoints = bytes(new Float32Array(edges * 6).map((_, i) => i % 7))
      layer.setFresh([made], 'e', '#00ff00')
      let front: boolean | null = null
      scene.traverse((o) => {
        if (o instanceof LineSegments2 && o.material.color.getHexString() === '00ff00')
          front = !o.material.depthTest
      })
      return front!
    }
    expect([through(12), through(400)]).toEqual([true, false])
  })

  it('marks a face by its own triangles, and copies nothing else of the body', () => {
    layer.mark('a/top', ['a/right'])
    const marks = scene.children
      .flatMap((g) => g.children)
      .filter(
        (m): m is THREE.Mesh => m instanceof THREE.Mesh && m.material instanceof THREE.MeshBasicMaterial,
      )
    const [right, top] = marks.map((m) => new THREE.Box3().setFromObject(m))
    expect(marks.map((m) => m.geometry.getAttribute('position').count)).toEqual([6, 6])
    expect([top!.min.z, top!.max.z, top!.max.x, top!.max.y]).toEqual([5, 5, 20, 10])
    expect([right!.min.x, right!.max.x]).toEqual([20, 20])
  })

  it('is faint while a sketch is edited and see-through on wish', () => {
    const material = (): THREE.MeshLambertMaterial => meshes()[0]!.material as THREE.MeshLambertMaterial
    expect(material().transparent).toBe(false)
    layer.setFaint(true)
    expect(material().opacity).toBeLessThan(0.5)
    layer.setFaint(false)
    layer.setLook('through', null)
    expect(material().transparent).toBe(true)
    layer.setLook('wire', null)
    expect([material().transparent, material().colorWrite]).toEqual([false, false])
  })

  it('takes the colour of the file, else of the material, else of the theme', () => {
    const shade = (): string =>
      `#${(meshes()[0]!.material as THREE.MeshLambertMaterial).color.getHexString()}`
    expect(shade()).toBe('#888888')
    layer.setLook('edges', '#aa3300')
    expect(shade()).toBe('#aa3300')
    layer.setBodies([{ ...box('a', 1, 1, 1), colour: '#0000ff' }])
    expect(shade()).toBe('#0000ff')
  })

  it('draws a thread as a helix of its length and radius', () => {
    layer.setThreads([[0, 0, 0, 0, 0, 1, 3, 10, 1]])
    const helix = new THREE.Box3()
    scene.traverse((o) => {
      if (o instanceof THREE.LineSegments && o.geometry.getAttribute('position').count > 200)
        helix.expandByObject(o)
    })
    expect(helix.max.x).toBeCloseTo(3, 2)
    expect(helix.max.z).toBeGreaterThan(9.9)
    expect(helix.min.z).toBe(0)
  })
})
