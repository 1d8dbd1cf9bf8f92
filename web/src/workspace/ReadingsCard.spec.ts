// @vitest-environment happy-dom
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { useAsking } from '../stores/asking'
import { useLook } from '../stores/look'
import { usePart } from '../stores/part'
import { freshStores, mounted, settle, type Mounted } from '../testing'

const row = {
  step: 'r1',
  number: 4,
  name: 'gap',
  what: 'distance',
  value: '3.2 mm',
  least: '3 mm',
  most: '',
  verdict: 'near',
  formula: 'gap',
  note: '',
}
let rows: unknown[] = []
vi.mock('../api/client', () => ({ api: { GET: () => Promise.resolve({ data: rows }) } }))
vi.stubGlobal('localStorage', { getItem: () => null, setItem: () => undefined })
const { default: ReadingsCard } = await import('./ReadingsCard.vue')

const sent: unknown[] = []
let refuse = false
let card: Mounted

async function open(now: unknown[]): Promise<void> {
  rows = now
  freshStores()
  const part = usePart()
  part.snapshot = { id: 'p1', steps: [{ id: 'r1', kind: 'reading' }] } as never
  part.built = { revision: 3, steps: [], bodies: [] } as never
  part.send = ((command: unknown) => {
    sent.push(command)
    return Promise.resolve(refuse ? { detail: 'no' } : null)
  }) as never
  card = await mounted(ReadingsCard)
}

describe('the readings', () => {
  beforeEach(() => {
    document.body.innerHTML = ''
    sent.length = 0
    refuse = false
  })

  it('say how to come by one where there is none', async () => {
    await open([])
    expect(card.text()).toContain('measure something, then press a value to keep it')
    expect(card.all('[data-testid=readings-csv]')).toHaveLength(0)
  })

  it('tell their verdict in words, and that one cannot be read', async () => {
    await open([row, { ...row, step: 'r2', value: '', verdict: 'none' }])
    expect(card.all('[data-verdict]').map((v) => v.textContent!.trim())).toEqual([
      'near a limit',
      'cannot be read',
    ])
  })

  it('take a limit with the other as it is, and put back what was refused', async () => {
    await open([row])
    const most = card.all<HTMLInputElement>('[data-most=r1]')[0]!
    await card.type(most, ' 4 mm ', 'change')
    expect(sent).toEqual([{ command: 'set-limits', step: 'r1', least: '3 mm', most: '4 mm' }])
    refuse = true
    await card.type(most, '4 kg', 'change')
    expect(most.value).toBe('')
    const least = card.all<HTMLInputElement>('[data-least=r1]')[0]!
    await card.type(least, '3 mm', 'change')
    expect(sent).toHaveLength(2)
  })

  it('ask what moves one', async () => {
    await open([row])
    await card.press(card.all('[data-moves=r1]')[0]!)
    await settle()
    expect([useLook().card, useAsking().reading]).toEqual(['ask', 'r1'])
  })
})
