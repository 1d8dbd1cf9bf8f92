import * as THREE from 'three'
import { strokes } from './lines'
import { kept } from './looks'
import type { SketchPlane } from '../stores/plane'

/** The corners of a square about a plane's origin, from its middle to its sides. */
export function square(plane: SketchPlane, size: number): THREE.Vector3[] {
  return [plane.at(-size, -size), plane.at(size, -size), plane.at(size, size), plane.at(-size, size)]
}

/** The sides of a closed row of corners, as segments. */
export function rim(corners: THREE.Vector3[]): number[] {
  return corners.flatMap((c, i) => [...c, ...corners[(i + 1) % corners.length]!])
}

/** Four corners filled, seen from both sides. */
export function sheet(corners: THREE.Vector3[], tint: string, opacity: number): THREE.Mesh {
  const geometry = new THREE.BufferGeometry().setFromPoints(corners)
  geometry.setIndex([0, 1, 2, 0, 2, 3])
  return new THREE.Mesh(
    geometry,
    kept(
      `sheet ${tint} ${opacity}`,
      () =>
        new THREE.MeshBasicMaterial({
          color: tint,
          transparent: true,
          opacity,
          side: THREE.DoubleSide,
          depthWrite: false,
        }),
    ),
  )
}

/** Points of one size on the screen, over everything. */
export function dots(at: THREE.Vector3[], tint: string, size: number): THREE.Points {
  const points = new THREE.Points(
    new THREE.BufferGeometry().setFromPoints(at),
    kept(
      `dots ${tint} ${size}`,
      () =>
        new THREE.PointsMaterial({
          color: tint,
          size,
          sizeAttenuation: false,
          depthTest: false,
          transparent: true,
        }),
    ),
  )
  points.renderOrder = 12
  return points
}

/** A round handle. */
export function ball(at: THREE.Vector3, radius: number, tint: string, strong: boolean): THREE.Mesh {
  const mesh = new THREE.Mesh(
    new THREE.SphereGeometry(radius, 20, 14),
    kept(
      `ball ${tint} ${strong}`,
      () =>
        new THREE.MeshBasicMaterial({
          color: tint,
          transparent: true,
          opacity: strong ? 1 : 0.5,
          depthTest: false,
        }),
    ),
  )
  mesh.position.copy(at)
  mesh.updateMatrixWorld(true)
  mesh.renderOrder = 12
  return mesh
}

/** An arrow with its head. */
export function arrow(
  from: THREE.Vector3,
  way: THREE.Vector3,
  length: number,
  tint: string,
): THREE.ArrowHelper {
  return new THREE.ArrowHelper(way.clone().normalize(), from, length, tint, length * 0.3, length * 0.14)
}

/** The three directions of a frame. */
export function triad(plane: SketchPlane, arm: number, width: number): THREE.Object3D[] {
  const ways: [THREE.Vector3, string][] = [
    [plane.x, '#c2574a'],
    [plane.y, '#5a8f4e'],
    [plane.normal, '#4a6fa5'],
  ]
  return ways.map(([way, tint]) =>
    strokes([...plane.origin, ...plane.origin.clone().addScaledVector(way, arm)], {
      colour: tint,
      width,
      front: true,
    }),
  )
}

/** A row of places as segments. */
export function segments(places: THREE.Vector3[]): number[] {
  return places.slice(1).flatMap((p, i) => [...places[i]!, ...p])
}

/** How near a ray comes to a place, if that is no deeper than a limit. */
export function toPoint(ray: THREE.Ray, p: THREE.Vector3, limit: number): number {
  return p.clone().sub(ray.origin).dot(ray.direction) < limit ? Math.sqrt(ray.distanceSqToPoint(p)) : Infinity
}

/** How near a ray comes to a row of places, as far as that is not deeper than a limit. */
export function toRow(ray: THREE.Ray, places: THREE.Vector3[], limit: number): number {
  let best = Infinity
  const on = new THREE.Vector3()
  for (let i = 0; i + 1 < places.length; i++) {
    const d = ray.distanceSqToSegment(places[i]!, places[i + 1]!, on)
    if (d < best && on.sub(ray.origin).dot(ray.direction) < limit) best = d
  }
  return Math.sqrt(best)
}
