import { beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, nextTick, reactive } from 'vue'
import type { DimensionView } from '../api/client'

const size = (id: string, value: string | null): DimensionView =>
  ({ id, kind: 'distance', of: ['a', 'b'], value, drawing: { textAt: [1, 2] } }) as unknown as DimensionView
const part = reactive({
  snapshot: {} as object,
  notice: null as string | null,
  sent: [] as object[],
  send: async (c: object) => void part.sent.push(c),
})
const work = reactive({
  sketch: 's',
  sketchView: { dimensions: [size('w', '20 mm'), size('h', '2 * w'), size('r', null), size('i', '1 in')] },
  sent: [] as { field: string; value: string }[],
  held: null as Promise<void> | null,
  async send(command: string): Promise<boolean> {
    work.sent.push(JSON.parse(command) as { field: string; value: string })
    await work.held
    return true
  },
})
vi.mock('../stores/part', () => ({ usePart: () => part }))
vi.mock('../stores/work', () => ({ useWork: () => work }))
const { useDimensionText } = await import('./dimensionText')

const plain = { shiftKey: false, ctrlKey: false }
const at = (x: number, y: number): PointerEvent =>
  ({
    clientX: x,
    clientY: y,
    pointerId: 1,
    currentTarget: { setPointerCapture: () => undefined },
  }) as unknown as PointerEvent
const texts = (
  meet = (e: { clientX: number; clientY: number }): { x: number; y: number } | null => ({
    x: e.clientX / 10,
    y: -e.clientY / 10,
  }),
): ReturnType<typeof useDimensionText> => effectScope().run(() => useDimensionText(meet))!
const done = async (): Promise<void> => {
  for (let i = 0; i < 10; i++) await nextTick()
}

beforeEach(() => {
  Object.assign(part, { notice: null, sent: [] })
  Object.assign(work, { sent: [], held: null })
})

describe('a value stepped', () => {
  it.each([
    ['w', 1, plain, '21 mm'],
    ['w', -1, plain, '19 mm'],
    ['w', 1, { shiftKey: true, ctrlKey: false }, '30 mm'],
    ['w', 1, { shiftKey: false, ctrlKey: true }, '20.1 mm'],
    ['i', 1, plain, '1.0625 in'],
  ] as const)('%s by %i', async (id, by, keys, value) => {
    texts().step(id, by, keys)
    await done()
    expect(work.sent).toMatchObject([{ command: 'set-size', step: 's', field: id, value }])
  })

  it('counts on from a value that is still under way, and sends only the newest', async () => {
    let free = (): void => undefined
    work.held = new Promise((go) => (free = go))
    const text = texts()
    for (let i = 0; i < 4; i++) text.step('w', 1, plain)
    expect(work.sent.map((s) => s.value)).toEqual(['21 mm'])
    free()
    await done()
    expect(work.sent.map((s) => s.value)).toEqual(['21 mm', '24 mm'])
  })

  it.each([
    ['h', 'h is a formula, 2 * w: change it by a double click.'],
    ['r', 'r only reads.'],
  ])('says why %s has no steps', async (id, words) => {
    texts().step(id, 1, plain)
    await done()
    expect(part.notice).toBe(words)
    expect(work.sent).toEqual([])
  })
})

describe('a text dragged', () => {
  it('follows the pointer, and is put where it is let go', async () => {
    const text = texts()
    text.grab(at(0, 0), 'w')
    expect(text.drag(at(2, 2))).toBe(false)
    expect(text.moved()).toBe(false)
    expect(text.drag(at(50, 30))).toBe(true)
    expect(text.placeOf(size('w', '20 mm'))).toEqual([5, -3])
    text.drop()
    expect(part.sent).toMatchObject([
      { command: 'edit-sketch', step: 's', edit: { size: [{ id: 'w', value: '20 mm', textAt: [5, -3] }] } },
    ])
    expect(text.placeOf(size('w', '20 mm'))).toEqual([5, -3])
    part.snapshot = { newer: true }
    await nextTick()
    expect(text.placeOf(size('w', '20 mm'))).toEqual([1, 2])
  })

  it('stays where it is on a plain press, and where the plane is seen edge-on', () => {
    const text = texts(() => null)
    text.grab(at(0, 0), 'w')
    expect(text.drag(at(50, 30))).toBe(false)
    text.drop()
    expect(part.sent).toEqual([])
  })
})
