// @vitest-environment happy-dom
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { OfferMessage } from '../api/live'
import { useNames } from '../stores/names'
import { useWork } from '../stores/work'
import { freshStores, mounted, settle, type Mounted } from '../testing'

vi.stubGlobal('localStorage', { getItem: () => null, setItem: () => undefined })
const { default: PicksOffers } = await import('./PicksOffers.vue')

const offer = (id: string, group: string, more: Partial<OfferMessage> = {}): OfferMessage => ({
  id,
  label: `the ${id}`,
  detail: '',
  command: '{}',
  whyNot: null,
  note: '',
  draft: null,
  form: null,
  touches: [],
  points: [],
  group,
  ...more,
})
let card: Mounted
const pressed: string[] = []

async function open(picks: string[], offers: OfferMessage[]): Promise<void> {
  freshStores()
  useNames().of = (reference) => `«${reference}»`
  const work = useWork()
  card = await mounted(PicksOffers)
  work.picks = picks
  await settle()
  work.offers = offers
  work.press = (o: OfferMessage) => {
    pressed.push(o.id)
    return Promise.resolve()
  }
  await settle()
}

describe('picks and offers', () => {
  beforeEach(() => {
    document.body.innerHTML = ''
    pressed.length = 0
  })

  it('calls picks by their words, offers in their groups', async () => {
    await open(
      ['a/b', 'c'],
      [offer('plane-on', 'New plane'), offer('plane-off', 'New plane'), offer('distance', 'Measured')],
    )
    expect(card.all('[data-pick]').map((p) => p.textContent!.trim())).toEqual(['«a/b»', '«c»'])
    expect(card.all('h3').map((h) => h.textContent)).toEqual(['New plane', 'Measured'])
  })

  it('gives figures to the first nine that can be pressed, while something is picked', async () => {
    const many = Array.from({ length: 12 }, (_, i) => offer(`o${i}`, 'All'))
    const seen = offer('seen', 'All', { command: null })
    await open(['a'], [seen, ...many])
    expect(card.all('[data-offer-key]').map((b) => b.dataset.offerKey)).toEqual([...'123456789'])
    expect(card.all<HTMLButtonElement>('[data-offer=seen]')[0]!.disabled).toBe(true)
    await open([], many)
    expect(card.all('[data-offer-key]')).toHaveLength(0)
  })

  it('leaves out what cannot be, and puts what is of the whole part last', async () => {
    await open(['a'], [offer('no', 'A', { whyNot: 'not square' }), offer('mass', 'B'), offer('yes', 'A')])
    expect(card.all('[data-offer]').map((b) => b.dataset.offer)).toEqual(['yes', 'mass'])
  })

  it('asks before more goes than was picked', async () => {
    await open(['a'], [offer('remove', '', { touches: ['circle 1'] })])
    useWork().asked = useWork().offers[0]!
    await settle()
    expect(card.part('asked').textContent).toContain('1 picked; these hang on them')
    await card.press(card.part('confirm-remove'))
    expect(pressed).toEqual(['remove'])
  })

  it('says how things are picked where nothing is', async () => {
    await open([], [])
    expect(card.text()).toContain('pick faces, edges, vertices or planes; with shift, one more')
  })
})
