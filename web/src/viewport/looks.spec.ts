import * as THREE from 'three'
import { describe, expect, it, vi } from 'vitest'
import { clear, strokes } from './lines'
import { kept, release } from './looks'

describe('materials that are kept', () => {
  it('are one for each look and outlive what was drawn with them', () => {
    const group = new THREE.Group()
    const stroke = { colour: '#123456', width: 2 }
    const first = strokes([0, 0, 0, 1, 0, 0], stroke)
    const freed = vi.fn()
    first.material.addEventListener('dispose', freed)
    group.add(first)
    clear(group)
    expect(freed).not.toHaveBeenCalled()
    expect(strokes([0, 0, 0, 2, 0, 0], stroke).material).toBe(first.material)
    expect(strokes([0, 0, 0, 2, 0, 0], { ...stroke, width: 3 }).material).not.toBe(first.material)
    expect(strokes([0, 0, 0, 2, 0, 0], { ...stroke, front: true }).material).not.toBe(first.material)
  })

  it('are their own where they are changed later, and are freed then', () => {
    const stroke = { colour: '#123456', width: 2, own: true }
    const [a, b] = [strokes([0, 0, 0, 1, 0, 0], stroke), strokes([0, 0, 0, 1, 0, 0], stroke)]
    expect(a.material).not.toBe(b.material)
    const freed = vi.fn()
    a.material.addEventListener('dispose', freed)
    release(a.material)
    expect(freed).toHaveBeenCalledOnce()
  })

  it('are let go when many other looks have been used since', () => {
    const freed = vi.fn()
    const make = (): THREE.Material => new THREE.MeshBasicMaterial()
    kept('old', make).addEventListener('dispose', freed)
    for (let i = 0; i < 150; i++) kept(`look ${i}`, make)
    kept('old', make)
    for (let i = 0; i < 150; i++) kept(`other ${i}`, make)
    expect(freed).not.toHaveBeenCalled()
    for (let i = 0; i < 250; i++) kept(`more ${i}`, make)
    expect(freed).toHaveBeenCalledOnce()
  })
})
