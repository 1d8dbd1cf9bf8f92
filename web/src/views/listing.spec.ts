import { describe, expect, it } from 'vitest'
import type { PartListing } from '../api/client'
import { listed, tagsOf } from './listing'

const part = (name: string, more: Partial<PartListing> = {}): PartListing => ({
  id: name,
  name,
  changed: '2026-01-01T00:00:00Z',
  steps: 1,
  hasPicture: false,
  drawn: 1,
  revision: 1,
  failing: 0,
  tags: [],
  deleted: null,
  ...more,
})
const parts = [
  part('Plate 10', { tags: ['Motors', 'steel'], changed: '2026-03-01T00:00:00Z', steps: 12 }),
  part('plate 2', { tags: ['motors'], failing: 2 }),
  part('Hub', { tags: ['Cast iron'], changed: '2026-02-01T00:00:00Z' }),
]
const names = (
  search: string,
  tag: string | null = null,
  order: 'changed' | 'name' | 'steps' | 'failing' = 'changed',
) => listed(parts, search, tag, order).map((p) => p.name)

describe('the list of parts', () => {
  it('finds every word in the name or at the beginning of a tag', () => {
    expect(names('plate')).toEqual(['Plate 10', 'plate 2'])
    expect(names('PLATE steel')).toEqual(['Plate 10'])
    expect(names('cast')).toEqual(['Hub'])
    expect(names('iron')).toEqual([])
    expect(names('  ')).toHaveLength(3)
  })

  it('keeps to a tag however it is written', () =>
    expect(names('', 'MOTORS')).toEqual(['Plate 10', 'plate 2']))

  it('orders by time, name with its numbers, size and trouble', () => {
    expect(names('')).toEqual(['Plate 10', 'Hub', 'plate 2'])
    expect(names('', null, 'name')).toEqual(['Hub', 'plate 2', 'Plate 10'])
    expect(names('', null, 'steps')).toEqual(['Plate 10', 'Hub', 'plate 2'])
    expect(names('', null, 'failing')).toEqual(['plate 2', 'Plate 10', 'Hub'])
  })

  it('has each tag once', () => expect(tagsOf(parts)).toEqual(['Cast iron', 'Motors', 'steel']))
})
