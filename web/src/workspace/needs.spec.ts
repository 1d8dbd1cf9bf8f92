import { describe, expect, it } from 'vitest'
import { find } from './needs'

const tools = [
  { name: 'corner', bench: 'Draw', group: 'Change', label: 'Fillet or chamfer' },
  { name: 'rectangle', bench: 'Draw', group: 'Draw', label: 'Rectangle' },
  { name: 'plane', bench: 'Datum', group: '', label: 'Plane' },
  { name: 'hole', bench: 'Form', group: '', label: 'Hole' },
  { name: 'fillet', bench: 'Form', group: '', label: 'Fillet' },
  { name: 'draft', bench: 'Form', group: '', label: 'Draft' },
]
const names = (query: string, now = { sketch: false, bodies: true }, recent: string[] = []): string[] =>
  find(tools, query, recent, now).map((t) => t.name)

describe('finding a tool', () => {
  it('goes by what it is for as well', () => {
    expect(names('angle hole')).toEqual(['hole'])
    expect(names('middle plane')).toEqual(['plane'])
    expect(names('release')).toEqual(['draft'])
    expect(names('nothing of the kind')).toEqual([])
  })

  it('puts what fits the part as it is first', () => {
    expect(names('fillet')).toEqual(['fillet', 'corner'])
    expect(names('fillet', { sketch: true, bodies: true })).toEqual(['corner', 'fillet'])
    expect(names('round')[0]).toBe('fillet')
  })

  it('begins with what was used last', () => {
    expect(names('', { sketch: false, bodies: false }, ['Form/draft', 'Datum/plane'])).toEqual([
      'draft',
      'plane',
      'corner',
      'rectangle',
      'hole',
      'fillet',
    ])
  })
})
