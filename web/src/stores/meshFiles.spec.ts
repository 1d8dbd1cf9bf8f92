import { describe, expect, it } from 'vitest'
import { hasNoUnit, isMesh } from './meshFiles'

describe('files of triangles', () => {
  it('are told by their endings, in any case', () => {
    expect(['a.STL', 'b.3mf', 'c.glb', 'd.gltf'].every(isMesh)).toBe(true)
    expect(['a.step', 'b.svg', 'stl'].some(isMesh)).toBe(false)
  })
  it('have a unit unless they are STL', () => {
    expect(['a.stl', 'A.Stl'].every(hasNoUnit)).toBe(true)
    expect(['b.3mf', 'c.glb'].some(hasNoUnit)).toBe(false)
  })
})
