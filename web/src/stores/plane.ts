import * as THREE from 'three'

/** A plane with its own axes: where a sketch lies. Numbers are origin, x, y. */
export class SketchPlane {
  readonly origin: THREE.Vector3
  readonly x: THREE.Vector3
  readonly y: THREE.Vector3
  readonly normal: THREE.Vector3

  constructor(numbers: number[]) {
    const at = (i: number): THREE.Vector3 => new THREE.Vector3(numbers[i], numbers[i + 1], numbers[i + 2])
    this.origin = at(0)
    this.x = at(3)
    this.y = at(6)
    this.normal = this.x.clone().cross(this.y)
  }

  at(x: number, y: number): THREE.Vector3 {
    return this.origin.clone().addScaledVector(this.x, x).addScaledVector(this.y, y)
  }

  /** Where a ray meets the plane, in its own coordinates; null when seen edge-on. */
  meet(ray: THREE.Ray): { x: number; y: number } | null {
    const slope = ray.direction.dot(this.normal)
    if (Math.abs(slope) < 1e-3) return null
    const t = this.origin.clone().sub(ray.origin).dot(this.normal) / slope
    const p = ray.origin.clone().addScaledVector(ray.direction, t).sub(this.origin)
    return { x: p.dot(this.x), y: p.dot(this.y) }
  }
}

export const WORLD_PLANES: Record<string, number[]> = {
  'world/xy': [0, 0, 0, 1, 0, 0, 0, 1, 0],
  'world/yz': [0, 0, 0, 0, 1, 0, 0, 0, 1],
  'world/xz': [0, 0, 0, 1, 0, 0, 0, 0, 1],
}
