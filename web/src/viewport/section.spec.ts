import * as THREE from 'three'
import { describe, expect, it, vi } from 'vitest'

vi.mock('../theme', () => ({ colour: () => '#b9793f' }))
const { SectionCaps } = await import('./section')

const meshes = [1, 2].map((size) => new THREE.Mesh(new THREE.BoxGeometry(size, size, size)))
const above = new THREE.Plane(new THREE.Vector3(0, 0, 1), -0.25)

describe('a section', () => {
  it('hides what lies on the far side, and nothing without a plane', () => {
    const caps = new SectionCaps()
    expect(caps.hides(new THREE.Vector3(0, 0, -5))).toBe(false)
    caps.set(above, meshes)
    expect(caps.hides(new THREE.Vector3(0, 0, 0.2))).toBe(true)
    expect(caps.hides(new THREE.Vector3(0, 0, 0.25))).toBe(false)
    expect(caps.hides(new THREE.Vector3(0, 0, 5))).toBe(false)
    caps.set(null, meshes)
    expect(caps.hides(new THREE.Vector3(0, 0, -5))).toBe(false)
    expect(caps.group.children).toEqual([])
  })

  it('counts into and out of every body before the cap is drawn, on the plane', () => {
    const caps = new SectionCaps()
    caps.set(above, meshes)
    const counting = caps.group.children.slice(0, -1) as THREE.Mesh<THREE.BufferGeometry, THREE.Material>[]
    const cap = caps.group.children.at(-1) as THREE.Mesh<THREE.BufferGeometry, THREE.Material>
    expect(counting).toHaveLength(4)
    expect(counting.map((c) => c.material.stencilZPass)).toEqual([
      THREE.IncrementWrapStencilOp,
      THREE.DecrementWrapStencilOp,
      THREE.IncrementWrapStencilOp,
      THREE.DecrementWrapStencilOp,
    ])
    expect(Math.max(...counting.map((c) => c.renderOrder))).toBeLessThan(cap.renderOrder)
    expect(cap.position.z).toBeCloseTo(0.25, 12)
    expect(new THREE.Vector3(0, 0, 1).applyQuaternion(cap.quaternion).distanceTo(above.normal)).toBeLessThan(
      1e-12,
    )
  })

  it('frees its own geometry and leaves that of the bodies', () => {
    const caps = new SectionCaps()
    const freed = vi.fn()
    meshes.forEach((m) => m.geometry.addEventListener('dispose', freed))
    caps.set(above, meshes)
    const own = vi.fn()
    caps.group.children.forEach((c) => (c as THREE.Mesh).geometry.addEventListener('dispose', own))
    caps.set(null, [])
    expect(own).toHaveBeenCalledTimes(5)
    expect(freed).not.toHaveBeenCalled()
  })
})
