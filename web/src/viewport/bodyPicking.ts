import * as THREE from 'three'
import type { Shown } from './bodyShape'

const EDGE_REACH = 7
const VERTEX_REACH = 9

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

/** What picking asks of the view. */
export interface PickView {
  ray(event: PointerEvent | MouseEvent): THREE.Ray
  /** Millimetres for a pixel at what is looked at. */
  perPixel(): number
}

/** Finds faces, edges and vertices of the bodies that are shown, by name. */
export class BodyPicker {
  constructor(
    private readonly view: PickView,
    private readonly bodies: () => readonly Shown[],
    /** Whether a place is cut away. */
    private readonly hidden: (p: THREE.Vector3) => boolean,
  ) {}

  /** Everything under the pointer in order of depth: faces gone through, and the edges and vertices near it, each before the
   * faces that meet there. */
  pickAll(event: PointerEvent | MouseEvent): string[] {
    const ray = this.view.ray(event)
    const reach = this.view.perPixel()
    const found: { name: string; depth: number }[] = []
    const meshes = this.bodies().map((s) => s.mesh)
    const sides = meshes.map((m) => (m.material as THREE.Material).side)
    // What is seen from behind counts as well.
    for (const m of meshes) (m.material as THREE.Material).side = THREE.DoubleSide
    const hits = new THREE.Raycaster(ray.origin, ray.direction).intersectObjects(meshes, false)
    meshes.forEach((m, i) => ((m.material as THREE.Material).side = sides[i]!))
    for (const hit of hits)
      if (!this.hidden(hit.point)) found.push({ name: this.faceOf(hit), depth: hit.distance })
    const [a, b, on] = [new THREE.Vector3(), new THREE.Vector3(), new THREE.Vector3()]
    for (const { message, edges, balls, vertices } of this.bodies()) {
      edges.forEach((points, i) => {
        if (!near(ray, balls[i]!, EDGE_REACH * reach)) return
        for (let k = 0; k + 5 < points.length; k += 3) {
          a.fromArray(points, k)
          b.fromArray(points, k + 3)
          if (
            Math.sqrt(ray.distanceSqToSegment(a, b, undefined, on)) < EDGE_REACH * reach &&
            !this.hidden(on)
          )
            found.push({ name: message.edges[i]!, depth: along(ray, on) - EDGE_REACH * reach })
        }
      })
      vertices.forEach((v, i) => {
        if (Math.sqrt(ray.distanceSqToPoint(v)) < VERTEX_REACH * reach && !this.hidden(v))
          found.push({ name: message.vertexNames[i]!, depth: along(ray, v) - 2 * EDGE_REACH * reach })
      })
    }
    return [...new Set(found.sort((x, y) => x.depth - y.depth).map((f) => f.name))].filter(Boolean)
  }

  /** How far along its ray the pointer first meets a body; infinity where it meets none. */
  depth(event: PointerEvent | MouseEvent): number {
    const ray = this.view.ray(event)
    const meshes = this.bodies().map((s) => s.mesh)
    return (
      new THREE.Raycaster(ray.origin, ray.direction).intersectObjects(meshes, false)[0]?.distance ?? Infinity
    )
  }

  /** The name of what is under the pointer: a vertex before an edge before a face, where faces count. */
  pick(event: PointerEvent | MouseEvent, faces = true): string {
    const ray = this.view.ray(event)
    const caster = new THREE.Raycaster(ray.origin, ray.direction)
    const hit = caster
      .intersectObjects(
        this.bodies().map((s) => s.mesh),
        false,
      )
      .find((h) => !this.hidden(h.point))
    const reach = this.view.perPixel()
    const depth = hit ? hit.distance : Infinity
    return (
      this.nearVertex(ray, VERTEX_REACH * reach, depth) ||
      this.nearEdge(ray, EDGE_REACH * reach, depth) ||
      (hit && faces ? this.faceOf(hit) : '')
    )
  }

  private faceOf(hit: THREE.Intersection): string {
    const shown = this.bodies().find((s) => s.mesh === hit.object)
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
    for (const { message, vertices } of this.bodies())
      vertices.forEach((v, i) => {
        const far = along(ray, v)
        if (far < depth + 2 * reach && !this.hidden(v))
          nearest.offer(message.vertexNames[i] ?? '', Math.sqrt(ray.distanceSqToPoint(v)), far)
      })
    return nearest.name
  }

  private nearEdge(ray: THREE.Ray, reach: number, depth: number): string {
    const nearest = new Nearest(reach)
    const [a, b, on] = [new THREE.Vector3(), new THREE.Vector3(), new THREE.Vector3()]
    for (const { message, edges, balls } of this.bodies())
      edges.forEach((points, i) => {
        if (!near(ray, balls[i]!, reach)) return
        for (let k = 0; k + 5 < points.length; k += 3) {
          a.fromArray(points, k)
          b.fromArray(points, k + 3)
          const d = Math.sqrt(ray.distanceSqToSegment(a, b, undefined, on))
          const far = along(ray, on)
          if (d < reach && far < depth + 2 * reach && !this.hidden(on))
            nearest.offer(message.edges[i] ?? '', d, far)
        }
      })
    return nearest.name
  }
}
