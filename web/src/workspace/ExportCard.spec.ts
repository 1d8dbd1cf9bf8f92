// @vitest-environment happy-dom
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { usePart } from '../stores/part'
import { freshStores, mounted, type Mounted } from '../testing'

const none = { deviation: false, text: false, ap242: false, of: false, inUnitsOfPart: false }
const FORMATS = [
  { ...none, ending: 'step', label: 'STEP', purpose: 'exact bodies', ap242: true, inUnitsOfPart: true },
  { ...none, ending: 'stl', label: 'STL', purpose: 'triangles', deviation: true, text: true },
  { ...none, ending: 'svg', label: 'SVG', purpose: 'a drawing', of: true },
]
const asked: { path: string; query?: Record<string, unknown> }[] = []
vi.mock('../api/client', () => ({
  api: {
    GET: (path: string, options?: { params: { query?: Record<string, unknown> } }) => {
      asked.push({ path, query: options?.params.query })
      return Promise.resolve(
        path === '/api/formats'
          ? { data: FORMATS }
          : { data: { triangles: 1234, deviation: 0.049, bytes: 61784 } },
      )
    },
  },
  reason: (e: unknown) => String(e),
}))
const saved: string[] = []
vi.mock('../api/save', () => ({
  saveAs: (url: string) => {
    saved.push(url)
    return Promise.resolve(url.includes('step') ? 'The disk is full.' : null)
  },
}))
const { default: ExportCard } = await import('./ExportCard.vue')

let card: Mounted
async function open(steps: unknown[] = []): Promise<void> {
  freshStores()
  usePart().snapshot = { id: 'p1', units: 'mm', steps } as never
  card = await mounted(ExportCard)
}
const choose = (ending: string): Promise<void> => card.press(card.all(`[data-format=${ending}]`)[0]!)

describe('the export card', () => {
  beforeEach(async () => {
    asked.length = saved.length = 0
    document.body.innerHTML = ''
    await open()
  })

  it('lists the formats that the server has, with what each lets one choose', async () => {
    expect(card.all('[data-format]').map((b) => b.textContent!.trim())).toEqual(['STEP', 'STL', 'SVG'])
    expect(card.text()).toContain('exact bodies; in millimetres, as the part')
    card.part('ap242')
    expect(card.all('[data-testid=deviation]')).toHaveLength(0)
    await choose('stl')
    card.part('deviation')
    expect(card.text()).toContain('as text rather than')
    expect(card.all('[data-testid=ap242]')).toHaveLength(0)
  })

  it('counts triangles only for formats that have some, and says how far they stray', async () => {
    expect(asked.map((a) => a.path)).toEqual(['/api/formats'])
    await choose('stl')
    expect(asked.at(-1)!.query).toMatchObject({ ending: 'stl', deviation: 0.05 })
    expect(card.part('export-preview').textContent).toContain('1,234 triangles')
    await card.type(card.part('deviation'), 'fine', 'change')
    expect(card.part('export-refusal').textContent).toBe("'fine' is no length in millimetres.")
    await card.type(card.part('deviation'), '0.2 mm', 'change')
    expect(asked.at(-1)!.query).toMatchObject({ deviation: 0.2 })
  })

  it('writes with what was chosen, and says why it could not', async () => {
    await card.press(card.part('ap242'))
    await card.press(card.part('export-write'))
    expect(saved).toEqual(['/api/parts/p1/export.step?ap242=true'])
    expect(card.part('export-refusal').textContent).toBe('The disk is full.')
    await choose('stl')
    await card.press(card.part('export-write'))
    expect(saved.at(-1)).toBe('/api/parts/p1/export.stl?deviation=0.05')
    expect(card.all('[data-testid=export-refusal]')).toHaveLength(0)
  })

  it('draws a sketch, and nothing where there is none', async () => {
    await choose('svg')
    expect((card.part('export-write') as HTMLButtonElement).disabled).toBe(true)
    expect(card.text()).toContain('There is no sketch yet')
    card.leave()
    await open([{ id: 's1', name: 'Outline', sketch: {} }])
    await choose('svg')
    await card.press(card.part('export-write'))
    expect(saved.at(-1)).toBe('/api/parts/p1/export.svg?of=s1')
  })
})
