import { describe, expect, it } from 'vitest'
import { axis, cells, csv, path } from './chart'

describe('charts', () => {
  it('has round ticks within the values and a little room', () => {
    const a = axis([2, 9.7], 0, 100)
    expect(a.ticks.map((t) => t.label)).toEqual(['2', '3', '4', '5', '6', '7', '8', '9', '10'])
    expect(a.scale(2)).toBeGreaterThan(0)
    expect(a.scale(9.7)).toBeLessThan(100)
    expect(axis([], 0, 100).ticks.length).toBeGreaterThan(1)
    expect(axis([5, 5], 0, 100).scale(5)).toBe(50)
  })

  it('breaks a line where a point is missing', () => {
    expect(
      path([
        { x: 0, y: 1 },
        { x: 1, y: null },
        { x: 2, y: 3 },
        { x: 3, y: 4 },
      ]),
    ).toBe('M0,1ZM2,3L3,4')
  })

  it('writes tables that it reads again', () => {
    const rows = [
      ['name', 'a "b"', ''],
      ['x,y', 'two\nlines', '3'],
    ]
    expect(cells(csv(rows))).toEqual(rows)
    expect(cells('a\tb\r\n1\t2\r\n\r\n')).toEqual([
      ['a', 'b'],
      ['1', '2'],
    ])
    expect(cells('a;b\n1,5;2')).toEqual([['a;b'], ['1', '5;2']])
    expect(cells('a;b\n1;2')).toEqual([
      ['a', 'b'],
      ['1', '2'],
    ])
    expect(cells('')).toEqual([])
  })
})
