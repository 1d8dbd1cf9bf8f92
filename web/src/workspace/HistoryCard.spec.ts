// @vitest-environment happy-dom
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { usePart } from '../stores/part'
import { freshStores, mounted, settle, type Mounted } from '../testing'

const went: string[] = []
vi.mock('vue-router', () => ({
  useRouter: () => ({ push: (to: string) => Promise.resolve(void went.push(to)) }),
}))
const state = (revision: number, words: string, name: string | null = null): object => ({
  revision,
  words,
  name,
  how: 'done',
  at: '2026-11-30T01:00:00Z',
})
const asked: string[] = []
let refuse = false
vi.mock('../api/client', () => ({
  api: {
    GET: () =>
      Promise.resolve({
        data: [state(3, 'set thick to 6 mm'), state(2, 'add Plate', 'first'), state(1, 'begin')],
      }),
    POST: () => (asked.push('POST'), Promise.resolve(refuse ? { error: 'full' } : { data: { id: 'new' } })),
    PUT: (_: string, options: { body: { name: string } }) => (
      asked.push(`PUT ${options.body.name}`),
      Promise.resolve({})
    ),
  },
  reason: (e: unknown) => String(e),
}))
vi.mock('../theme', () => ({ currentTheme: () => 'light', colour: () => '#000' }))
const { default: HistoryCard } = await import('./HistoryCard.vue')

const looked: number[] = []
let card: Mounted

describe('the history', () => {
  beforeEach(async () => {
    document.body.innerHTML = ''
    asked.length = went.length = looked.length = 0
    refuse = false
    freshStores()
    const part = usePart()
    part.snapshot = { id: 'p', revision: 3, steps: [] } as never
    part.look = ((revision: number) => (looked.push(revision), Promise.resolve(revision > 1))) as never
    part.leave = (() => looked.push(0)) as never
    part.back = ((revision: number) => (looked.push(-revision), Promise.resolve(null))) as never
    card = await mounted(HistoryCard)
  })
  const row = (revision: number): HTMLElement => card.all(`[data-state="${revision}"]`)[0]!

  it('tells states in words, with the names that were given', () => {
    expect(card.all('[data-state]').map((s) => s.textContent!.replace(/\s+/g, ' '))).toMatchObject([
      expect.stringContaining('set thick to 6 mm'),
      expect.stringContaining('first: add Plate'),
      expect.stringContaining('begin'),
    ])
  })

  it('shows a state, and the present one as it is', async () => {
    await card.press(row(2))
    expect(looked).toEqual([2])
    card.part('go-back')
    await card.press(row(3))
    expect(looked).toEqual([2, 0])
    expect(card.text()).toContain('This is how the part is now.')
    expect(card.all('[data-testid=go-back]')).toHaveLength(0)
  })

  it('goes from state to state by keys, and not beyond the last', async () => {
    await card.press(row(3))
    const list = card.all('ol')[0]!
    for (let i = 0; i < 3; i++) {
      list.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowDown', cancelable: true }))
      await settle()
    }
    expect(looked).toEqual([0, 2, 1, 1])
    expect(card.text()).toContain('This state cannot be shown any more.')
  })

  it('goes back, names, and copies to a new part, or says why not', async () => {
    await card.press(row(2))
    await card.type(card.all('input')[0]!, 'as ordered')
    card.all('form')[0]!.dispatchEvent(new Event('submit', { cancelable: true }))
    await settle()
    expect(asked).toEqual(['PUT as ordered'])
    refuse = true
    await card.press(card.part('copy-state'))
    expect([card.all('[role=alert]')[0]!.textContent, went]).toEqual(['full', []])
    refuse = false
    await card.press(card.part('copy-state'))
    expect(went).toEqual(['/parts/new'])
    await card.press(card.part('go-back'))
    expect(looked.at(-1)).toBe(-2)
  })
})
