import * as THREE from 'three'
import type { BodyMessage } from '../api/live'
import { colour } from '../theme'
import { floats, pairs } from './bodyShape'
import { clear, hairs, strokes } from './lines'

/** Above so many edges, those of a preview do not show through what is in front of them. */
const FEW_EDGES = 48

/** Threads that are drawn and not modelled, as helices. */
export function drawThreads(into: THREE.Group, threads: number[][]): void {
  clear(into)
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
    into.add(hairs(pairs(new Float32Array(points)), { colour: colour('body-edge'), width: 0.8, own: true }))
  }
}

/** Draws what a form would make: the faces that bear its name, in the colour of added or taken material; without a name, all of them. */
export function drawFresh(into: THREE.Group, messages: BodyMessage[], step: string, tint: string): void {
  clear(into)
  for (const message of messages) {
    const positions = new THREE.BufferAttribute(floats(message.positions), 3)
    const normals = new THREE.BufferAttribute(floats(message.normals), 3)
    const triangles = new Uint32Array(message.triangles.slice().buffer)
    const mine: number[] = []
    let at = 0
    message.faceTriangles.forEach((n, i) => {
      if (!step || message.faces[i]!.startsWith(`${step}/`))
        mine.push(...triangles.subarray(3 * at, 3 * (at + n)))
      at += n
    })
    if (mine.length > 0) {
      const geometry = new THREE.BufferGeometry()
      geometry.setAttribute('position', positions)
      geometry.setAttribute('normal', normals)
      geometry.setIndex(mine)
      const material = new THREE.MeshLambertMaterial({
        color: tint,
        side: THREE.DoubleSide,
        transparent: true,
        opacity: 0.82,
      })
      const mesh = new THREE.Mesh(geometry, material)
      mesh.renderOrder = 4
      into.add(mesh)
    }
    const points = floats(message.edgePoints)
    const segments: number[] = []
    let count = 0
    at = 0
    message.edgeCounts.forEach((n, i) => {
      if (!step || message.edges[i]!.includes(`${step}/`)) {
        segments.push(...pairs(points.subarray(3 * at, 3 * (at + n))))
        count++
      }
      at += n
    })
    // Few edges show through what is in front of them; many would hide everything.
    const few = count <= FEW_EDGES
    if (segments.length > 0) into.add(strokes(segments, { colour: tint, width: few ? 2 : 1, front: few }))
  }
}
