import { describe, expect, it } from 'vitest'
import { SketchPlane, WORLD_PLANES } from './plane'
import * as THREE from 'three'

describe('SketchPlane', () => {
  it('finds where a ray meets it, in its own coordinates', () => {
    const plane = new SketchPlane(WORLD_PLANES['world/xz']!)
    const ray = new THREE.Ray(new THREE.Vector3(3, -50, 7), new THREE.Vector3(0, 1, 0))
    expect(plane.meet(ray)).toEqual({ x: 3, y: 7 })
  })

  it('cannot be drawn on when seen edge-on', () => {
    const plane = new SketchPlane(WORLD_PLANES['world/xy']!)
    expect(plane.meet(new THREE.Ray(new THREE.Vector3(), new THREE.Vector3(1, 0, 0)))).toBeNull()
  })

  it('is right-handed on every world plane', () => {
    for (const numbers of Object.values(WORLD_PLANES)) {
      const plane = new SketchPlane(numbers)
      expect(plane.normal.length()).toBeCloseTo(1)
      expect(plane.at(2, 3).sub(plane.origin).dot(plane.y)).toBeCloseTo(3)
    }
  })
})
