// @vitest-environment happy-dom
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { usePart } from '../stores/part'
import { freshStores, mounted, settle, type Mounted } from '../testing'

vi.stubGlobal('localStorage', { getItem: () => null, setItem: () => undefined })
const { default: ParameterTable } = await import('./ParameterTable.vue')

const row = (name: string, value: string, more: object = {}): object => ({
  name,
  value,
  note: '',
  shown: value,
  least: null,
  most: null,
  stride: null,
  group: null,
  tolerance: null,
  share: null,
  usedBy: [],
  ...more,
})
const sent: Record<string, unknown>[] = []
let refusal: { detail: string } | null = null
let table: Mounted

async function open(parameters: object[]): Promise<void> {
  document.body.innerHTML = ''
  freshStores()
  const part = usePart()
  part.snapshot = { id: 'p', revision: 1, steps: [], parameters } as never
  part.send = ((command: Record<string, unknown>) => (sent.push(command), Promise.resolve(refusal))) as never
  table = await mounted(ParameterTable)
}
const formula = (name: string): HTMLInputElement =>
  table.all<HTMLInputElement>(`[data-parameter=${name}]`)[0]!

describe('the parameters', () => {
  beforeEach(() => {
    sent.length = 0
    refusal = null
  })

  it('stand under their headings, in their order', async () => {
    await open([row('a', '1 mm', { group: 'Bolts' }), row('b', '2 mm', { group: 'Bolts' }), row('c', '3 mm')])
    expect(table.all('tr[data-row]').map((r) => r.dataset.row)).toEqual(['a', 'b', 'c'])
    expect(table.text().match(/Bolts/g)).toHaveLength(1)
  })

  it('change by a formula, and keep what was refused in its field with the reason', async () => {
    await open([row('a', '1 mm', { note: 'wall' })])
    await table.type(formula('a'), '2 mm', 'change')
    expect(sent).toEqual([{ command: 'set-parameter', name: 'a', value: '2 mm', note: 'wall' }])
    refusal = { detail: "'x' is no parameter." }
    await table.type(formula('a'), 'x + 1', 'change')
    expect(formula('a').value).toBe('x + 1')
    expect(table.text()).toContain("'x' is no parameter.")
    refusal = null
    await table.type(formula('a'), '1 mm', 'change')
    expect(table.text()).not.toContain('no parameter')
    expect(sent).toHaveLength(2)
  })

  it('are made by the last row, which is empty again once that was done', async () => {
    await open([])
    const [name, value] = ['name of a new parameter', 'formula of a new parameter'].map(
      (label) => table.all<HTMLInputElement>(`[aria-label="${label}"]`)[0]!,
    )
    await table.type(name!, 'thick')
    await table.type(value!, '6 mm')
    value!.closest('form')!.dispatchEvent(new Event('submit', { cancelable: true }))
    await settle()
    expect(sent).toEqual([{ command: 'set-parameter', name: 'thick', value: '6 mm', note: '' }])
    expect([name!.value, value!.value]).toEqual(['', ''])
  })

  it('take a table that is pasted as one edit, without its heading, and keep notes that it lacks', async () => {
    await open([row('a', '1 mm', { note: 'wall' })])
    const paste = new Event('paste', { bubbles: true, cancelable: true })
    Object.assign(paste, {
      clipboardData: { getData: () => 'Name\tValue\tNote\na\t5 mm\nb\t6 mm\tgap\n' },
    })
    table.part('parameters').dispatchEvent(paste)
    await settle()
    expect(paste.defaultPrevented).toBe(true)
    expect(sent).toEqual([
      {
        command: 'set-parameters',
        parameters: [
          { name: 'a', value: '5 mm', note: 'wall' },
          { name: 'b', value: '6 mm', note: 'gap' },
        ],
      },
    ])
  })

  it('go along their stride with a slider: shown while it moves, changed once it is let go', async () => {
    await open([row('a', '4 mm', { least: '2 mm', most: '12 mm', stride: '0.5 mm', share: 0.2 })])
    const shown: string[] = []
    const left = vi.fn()
    const part = usePart()
    part.tryOut = ((command: { name: string; value: string }) => (
      shown.push(`${command.name} ${command.value}`),
      Promise.resolve(true)
    )) as never
    part.leave = left as never
    const slider = table.all<HTMLInputElement>('[data-slide=a]')[0]!
    slider.step = 'any'
    await table.type(slider, '0.52', 'input')
    expect(shown).toEqual(['a 7 mm'])
    expect(sent).toEqual([])
    await table.type(slider, '0.52', 'change')
    expect(sent).toEqual([{ command: 'set-parameter', name: 'a', value: '7 mm', note: '' }])
    expect(left).toHaveBeenCalled()
  })
})
