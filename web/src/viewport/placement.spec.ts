import { describe, expect, it } from 'vitest'
import type { Label } from './labels'
import { placed, type Placed, type Shifts } from './placement'

const room = { width: 800, height: 600 }
const label = (id: string, x: number, y: number, kind = 'dimension', text = '24.5 mm'): Label => ({
  id,
  kind,
  text,
  x,
  y,
})
const size = (l: Label): { w: number; h: number } =>
  ['constraint', 'issue'].includes(l.kind)
    ? { w: 16, h: 16 }
    : ['dimension', 'grip'].includes(l.kind)
      ? { w: l.text.length * 7.3 + 10, h: 20 }
      : { w: l.text.length * 6.3 + 10, h: 17 }
const cover = (a: Placed, b: Placed): boolean =>
  Math.abs(a.x - b.x) < (size(a).w + size(b).w) / 2 - 1e-3 &&
  Math.abs(a.y - b.y) < (size(a).h + size(b).h) / 2 - 1e-3

describe('the placement of labels', () => {
  it('leaves alone what covers nothing', () => {
    const all = [label('a', 100, 100), label('b', 100, 121), label('c', 300, 100, 'datum')]
    expect(placed(all, new Map(), room)).toEqual(all)
  })

  it('moves what matters less, as little as it takes, with a leader home', () => {
    const [name, width] = placed(
      [label('n', 104, 103, 'datum', 'Seat'), label('w', 100, 100)],
      new Map(),
      room,
    )
    expect(width).toEqual(label('w', 100, 100))
    expect(name!.y).toBe(103 + 17 + 2)
    expect([name!.homeX, name!.homeY]).toEqual([104, 103])
  })

  it('gives way to a size that is dragged, and to what is wrong', () => {
    const two = [label('a', 100, 100), label('b', 102, 102)]
    expect(placed(two, new Map(), room, 'b')[1]).toEqual(two[1])
    const [issue, dim] = placed(
      [label('i', 100, 100, 'issue', 'open'), label('d', 100, 100)],
      new Map(),
      room,
    )
    expect([issue!.x, issue!.y]).toEqual([100, 100])
    expect(cover(issue!, dim!)).toBe(false)
  })

  it('puts marks of constraints in a row', () => {
    const marks = ['p', 'q', 'r'].map((id) => label(id, 50, 50, 'constraint', 'fixed'))
    expect(placed(marks, new Map(), room).map((m) => [m.x, m.y, m.homeX])).toEqual([
      [50, 50, undefined],
      [66, 50, undefined],
      [82, 50, undefined],
    ])
  })

  it('keeps them where they stood while the view moves a little, and lets them home when there is room', () => {
    const shifts: Shifts = new Map()
    const at = (by: number): Label[] => [label('a', 100 + by, 100), label('b', 101 + by, 100 + by / 40)]
    const first = placed(at(0), shifts, room)[1]!
    for (let by = 0; by < 12; by++) {
      const now = placed(at(by), shifts, room)[1]!
      expect(now.y - first.y).toBeCloseTo(by / 40, 6)
    }
    const apart = [label('a', 100, 100), label('b', 300, 100)]
    expect(placed(apart, shifts, room)).toEqual(apart)
    expect(shifts.size).toBe(0)
  })

  it('does not look at what lies outside the picture', () => {
    const outside = [label('a', -40, 100), label('b', -41, 101), label('c', 900, 9)]
    expect(placed(outside, new Map(), room)).toEqual(outside)
  })

  it('covers nothing in a hundred crowded pictures', () => {
    let seed = 7
    const random = (): number => (seed = (seed * 16807) % 2147483647) / 2147483647
    const kinds = ['dimension', 'reading', 'datum', 'constraint', 'grip']
    for (let picture = 0; picture < 100; picture++) {
      const count = 4 + Math.floor(random() * 20)
      const all = Array.from({ length: count }, (_, i) =>
        label(
          `l${i}`,
          60 + random() * 680,
          60 + random() * 480,
          kinds[Math.floor(random() * kinds.length)],
          'x'.repeat(3 + Math.floor(random() * 12)),
        ),
      )
      const found = placed(all, new Map(), room)
      for (const [i, a] of found.entries())
        for (const b of found.slice(i + 1))
          expect(cover(a, b), `picture ${picture}: ${a.id} ${b.id}`).toBe(false)
      for (const [i, l] of found.entries()) expect(Math.abs(l.y - all[i]!.y)).toBeLessThanOrEqual(100)
    }
  })

  it('is quick where there are thousands', () => {
    const many = Array.from({ length: 4000 }, (_, i) =>
      label(`l${i}`, (i * 37) % 790, (i * 91) % 590, 'constraint', 'fixed'),
    )
    const found = placed(many, new Map(), room)
    expect(found).toHaveLength(4000)
  })
})
