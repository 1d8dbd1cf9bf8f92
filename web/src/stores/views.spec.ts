// @vitest-environment happy-dom
import { beforeEach, describe, expect, it } from 'vitest'
import { freshStores } from '../testing'
import { usePart } from './part'
import { useViews } from './views'

const sight = (zoom: number) => ({ eye: [1, 2, 3], at: [0, 0, 0], zoom })

describe('named views', () => {
  beforeEach(() => {
    localStorage.clear()
    freshStores()
    usePart().snapshot = { id: 'p1' } as never
  })

  it('are kept under their names, of each part by itself', () => {
    const views = useViews()
    views.keep('Bore', sight(2))
    views.keep('', sight(3))
    expect(views.all.map((v) => v.name)).toEqual(['Bore', 'View 2'])
    usePart().snapshot = { id: 'p2' } as never
    expect(views.all).toEqual([])
    usePart().snapshot = { id: 'p1' } as never
    expect(views.all[1]).toEqual({ name: 'View 2', ...sight(3) })
  })

  it('take the place of one of the same name, and go', () => {
    const views = useViews()
    views.keep('Bore', sight(2))
    views.keep(' Bore ', sight(5))
    expect(views.all).toEqual([{ name: 'Bore', ...sight(5) }])
    views.drop('Bore')
    expect(views.all).toEqual([])
  })

  it('that were spoilt are left out', () => {
    localStorage.setItem(
      'views-p1',
      JSON.stringify([{ name: 'x', eye: [1], at: [0, 0, 0], zoom: 1 }, null, 7]),
    )
    expect(useViews().all).toEqual([])
    localStorage.setItem('views-p1', 'nonsense')
    freshStores()
    usePart().snapshot = { id: 'p1' } as never
    expect(useViews().all).toEqual([])
  })
})
