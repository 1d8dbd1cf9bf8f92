import { describe, expect, it } from 'vitest'
import type { PartSnapshot } from '../api/client'
import { litFaces, show } from './asking'

const size = (field: string, formula: string): object => ({ field, formula, shown: '' })
const snapshot = {
  parameters: [
    { name: 'w', value: '80 mm' },
    { name: 'half', value: 'w / 2' },
    { name: 'ww', value: '3 mm' },
  ],
  steps: [
    {
      id: 's',
      sizes: [size('r.width', 'half'), size('c.d', '5 mm')],
      sketch: {
        dimensions: [
          { id: 'r.width', of: ['r.left', 'r.right'] },
          { id: 'c.d', of: ['c'] },
        ],
      },
    },
    { id: 'e', sizes: [size('length', 'ww')], sketch: null },
  ],
} as unknown as PartSnapshot
const faces = ['e/end', 'e/side/r.left', 'e/side/r.top', 'e/side/c', 'h/wall/(s/c)']

describe('what lights up', () => {
  it('is what a size makes, through formulas and sketches', () => {
    const lit = litFaces(snapshot, faces, [
      { step: '', name: 'w', share: 0.5 },
      { step: 's', name: 'c.d', share: -0.25 },
    ])
    expect([...lit]).toEqual([
      ['e/side/r.left', 1],
      ['e/side/c', -0.5],
      ['h/wall/(s/c)', -0.5],
    ])
  })

  it('tells names apart that begin alike', () => {
    const lit = litFaces(snapshot, faces, [{ step: '', name: 'ww', share: 0.1 }])
    expect([...lit.keys()]).toEqual(['e/end', 'e/side/r.left', 'e/side/r.top', 'e/side/c'])
  })
})

it('shows numbers in the unit of their measure', () => {
  expect(show(25.4, { scale: 1 / 25.4, unit: 'in' })).toBe('1 in')
  expect(show(1234567.89, { scale: 1, unit: '' })).toBe('1234570')
  expect(show(9.25000000001, { scale: 1, unit: 'mm' })).toBe('9.25 mm')
})
