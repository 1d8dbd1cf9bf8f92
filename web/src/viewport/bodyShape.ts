import * as THREE from 'three'
import { acceleratedRaycast, computeBoundsTree, disposeBoundsTree } from 'three-mesh-bvh'
import type { BodyMessage } from '../api/live'
import { colour } from '../theme'
import { strokes } from './lines'

THREE.BufferGeometry.prototype.computeBoundsTree = computeBoundsTree
THREE.BufferGeometry.prototype.disposeBoundsTree = disposeBoundsTree
THREE.Mesh.prototype.raycast = acceleratedRaycast

/** A body as it is drawn and pointed at. */
export interface Shown {
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

/** Numbers out of bytes that may lie anywhere. */
export function floats(bytes: Uint8Array): Float32Array {
  return new Float32Array(bytes.slice().buffer)
}

/** The segments of a line through places. */
export function pairs(points: Float32Array): number[] {
  const segments: number[] = []
  for (let i = 0; i + 5 < points.length; i += 3) segments.push(...points.subarray(i, i + 6))
  return segments
}

function ball(points: Float32Array): THREE.Sphere {
  const box = new THREE.Box3().setFromArray(points)
  return box.getBoundingSphere(new THREE.Sphere())
}

/** What is drawn of a body, with what it is pointed at by. */
export function shapeOf(message: BodyMessage): Shown {
  const geometry = new THREE.BufferGeometry()
  geometry.setAttribute('position', new THREE.BufferAttribute(floats(message.positions), 3))
  geometry.setAttribute('normal', new THREE.BufferAttribute(floats(message.normals), 3))
  geometry.setIndex(new THREE.BufferAttribute(new Uint32Array(message.triangles.slice().buffer), 1))
  geometry.computeBoundsTree({ indirect: true })
  const material = new THREE.MeshLambertMaterial({
    color: colour('body'),
    polygonOffset: true,
    // Where triangles of a file lie on a body, as a scan of it does, the body is what is seen.
    polygonOffsetFactor: message.reference ? 4 : 1.5,
    polygonOffsetUnits: message.reference ? 8 : 2,
  })
  const mesh = new THREE.Mesh(geometry, material)
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
  const balls = edges.map((points) => ball(points))
  const vertices: THREE.Vector3[] = []
  for (let i = 0; i < message.vertices.length; i += 3)
    vertices.push(new THREE.Vector3(...(message.vertices.slice(i, i + 3) as [number, number, number])))
  return { message, mesh, starts, edges, balls, vertices, strokes: drawn }
}
