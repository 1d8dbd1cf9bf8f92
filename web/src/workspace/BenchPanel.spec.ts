// @vitest-environment happy-dom
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { usePart } from '../stores/part'
import { useWork } from '../stores/work'
import { freshStores, mounted, settle, type Mounted } from '../testing'

vi.stubGlobal('localStorage', { getItem: () => null, setItem: () => undefined })
const { default: BenchPanel } = await import('./BenchPanel.vue')

const tool = (name: string, bench: string, group = ''): object => ({
  name,
  bench,
  group,
  label: name,
  stroke: name[0],
  icon: 'M0 0',
})
const sent: unknown[] = []
const chosen: string[] = []
let panel: Mounted

async function open(step: object | null): Promise<void> {
  freshStores()
  const [part, work] = [usePart(), useWork()]
  work.tools = [tool('select', 'Draw'), tool('line', 'Draw', 'Draw'), tool('shell', 'Form', 'Edges')] as never
  part.send = ((command: unknown) => (sent.push(command), Promise.resolve(null))) as never
  work.chooseTool = (name: string) => (chosen.push(name), Promise.resolve())
  work.startForm = (name: string) => (chosen.push(`form ${name}`), Promise.resolve())
  part.snapshot = {
    id: 'p',
    revision: 1,
    steps: [{ id: 's1', name: 'Outline', step: {}, parents: [] }, ...(step ? [step] : [])],
  } as never
  work.sketch = step ? 's2' : 's1'
  panel = await mounted(BenchPanel)
}
const button = (name: string): HTMLElement => panel.all(`[data-tool=${name}]`)[0]!

describe('the benches', () => {
  beforeEach(() => {
    document.body.innerHTML = ''
    sent.length = chosen.length = 0
  })

  it('show the tools of the bench that is open, under their headings', async () => {
    await open(null)
    expect(panel.all('[data-tool]').map((b) => b.dataset.tool)).toContain('line')
    expect(panel.all('[data-tool=shell]')).toHaveLength(0)
    await panel.press(panel.all('[data-bench=Form]')[0]!)
    expect(panel.all('[data-tool]').map((b) => b.dataset.tool)).toEqual(['shell'])
    await panel.press(button('shell'))
    expect(chosen).toEqual(['form shell'])
    expect(panel.all('[data-testid=copied]')).toHaveLength(0)
  })

  it('draw nothing in a live copy, say why, and offer to make it a sketch of its own', async () => {
    await open({ id: 's2', name: 'Copy', step: { like: 's1' }, parents: ['s1'] })
    expect(panel.part('copied').textContent).toContain('A live copy of Outline')
    expect(button('line').getAttribute('aria-disabled')).toBe('true')
    await panel.press(button('line'))
    expect(usePart().notice).toContain('live copy of Outline')
    expect(chosen).toEqual([])
    expect(button('select').getAttribute('aria-disabled')).toBe('false')
    await panel.press(button('select'))
    expect(chosen).toEqual(['select'])
    await panel.press(panel.part('own-sketch'))
    await settle()
    expect(sent).toEqual([{ command: 'own-sketch', step: 's2' }])
  })

  it('leave Escape to the tool where no card is shown', async () => {
    await open(null)
    const heard: string[] = []
    const listen = (e: Event): void => void heard.push((e as KeyboardEvent).key)
    document.addEventListener('keydown', listen)
    button('line').dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape', bubbles: true }))
    expect(heard).toEqual(['Escape'])
    vi.useFakeTimers()
    button('line').dispatchEvent(new Event('pointerenter'))
    vi.advanceTimersByTime(2000)
    vi.useRealTimers()
    button('line').dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape', bubbles: true }))
    expect(heard).toEqual(['Escape'])
    document.removeEventListener('keydown', listen)
  })
})
