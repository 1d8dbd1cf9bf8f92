import { describe, expect, it } from 'vitest'
import type { StepView } from '../api/client'
import type { StepState } from '../api/live'
import { behind, isHidden, mainSize, noteOf, sheetRows, standing, standingOn, wide } from './sheet'

const step = (id: string, more: Partial<StepView> = {}): StepView =>
  ({
    id,
    name: id,
    kind: 'extrude',
    number: 10,
    summary: '',
    parents: [],
    sizes: [],
    group: null,
    hidden: null,
    suppressed: false,
    ...more,
  }) as unknown as StepView
const state = (more: Partial<StepState>): StepState => ({ state: 'built', message: '', ...more }) as StepState
const size = { field: 'length', formula: '5 mm' } as unknown as StepView['sizes'][number]
const sketch = (freedoms: number): Partial<StepView> =>
  ({ kind: 'sketch', sketch: { freedoms } }) as unknown as Partial<StepView>

describe('sheetRows', () => {
  const steps = [
    step('plate', { number: 10, summary: '10 mm' }),
    step('a', { group: 'Holes' }),
    step('b', { group: 'Holes', kind: 'hole' }),
    step('rim', { kind: 'fillet' }),
    step('c', { group: 'Holes' }),
  ]

  it('names a group where its steps begin, again after others between', () => {
    expect(sheetRows(steps, '').map((r) => r.begins)).toEqual([null, 'Holes', null, null, 'Holes'])
  })

  it.each([
    ['  RIM ', ['rim']],
    ['hole', ['b']],
    ['10 mm', ['plate']],
    ['nothing of it', []],
  ])('finds by name, kind or size: %s', (search, found) => {
    expect(sheetRows(steps, search).map((r) => r.step.id)).toEqual(found)
  })
})

describe('standingOn', () => {
  it('follows through others and leaves out the step itself', () => {
    const steps = [
      step('s'),
      step('e', { parents: ['s'] }),
      step('f', { parents: ['e'] }),
      step('t'),
      step('g', { parents: ['t', 'f'] }),
    ]
    expect(standingOn(steps, 's').map((s) => s.id)).toEqual(['e', 'f', 'g'])
    expect(standingOn(steps, 't').map((s) => s.id)).toEqual(['g'])
    expect(standingOn(steps, 'g')).toEqual([])
  })
})

describe('behind', () => {
  const steps = ['a', 'b', 'c'].map((id) => step(id))
  it.each([
    ['a', -1, undefined],
    ['b', -1, null],
    ['c', -1, 'a'],
    ['a', 1, 'b'],
    ['c', 1, undefined],
  ] as const)('moves %s by %i behind %s', (id, by, after) => {
    expect(behind(steps, id, by)).toBe(after)
  })
})

describe('standing', () => {
  it.each([
    [step('x', { suppressed: true }), state({}), 'left out', false],
    [step('x'), undefined, '…', false],
    [step('x'), state({ state: 'failed' }), 'fails', true],
    [step('x'), state({ state: 'waiting' }), 'waits', true],
    [step('x'), state({ state: 'left' }), 'not built', false],
    [step('x'), state({ reading: '12 mm', verdict: 'pass' }), '12 mm', false],
    [step('x'), state({ reading: '12 mm', verdict: 'fail' }), '12 mm', true],
    [step('x', sketch(0)), state({}), 'set', false],
    [step('x', sketch(3)), state({}), '3 free', false],
    [step('x'), state({}), '', false],
  ])('%#: says how a step stands', (s, now, text, bad) => {
    expect(standing(s, now)).toEqual({ text, bad })
  })
})

describe('a row', () => {
  it('hides a sketch unless it is asked for, other things only when told', () => {
    expect(isHidden(step('p', { kind: 'plane' }))).toBe(false)
    expect(isHidden(step('p', { kind: 'plane', hidden: true }))).toBe(true)
    expect(isHidden(step('s', { kind: 'sketch' }))).toBe(true)
    expect(isHidden(step('s', { kind: 'sketch', hidden: false }))).toBe(false)
  })

  it('shows the main size of a form, not of sketches and readings', () => {
    expect(mainSize(step('e', { sizes: [size] }))).toBe(size)
    expect(mainSize(step('s', { ...sketch(0), sizes: [size] }))).toBeUndefined()
    expect(mainSize(step('r', { kind: 'reading', sizes: [size] }))).toBeUndefined()
  })

  it('gives the name the room where there is no size', () => {
    expect(wide(step('s', sketch(1)))).toBe(true)
    expect(wide(step('m', { kind: 'mirror' }))).toBe(true)
    expect(wide(step('e', { sizes: [size] }))).toBe(false)
    expect(wide(step('r', { kind: 'reading', sizes: [size] }))).toBe(true)
  })

  it('has a note only once it is built', () => {
    expect(noteOf(state({ message: 'ends in the open' }))).toBe('ends in the open')
    expect(noteOf(state({ state: 'failed', message: 'no' }))).toBe('')
    expect(noteOf(undefined)).toBe('')
  })
})
