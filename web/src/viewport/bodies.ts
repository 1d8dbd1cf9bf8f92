import * as THREE from 'three'
import { acceleratedRaycast, computeBoundsTree, disposeBoundsTree } from 'three-mesh-bvh'
import type { BodyMessage } from '../api/live'
import { colour } from '../theme'
import type { LookMode } from '../stores/look'
import { clear, strokes } from './lines'
import { SectionCaps } from './section'
import type { Stage } from './stage'

THREE.BufferGeometry.prototype.computeBoundsTree = computeBoundsTree
THREE.BufferGeometry.prototype.disposeBoundsTree = disposeBoundsTree
THREE.Mesh.prototype.raycast = acceleratedRaycast

const EDGE_REACH = 7
const VERTEX_REACH = 9
const FEW_EDGES = 48

interface Shown {
  message: BodyMessage
  mesh: THREE.Mesh
  /** First triangle of each face, and one past the last. */
  starts: number[]
  edges: Float32Array[]
  /** Balls about the edges, to pass over those that the pointer is nowhere near. */
  balls: THREE.Sphere[]
  vertices: THREE.Vector3[]
  strokes: THREE.Object3D | null
}

function floats(bytes: Uint8Array): Float32Array {
  return new Float32Array(bytes.slice().buffer)
}

function pairs(points: Float32Array): number[] {
  const segments: number[] = []
  for (let i = 0; i + 5 < points.length; i += 3) segments.push(...points.subarray(i, i + 6))
  return segments
}

function ball(points: Float32Array): THREE.Sphere {
  const box = new THREE.Box3().setFromArray(points)
  return box.getBoundingSphere(new THREE.Sphere())
}

function near(ray: THREE.Ray, ball: THREE.Sphere, reach: number): boolean {
  const r = ball.radius + reach
  return ray.distanceSqToPoint(ball.center) <= r * r
}

function along(ray: THREE.Ray, p: THREE.Vector3): number {
  return (
    (p.x - ray.origin.x) * ray.direction.x +
    (p.y - ray.origin.y) * ray.direction.y +
    (p.z - ray.origin.z) * ray.direction.z
  )
}

/** What comes nearest to a ray; of what comes equally near, the first along it. */
class Nearest {
  name = ''
  private depth = Infinity

  constructor(
    /** How near something has to come, and then the nearest so far. */
    private best: number,
    private readonly alike = best * 0.05,
  ) {}

  offer(name: string, distance: number, depth: number): void {
    const nearer = distance < this.best - (this.name ? this.alike : 0)
    const before = distance < this.best + this.alike && depth < this.depth && this.name !== ''
    if (nearer || before) [this.name, this.best, this.depth] = [name, distance, depth]
  }
}

/** Bodies shaded with their edges, with hover and picks of faces, edges and vertices by name. */
export class BodyLayer {
  private readonly group = new THREE.Group()
  private readonly marks = new THREE.Group()
  private readonly fresh = new THREE.Group()
  private readonly threads = new THREE.Group()
  private readonly caps = new SectionCaps()
  private mode: LookMode = 'edges'
  private tint: string | null = null
  private cut: THREE.Plane | null = null
  private faint = false
  private shown: Shown[] = []
  private marked = ''

  constructor(private readonly stage: Stage) {
    stage.scene.add(this.group, this.marks, this.fresh, this.threads, this.caps.group)
    window.addEventListener('themechange', this.repaint)
  }

  dispose(): void {
    window.removeEventListener('themechange', this.repaint)
  }

  setBodies(messages: BodyMessage[]): void {
    clear(this.group)
    this.shown = messages.map((m) => this.show(m))
    this.marked = ''
    clear(this.marks)
    this.caps.set(this.cut, this.cut ? this.shown.map((s) => s.mesh) : [])
    this.dress()
  }

  /** Draws the bodies faintly while a sketch is edited. */
  setFaint(faint: boolean): void {
    this.faint = faint
    this.dress()
  }

  /** Shaded with or without edges, see-through, or edges alone; in the colour of the material where it has one. */
  setLook(mode: LookMode, tint: string | null): void {
    ;[this.mode, this.tint] = [mode, tint]
    this.dress()
  }

  /** Cuts the picture; the half that the plane's normal points to stays. */
  setSection(plane: THREE.Plane | null): void {
    this.cut = plane
    this.caps.set(plane, plane ? this.shown.map((s) => s.mesh) : [])
    this.dress()
  }

  private dress(): void {
    const through = this.faint || this.mode === 'through'
    const planes = this.cut ? [this.cut] : null
    this.threads.visible = this.mode !== 'shaded'
    for (const thread of this.threads.children)
      ((thread as THREE.Mesh).material as THREE.Material).clippingPlanes = planes
    for (const { message, mesh, strokes: edges } of this.shown) {
      const material = mesh.material as THREE.MeshStandardMaterial
      material.color.set(
        message.colour ?? (message.reference ? colour('reference') : (this.tint ?? colour('body'))),
      )
      material.transparent = through
      material.opacity = through ? 0.42 : 1
      material.depthWrite = !through
      material.colorWrite = this.mode !== 'wire'
      if (this.mode === 'wire') material.depthWrite = false
      // Triangles of a file may be open.
      material.side = this.cut || message.reference ? THREE.DoubleSide : THREE.FrontSide
      material.clippingPlanes = planes
      material.needsUpdate = true
      if (!edges) continue
      edges.visible = this.mode !== 'shaded'
      const line = (edges as THREE.Mesh).material as THREE.Material
      line.clippingPlanes = planes
      line.needsUpdate = true
    }
    this.stage.redraw()
  }

  /** Everything under the pointer in order of depth: faces gone through, and the edges and vertices near it, each before the
   * faces that meet there. */
  pickAll(event: PointerEvent | MouseEvent): string[] {
    const ray = this.stage.ray(event)
    const reach = this.stage.perPixel()
    const found: { name: string; depth: number }[] = []
    const meshes = this.shown.map((s) => s.mesh)
    const sides = meshes.map((m) => (m.material as THREE.Material).side)
    // What is seen from behind counts as well.
    for (const m of meshes) (m.material as THREE.Material).side = THREE.DoubleSide
    const hits = new THREE.Raycaster(ray.origin, ray.direction).intersectObjects(meshes, false)
    meshes.forEach((m, i) => ((m.material as THREE.Material).side = sides[i]!))
    for (const hit of hits)
      if (!this.caps.hides(hit.point)) found.push({ name: this.faceOf(hit), depth: hit.distance })
    const [a, b, on] = [new THREE.Vector3(), new THREE.Vector3(), new THREE.Vector3()]
    for (const { message, edges, balls, vertices } of this.shown) {
      edges.forEach((points, i) => {
        if (!near(ray, balls[i]!, EDGE_REACH * reach)) return
        for (let k = 0; k + 5 < points.length; k += 3) {
          a.fromArray(points, k)
          b.fromArray(points, k + 3)
          if (
            Math.sqrt(ray.distanceSqToSegment(a, b, undefined, on)) < EDGE_REACH * reach &&
            !this.caps.hides(on)
          )
            found.push({ name: message.edges[i]!, depth: along(ray, on) - EDGE_REACH * reach })
        }
      })
      vertices.forEach((v, i) => {
        if (Math.sqrt(ray.distanceSqToPoint(v)) < VERTEX_REACH * reach && !this.caps.hides(v))
          found.push({ name: message.vertexNames[i]!, depth: along(ray, v) - 2 * EDGE_REACH * reach })
      })
    }
    return [...new Set(found.sort((x, y) => x.depth - y.depth).map((f) => f.name))].filter(Boolean)
  }

  /** Threads that are drawn and not modelled, as helices. */
  setThreads(threads: number[][]): void {
    clear(this.threads)
    for (const [x, y, z, dx, dy, dz, r, length, pitch] of threads as [
      number,
      number,
      number,
      number,
      number,
      number,
      number,
      number,
      number,
    ][]) {
      const way = new THREE.Vector3(dx, dy, dz)
      const turn = new THREE.Quaternion().setFromUnitVectors(new THREE.Vector3(0, 0, 1), way)
      const points: number[] = []
      const steps = Math.min(4000, Math.max(24, Math.ceil((length / pitch) * 24)))
      for (let i = 0; i <= steps; i++) {
        const s = (length * i) / steps
        const a = (2 * Math.PI * s) / pitch
        const p = new THREE.Vector3(r * Math.cos(a), r * Math.sin(a), s).applyQuaternion(turn)
        points.push(p.x + x, p.y + y, p.z + z)
      }
      this.threads.add(
        strokes(pairs(new Float32Array(points)), { colour: colour('body-edge'), width: 0.8, own: true }),
      )
    }
    this.stage.redraw()
  }

  /** Draws what a form would make: the faces that bear its name, in the colour of added or taken material. */
  setFresh(messages: BodyMessage[], step: string, tint: string): void {
    clear(this.fresh)
    for (const message of messages) {
      const positions = new THREE.BufferAttribute(floats(message.positions), 3)
      const normals = new THREE.BufferAttribute(floats(message.normals), 3)
      const triangles = new Uint32Array(message.triangles.slice().buffer)
      const mine: number[] = []
      let at = 0
      message.faceTriangles.forEach((n, i) => {
        if (message.faces[i]!.startsWith(`${step}/`)) mine.push(...triangles.subarray(3 * at, 3 * (at + n)))
        at += n
      })
      if (mine.length > 0) {
        const geometry = new THREE.BufferGeometry()
        geometry.setAttribute('position', positions)
        geometry.setAttribute('normal', normals)
        geometry.setIndex(mine)
        const material = new THREE.MeshStandardMaterial({
          color: tint,
          roughness: 0.8,
          side: THREE.DoubleSide,
          transparent: true,
          opacity: 0.82,
        })
        const mesh = new THREE.Mesh(geometry, material)
        mesh.renderOrder = 4
        this.fresh.add(mesh)
      }
      const points = floats(message.edgePoints)
      const segments: number[] = []
      let count = 0
      at = 0
      message.edgeCounts.forEach((n, i) => {
        if (message.edges[i]!.includes(`${step}/`)) {
          segments.push(...pairs(points.subarray(3 * at, 3 * (at + n))))
          count++
        }
        at += n
      })
      // Few edges show through what is in front of them; many would hide everything.
      const few = count <= FEW_EDGES
      if (segments.length > 0)
        this.fresh.add(strokes(segments, { colour: tint, width: few ? 2 : 1, front: few }))
    }
    this.stage.redraw()
  }

  box(): THREE.Box3 {
    const box = new THREE.Box3()
    for (const { mesh } of this.shown) box.expandByObject(mesh)
    return box
  }

  /** How far along its ray the pointer first meets a body; infinity where it meets none. */
  depth(event: PointerEvent | MouseEvent): number {
    const ray = this.stage.ray(event)
    const meshes = this.shown.map((s) => s.mesh)
    return (
      new THREE.Raycaster(ray.origin, ray.direction).intersectObjects(meshes, false)[0]?.distance ?? Infinity
    )
  }

  /** The name of what is under the pointer: a vertex before an edge before a face, where faces count. */
  pick(event: PointerEvent | MouseEvent, faces = true): string {
    const ray = this.stage.ray(event)
    const caster = new THREE.Raycaster(ray.origin, ray.direction)
    const hit = caster
      .intersectObjects(
        this.shown.map((s) => s.mesh),
        false,
      )
      .find((h) => !this.caps.hides(h.point))
    const reach = this.stage.perPixel()
    const depth = hit ? hit.distance : Infinity
    return (
      this.nearVertex(ray, VERTEX_REACH * reach, depth) ||
      this.nearEdge(ray, EDGE_REACH * reach, depth) ||
      (hit && faces ? this.faceOf(hit) : '')
    )
  }

  /** Names of all faces that are shown. */
  get faces(): string[] {
    return this.shown.flatMap((s) => s.message.faces)
  }

  /** Marks what is picked and under the pointer; `lit` are faces with how strongly, from -1 to 1. */
  mark(hover: string, picks: string[], lit: Map<string, number> = new Map()): void {
    const key = [hover, ...picks, ...[...lit].map(([face, share]) => `${face} ${share}`)].join('\n')
    if (key === this.marked) return
    this.marked = key
    clear(this.marks)
    for (const [name, share] of lit)
      this.paintMark(name, colour(share < 0 ? 'copper' : 'steel'), 0.15 + 0.6 * Math.abs(share))
    for (const name of picks) this.paintMark(name, colour('picked'), 0.55)
    if (hover && !picks.includes(hover)) this.paintMark(hover, colour('hover'), 0.4)
    this.stage.redraw()
  }

  private readonly repaint = (): void => this.setBodies(this.shown.map((s) => s.message))

  private show(message: BodyMessage): Shown {
    const geometry = new THREE.BufferGeometry()
    geometry.setAttribute('position', new THREE.BufferAttribute(floats(message.positions), 3))
    geometry.setAttribute('normal', new THREE.BufferAttribute(floats(message.normals), 3))
    geometry.setIndex(new THREE.BufferAttribute(new Uint32Array(message.triangles.slice().buffer), 1))
    geometry.computeBoundsTree({ indirect: true })
    const material = new THREE.MeshStandardMaterial({
      color: colour('body'),
      roughness: 0.75,
      metalness: 0.1,
      polygonOffset: true,
      // Where triangles of a file lie on a body, as a scan of it does, the body is what is seen.
      polygonOffsetFactor: message.reference ? 4 : 1.5,
      polygonOffsetUnits: message.reference ? 8 : 2,
    })
    const mesh = new THREE.Mesh(geometry, material)
    this.group.add(mesh)
    const starts = [0]
    for (const n of message.faceTriangles) starts.push(starts.at(-1)! + n)
    const points = floats(message.edgePoints)
    const edges: Float32Array[] = []
    let at = 0
    for (const n of message.edgeCounts) {
      edges.push(points.subarray(3 * at, 3 * (at + n)))
      at += n
    }
    const segments = edges.flatMap(pairs)
    const drawn =
      segments.length > 0 ? strokes(segments, { colour: colour('body-edge'), width: 1.3, own: true }) : null
    if (drawn) this.group.add(drawn)
    const balls = edges.map((points) => ball(points))
    const vertices: THREE.Vector3[] = []
    for (let i = 0; i < message.vertices.length; i += 3)
      vertices.push(new THREE.Vector3(...(message.vertices.slice(i, i + 3) as [number, number, number])))
    return { message, mesh, starts, edges, balls, vertices, strokes: drawn }
  }

  private faceOf(hit: THREE.Intersection): string {
    const shown = this.shown.find((s) => s.mesh === hit.object)
    if (!shown || hit.faceIndex === undefined || hit.faceIndex === null) return ''
    let [low, high] = [0, shown.starts.length - 1]
    while (high - low > 1) {
      const middle = (low + high) >> 1
      if (shown.starts[middle]! <= hit.faceIndex) low = middle
      else high = middle
    }
    return shown.message.faces[low] ?? ''
  }

  private nearVertex(ray: THREE.Ray, reach: number, depth: number): string {
    const nearest = new Nearest(reach)
    for (const { message, vertices } of this.shown)
      vertices.forEach((v, i) => {
        const far = along(ray, v)
        if (far < depth + 2 * reach && !this.caps.hides(v))
          nearest.offer(message.vertexNames[i] ?? '', Math.sqrt(ray.distanceSqToPoint(v)), far)
      })
    return nearest.name
  }

  private nearEdge(ray: THREE.Ray, reach: number, depth: number): string {
    const nearest = new Nearest(reach)
    const [a, b, on] = [new THREE.Vector3(), new THREE.Vector3(), new THREE.Vector3()]
    for (const { message, edges, balls } of this.shown)
      edges.forEach((points, i) => {
        if (!near(ray, balls[i]!, reach)) return
        for (let k = 0; k + 5 < points.length; k += 3) {
          a.fromArray(points, k)
          b.fromArray(points, k + 3)
          const d = Math.sqrt(ray.distanceSqToSegment(a, b, undefined, on))
          const far = along(ray, on)
          if (d < reach && far < depth + 2 * reach && !this.caps.hides(on))
            nearest.offer(message.edges[i] ?? '', d, far)
        }
      })
    return nearest.name
  }

  private paintMark(name: string, tint: string, opacity: number): void {
    for (const { message, mesh, starts, edges, vertices } of this.shown) {
      const face = message.faces.indexOf(name)
      if (face >= 0) {
        const geometry = new THREE.BufferGeometry()
        geometry.setAttribute('position', mesh.geometry.getAttribute('position').clone())
        const index = mesh.geometry.getIndex()!.array.slice(3 * starts[face]!, 3 * starts[face + 1]!)
        geometry.setIndex(new THREE.BufferAttribute(index as Uint32Array, 1))
        const material = new THREE.MeshBasicMaterial({
          color: tint,
          transparent: true,
          opacity,
          side: THREE.DoubleSide,
        })
        material.polygonOffset = true
        material.polygonOffsetFactor = -1
        this.marks.add(new THREE.Mesh(geometry, material))
      }
      const edge = message.edges.indexOf(name)
      if (edge >= 0) this.marks.add(strokes(pairs(edges[edge]!), { colour: tint, width: 4, front: true }))
      const vertex = message.vertexNames.indexOf(name)
      if (vertex >= 0) {
        const geometry = new THREE.BufferGeometry().setFromPoints([vertices[vertex]!])
        this.marks.add(
          new THREE.Points(
            geometry,
            new THREE.PointsMaterial({ color: tint, size: 11, sizeAttenuation: false, depthTest: false }),
          ),
        )
      }
    }
  }
}
