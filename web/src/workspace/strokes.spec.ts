import { beforeEach, describe, expect, it, vi } from 'vitest'
import { reactive, ref } from 'vue'
import type * as Vue from 'vue'

const part = reactive({ step: vi.fn() })
const work = reactive({
  sketch: null as string | null,
  tool: null as string | null,
  bench: 'Draw',
  picks: [] as string[],
  asked: null as object | null,
  outs: [] as object[],
  apart: null as object | null,
  taking: null as string | null,
  awaitingPlane: null as string | null,
  moving: null as string | null,
  construction: false,
  answer: null as { fields: object[]; ways: object[]; solutions: number } | null,
  ...Object.fromEntries(
    ['copy', 'paste', 'press', 'removePicked', 'input', 'quiet', 'leaveSketch', 'take'].map((n) => [
      n,
      vi.fn(),
    ]),
  ),
}) as unknown as Record<string, ReturnType<typeof vi.fn>> & Record<string, unknown>
const bench = (): Record<string, unknown> => ({ open: false, answer: null, close: vi.fn(), accept: vi.fn() })
const datum = reactive({ ...bench(), replacing: null, quick: null, next: vi.fn() }) as Record<string, unknown>
const form = reactive({ ...bench(), probed: null }) as Record<string, unknown>
const gauge = reactive(bench())
const ran: string[] = []
vi.mock('../stores/part', () => ({ usePart: () => part }))
vi.mock('../stores/work', () => ({ useWork: () => work }))
vi.mock('../stores/datum', () => ({ useDatum: () => datum }))
vi.mock('../stores/form', () => ({ useForm: () => form }))
vi.mock('../stores/gauge', () => ({ useGauge: () => gauge }))
vi.mock('./actions', () => ({
  useActions: () => ref([{ bench: 'Draw', stroke: 'l', run: () => ran.push('line') }]),
}))
vi.mock('vue', async (original) => ({
  ...(await original<typeof Vue>()),
  onMounted: (begin: () => void) => begin(),
  onBeforeUnmount: () => undefined,
}))
let press: (event: object) => void = () => undefined
vi.stubGlobal('window', {
  addEventListener: (_: string, hear: (event: object) => void) => (press = hear),
  removeEventListener: () => undefined,
})
let field: { focus(): void; value: string; dispatchEvent(): void } | null = null
vi.stubGlobal('document', { querySelector: () => field })
const { useStrokes } = await import('./strokes')

const typed: string[] = []
const find = vi.fn()
const keys = vi.fn()
const close = vi.fn(() => false)
/** Presses a key; `within` names what the focus lies in. Answers whether the key was taken. */
function key(name: string, more: object = {}, within = ''): boolean {
  let taken = false
  const target = { closest: (css: string) => (within && css.includes(within) ? {} : null) }
  press({ key: name, target, preventDefault: () => (taken = true), ...more })
  return taken
}

beforeEach(() => {
  Object.assign(work, {
    sketch: null,
    tool: null,
    picks: [],
    asked: null,
    outs: [],
    apart: null,
    taking: null,
  })
  Object.assign(work, {
    awaitingPlane: null,
    moving: null,
    construction: false,
    answer: null,
    bench: 'Gauge',
  })
  for (const b of [datum, form, gauge]) Object.assign(b, { open: false, answer: null })
  Object.assign(datum, { replacing: null, quick: null })
  Object.assign(form, { probed: null })
  field = null
  ran.length = typed.length = 0
  vi.clearAllMocks()
})
const strokes = (): ReturnType<typeof useStrokes> =>
  useStrokes({ type: (t) => typed.push(t), find, keys, close })

describe('two strokes', () => {
  it('take the bench, then the tool', () => {
    const { first } = strokes()
    expect(key('d')).toBe(true)
    expect([first.value, work.bench]).toEqual(['Draw', 'Draw'])
    expect(key('L')).toBe(true)
    expect([first.value, ran]).toEqual([null, ['line']])
  })

  it('are given up by a key that is no tool, and by Escape', () => {
    const { first } = strokes()
    key('d')
    expect(key('#')).toBe(false)
    key('d')
    key('Escape')
    expect([first.value, ran]).toEqual([null, []])
  })

  it('are none while something is typed', () => {
    strokes()
    key('d', {}, 'input')
    key('z', { ctrlKey: true }, 'textarea')
    expect(work.bench).toBe('Gauge')
    expect(part.step).not.toHaveBeenCalled()
  })
})

describe('the usual keys', () => {
  it('undo and redo', () => {
    strokes()
    expect(key('z', { ctrlKey: true })).toBe(true)
    key('Z', { metaKey: true, shiftKey: true })
    expect(part.step.mock.calls).toEqual([['undo'], ['redo']])
  })

  it('copy and paste in a sketch, and leave the page alone elsewhere', () => {
    strokes()
    expect(key('c', { ctrlKey: true })).toBe(false)
    work.sketch = 's' as never
    expect(key('c', { ctrlKey: true })).toBe(true)
    key('v', { ctrlKey: true })
    expect(work.copy).toHaveBeenCalledOnce()
    expect(work.paste).toHaveBeenCalledOnce()
  })

  it('find by a slash', () => {
    strokes()
    expect(key('/')).toBe(true)
    expect(find).toHaveBeenCalledOnce()
  })
})

describe('Escape', () => {
  it.each([
    ['the question', () => (work.asked = {} as never), () => expect(work.quiet).toHaveBeenCalled()],
    ['a form', () => (form.open = true), () => expect(form.close).toHaveBeenCalled()],
    ['the measuring tool', () => (gauge.open = true), () => expect(gauge.close).toHaveBeenCalled()],
    ['the probe', () => (form.probed = {}), () => expect(form.probed).toBeNull()],
    ['what is taken', () => (work.taking = 'copy' as never), () => expect(work.taking).toBeNull()],
    ['a pick that waits', () => (datum.replacing = {}), () => expect(datum.replacing).toBeNull()],
    ['a datum', () => (datum.open = true), () => expect(datum.close).toHaveBeenCalled()],
    ['a plane that is asked for', () => (work.moving = 's' as never), () => expect(work.moving).toBeNull()],
    ['the picks', () => (work.picks = ['a'] as never), () => expect(work.picks).toEqual([])],
  ])('leaves %s', (_, begin, left) => {
    strokes()
    begin()
    key('Escape')
    left()
  })

  it('leaves a sketch only from the select tool with nothing picked', () => {
    strokes()
    Object.assign(work, { sketch: 's', tool: 'select', picks: ['a'] })
    key('Escape')
    expect(work.input).toHaveBeenCalledWith('cancel')
    expect(work.leaveSketch).not.toHaveBeenCalled()
    work.picks = [] as never
    key('Escape')
    expect(work.leaveSketch).toHaveBeenCalledOnce()
  })
})

describe('Enter', () => {
  it('accepts what is being made', () => {
    strokes()
    form.open = true
    key('Enter')
    expect(form.accept).toHaveBeenCalledOnce()
    form.open = false
    datum.open = true
    key('Enter')
    expect(datum.accept).toHaveBeenCalledOnce()
    datum.open = false
    work.sketch = 's' as never
    key('Enter')
    expect(work.input).toHaveBeenCalledWith('accept')
  })

  it('answers a question first, and takes the whole body for a section', () => {
    strokes()
    const question = { id: 'remove' }
    work.asked = question as never
    key('Enter')
    expect(work.press).toHaveBeenCalledWith(question)
    Object.assign(work, { asked: null, sketch: 's', taking: 'section' })
    key('Enter')
    expect(work.take).toHaveBeenCalledOnce()
  })

  it('presses the button that has the focus, but for the tool in use', () => {
    strokes()
    form.open = true
    key('Enter', {}, 'button')
    expect(form.accept).not.toHaveBeenCalled()
    const target = { closest: () => ({}) }
    press({
      key: 'Enter',
      target: { closest: (css: string) => (/input/.test(css) ? null : target) },
      preventDefault: () => undefined,
    })
    expect(form.accept).toHaveBeenCalledOnce()
  })
})

describe('numbers', () => {
  it('go to the prompt while a tool wants them', () => {
    strokes()
    Object.assign(work, { sketch: 's', answer: { fields: [{}], ways: [], solutions: 1 } })
    expect(key('4')).toBe(true)
    expect(key('(')).toBe(true)
    expect(typed).toEqual(['4', '('])
    work.answer = { fields: [], ways: [], solutions: 1 } as never
    expect(key('4')).toBe(false)
  })

  it('go to the first field of a panel', () => {
    strokes()
    form.open = true
    field = { focus: vi.fn(), value: '', dispatchEvent: vi.fn() }
    expect(key('8')).toBe(true)
    expect(field.value).toBe('8')
    expect(field.dispatchEvent).toHaveBeenCalledOnce()
  })
})

describe('within a tool', () => {
  beforeEach(() => Object.assign(work, { sketch: 's', answer: { fields: [], ways: [{}, {}], solutions: 2 } }))

  it('keys change its way, its solution and construction', () => {
    strokes()
    key('v')
    key('n')
    key('N')
    key('c')
    expect(work.input!.mock.calls).toEqual([['way'], ['next', { text: '+' }], ['next', { text: '-' }]])
    expect(work.construction).toBe(true)
  })

  it('are strokes again where there is nothing to change', () => {
    strokes()
    work.answer = { fields: [], ways: [{}], solutions: 1 } as never
    key('v')
    key('n')
    expect(work.input).not.toHaveBeenCalled()
  })
})

describe('cards', () => {
  it('go first at Escape, before anything else is given up', () => {
    strokes()
    work.picks = ['plate/end'] as never
    close.mockReturnValueOnce(true)
    key('Escape')
    expect(work.picks).toEqual(['plate/end'])
    key('Escape')
    expect(work.picks).toEqual([])
  })

  it('show the keys at a question mark', () => {
    strokes()
    expect(key('?')).toBe(true)
    expect(keys).toHaveBeenCalledOnce()
  })
})
