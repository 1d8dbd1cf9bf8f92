import * as THREE from 'three'
import { describe, expect, it } from 'vitest'
import { leaned, type Sight } from './leaning'

const top: Sight = { right: [1, 0, 0], up: [0, 1, 0], back: [0, 0, 1] }
const front: Sight = { right: [1, 0, 0], up: [0, 0, 1], back: [0, -1, 0] }
const z = new THREE.Vector3(0, 0, 1)

describe('a view that leans', () => {
  it('goes to the front of a level plane, and stays above it', () => {
    const from = leaned(top, z)!
    expect(from.length()).toBeCloseTo(1)
    expect([from.x > 0, from.y < 0, from.z > 0.5]).toEqual([true, true, true])
  })

  it('goes above an upright plane, and stays before it', () => {
    const from = leaned(front, new THREE.Vector3(0, 1, 0))!
    expect([from.x > 0, from.y < -0.5, from.z > 0.3]).toEqual([true, true, true])
  })

  it('stays on the side from which a plane was looked at', () => {
    const under: Sight = { right: [1, 0, 0], up: [0, -1, 0], back: [0, 0, -1] }
    expect(leaned(under, z)!.z).toBeLessThan(-0.5)
  })

  it('leaves alone a view that shows depth already', () => {
    const corner = new THREE.Vector3(0.62, -1, 0.72).normalize()
    expect(leaned({ ...top, back: corner.toArray() }, z)).toBeNull()
    expect(leaned(front, z)).toBeNull()
  })
})
