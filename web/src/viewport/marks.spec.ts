import * as THREE from 'three'
import { describe, expect, it } from 'vitest'
import { arrow, rim, segments, square, toPoint, toRow, triad } from './marks'
import { SketchPlane } from '../stores/plane'

/** Through (10, 20, 30), with x along world y and y along world z. */
const upright = new SketchPlane([10, 20, 30, 0, 1, 0, 0, 0, 1])
const down = (x: number, y: number): THREE.Ray =>
  new THREE.Ray(new THREE.Vector3(x, y, 100), new THREE.Vector3(0, 0, -1))
const v = (x: number, y: number, z: number): THREE.Vector3 => new THREE.Vector3(x, y, z)

describe('squares and rows', () => {
  it('stand about the origin of their plane, with its axes', () => {
    expect(square(upright, 5).map((p) => p.toArray())).toEqual([
      [10, 15, 25],
      [10, 25, 25],
      [10, 25, 35],
      [10, 15, 35],
    ])
  })

  it('are closed as a rim and open as segments', () => {
    const row = [v(0, 0, 0), v(1, 0, 0), v(1, 1, 0)]
    expect(rim(row)).toEqual([0, 0, 0, 1, 0, 0, 1, 0, 0, 1, 1, 0, 1, 1, 0, 0, 0, 0])
    expect(segments(row)).toEqual([0, 0, 0, 1, 0, 0, 1, 0, 0, 1, 1, 0])
    expect(segments([v(1, 2, 3)])).toEqual([])
  })
})

describe('how near a line of sight comes', () => {
  it('to a place, unless something is in front of it', () => {
    expect(toPoint(down(3, 4), v(0, 0, 0), 200)).toBeCloseTo(5, 12)
    expect(toPoint(down(3, 4), v(0, 0, 0), 99)).toBe(Infinity)
    expect(toPoint(down(3, 4), v(0, 0, 50), 99)).toBeCloseTo(5, 12)
  })

  it('to a row, at its nearest piece that is not hidden', () => {
    const row = [v(0, 0, 0), v(10, 0, 0), v(10, 10, 60)]
    expect(toRow(down(5, 2), row, 200)).toBeCloseTo(2, 9)
    expect(toRow(down(12, 5), row, 200)).toBeCloseTo(2, 9)
    // With a limit at z = 20 the first piece is hidden, and what rises above it is not.
    expect(toRow(down(12, 5), row, 80)).toBeCloseTo(2, 9)
    expect(toRow(down(5, 2), [v(0, 0, 0), v(10, 0, 0)], 80)).toBe(Infinity)
    expect(toRow(down(5, 2), [], 200)).toBe(Infinity)
  })
})

describe('directions', () => {
  it('of a frame are three strokes from its origin', () => {
    const strokes = triad(upright, 8, 2)
    expect(strokes).toHaveLength(3)
    const ends = strokes.map((s) => {
      const box = new THREE.Box3().setFromObject(s)
      return box.getSize(v(0, 0, 0)).toArray()
    })
    expect(ends).toEqual([
      [0, 8, 0],
      [0, 0, 8],
      [8, 0, 0],
    ])
  })

  it('have arrows as long as they are asked to be, whatever the length of the way', () => {
    const one = arrow(v(1, 1, 1), v(0, 0, 7), 20, '#000000')
    expect(one.position.toArray()).toEqual([1, 1, 1])
    expect(one.cone.position.y).toBeCloseTo(20, 12)
  })
})
