import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { OfferMessage } from '../api/live'
import { useForesight } from './foresight'
import { usePart } from './part'

const asked: [string, unknown][] = []
let answer: (what: string) => Promise<unknown>
const live = {
  preview: (_: string, command: string) => (asked.push(['preview', command]), answer('preview')),
  datum: (draft: string) => (asked.push(['datum', JSON.parse(draft)]), answer('datum')),
  previewForm: (draft: unknown) => (asked.push(['form', draft]), answer('form')),
}
const offer = (id: string, more: Partial<OfferMessage>): OfferMessage =>
  ({ id, label: id, detail: '', command: null, draft: null, form: null, points: [], ...more }) as OfferMessage

describe('what an offer would make', () => {
  beforeEach(() => {
    vi.useFakeTimers()
    setActivePinia(createPinia())
    asked.length = 0
    usePart().live = (() => live) as never
    answer = (what) =>
      Promise.resolve(
        what === 'datum' ? '{"solutions":[1]}' : what === 'form' ? { state: 'built' } : [{ kind: 'line' }],
      )
  })

  it('is a datum where the offer has a draft of one, once the pointer rests', async () => {
    const foresight = useForesight()
    const shown = foresight.show(offer('plane-on', { draft: '{"makes":"plane","picks":["a"]}' }), null)
    expect(asked).toEqual([])
    await vi.runAllTimersAsync()
    await shown
    expect(asked).toEqual([
      ['datum', { makes: 'plane', picks: ['a'], conditions: [], flip: false, name: '' }],
    ])
    expect(foresight.datum).toEqual({ solutions: [1] })
    foresight.hide()
    expect(foresight.datum).toBeNull()
  })

  it('asks nothing of what the pointer only passes over', async () => {
    const foresight = useForesight()
    const first = foresight.show(offer('form-fillet', { form: '{"step":1}' }), null)
    const second = foresight.show(offer('form-shell', { form: '{"step":2}' }), null)
    await vi.runAllTimersAsync()
    await Promise.all([first, second])
    expect(asked).toEqual([['form', { step: 2 }]])
    expect(foresight.form).toEqual({ state: 'built' })
  })

  it('shows nothing of an answer that comes too late, nor of a form that is refused', async () => {
    const foresight = useForesight()
    let come: (v: unknown) => void = () => undefined
    answer = () => new Promise((go) => (come = go))
    const late = foresight.show(offer('form-fillet', { form: '{}' }), null)
    await vi.runAllTimersAsync()
    foresight.hide()
    come({ state: 'built' })
    await late
    expect(foresight.form).toBeNull()
    answer = () => Promise.resolve({ state: 'failed' })
    const failed = foresight.show(offer('form-fillet', { form: '{}' }), null)
    await vi.runAllTimersAsync()
    await failed
    expect(foresight.form).toBeNull()
  })

  it('draws a reading between its places with its value, at once', async () => {
    const foresight = useForesight()
    await foresight.show(offer('distance', { detail: '12 mm', points: [0, 0, 0, 12, 0, 0] }), null)
    expect(foresight.reading).toEqual({
      shown: '12 mm',
      points: [
        [0, 0, 0],
        [12, 0, 0],
      ],
    })
    await foresight.show(offer('area', { detail: '9 mm²' }), null)
    expect(foresight.reading).toBeNull()
  })

  it('shows on an open sketch only what changes it visibly', async () => {
    const foresight = useForesight()
    await foresight.show(offer('tie-parallel', { command: '{}' }), 's1')
    expect(foresight.curves).toEqual([{ kind: 'line' }])
    await foresight.show(offer('remove', { command: '{}' }), 's1')
    expect([foresight.curves, asked.length]).toEqual([[], 1])
  })
})
