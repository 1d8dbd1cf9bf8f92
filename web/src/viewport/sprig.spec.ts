import { describe, expect, it } from 'vitest'
import { tips } from './sprig'

describe('the sprig of directions', () => {
  it('shows the axes as they are seen, nearer ones last', () => {
    // From above: x to the right, y up, z towards the eye.
    const seen = tips([1, 0, 0], [0, 1, 0], [0, 0, 1])
    expect(seen.map((t) => `${t.sign > 0 ? '+' : '-'}${t.axis}`)).toEqual([
      '-z',
      '+x',
      '-x',
      '+y',
      '-y',
      '+z',
    ])
    const at = (axis: string, sign: number): [number, number, number] => {
      const t = seen.find((s) => s.axis === axis && s.sign === sign)!
      return [t.x + 0, t.y + 0, t.near + 0]
    }
    expect(at('x', 1)).toEqual([1, 0, 0])
    expect(at('y', 1)).toEqual([0, -1, 0])
    expect(at('z', 1)).toEqual([0, 0, 1])
    expect(seen.at(-1)!.from).toEqual([0, 0, 1])
  })

  it('turns with the view', () => {
    // From the front: x to the right, z up, the eye on the side of -y.
    const seen = tips([1, 0, 0], [0, 0, 1], [0, -1, 0])
    expect([seen[0]!.axis, seen[0]!.sign]).toEqual(['y', 1])
    expect([seen.at(-1)!.axis, seen.at(-1)!.sign]).toEqual(['y', -1])
  })
})
