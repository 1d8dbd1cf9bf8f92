import { describe, expect, it } from 'vitest'
import type { PartSnapshot } from '../api/client'
import type { RebuiltMessage } from '../api/live'
import { STEPS, type Seen } from './guide'

const line = { kind: 'line' }
const SIZES = [{ value: '80 mm' }, { value: '50 mm' }]
const sketch = (entities: object[], dimensions: object[] = []): object => ({
  kind: 'sketch',
  sketch: { entities, dimensions },
})
const seen = (steps: object[], bodies: object[] = [], saved = false): Seen => ({
  part: { steps } as unknown as PartSnapshot,
  built: { bodies } as unknown as RebuiltMessage,
  saved,
})
const body = (...surfaces: string[]): object => ({ surfaces, reference: false })
const done = (s: Seen): boolean[] => STEPS.map((step) => step.done(s))

describe('the guide', () => {
  it('waits for each deed', () => {
    const four = [line, line, line, line]
    expect(done(seen([]))).toEqual([false, false, false, false, false, false, false])
    expect(done(seen([sketch(four)])).slice(0, 2)).toEqual([true, false])
    expect(done(seen([sketch(four, SIZES)])).slice(0, 3)).toEqual([true, true, false])
    expect(done(seen([sketch([...four, { kind: 'circle' }], SIZES)])).slice(0, 4)).toEqual([
      true,
      true,
      true,
      false,
    ])
  })

  it('takes any way of doing it', () => {
    // A turned body that was drilled: no rectangle was ever drawn.
    const other = seen([{ kind: 'axis' }, { kind: 'reading' }], [body('plane', 'cylinder')], true)
    expect(done(other)).toEqual([true, true, true, true, true, true, true])
  })

  it('does not count what was read as triangles for a body', () => {
    expect(done(seen([], [{ surfaces: ['mesh'], reference: true }]))[3]).toBe(false)
  })
})
