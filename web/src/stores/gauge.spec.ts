import { createPinia, setActivePinia } from 'pinia'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { nextTick, reactive } from 'vue'
import type { GaugeAnswer, GaugeInput } from '../api/gauge'
import { useGauge } from './gauge'

const server = { heard: [] as { draft: string; input: GaugeInput | null }[], answers: [] as object[] }
const part = reactive({
  built: null as { revision: number } | null,
  notice: null as string | null,
  sent: [] as object[],
  live: () => ({
    gauge: async (draft: string, input: string | null) => {
      server.heard.push({ draft, input: input ? (JSON.parse(input) as GaugeInput) : null })
      return JSON.stringify(server.answers.shift() ?? answer())
    },
  }),
  send: async (command: object) => void part.sent.push(command),
})
vi.mock('./part', () => ({ usePart: () => part }))

const value = (what: string, points: number): object => ({
  what,
  shown: what,
  points: Array.from({ length: points }, () => [0, 0, 0]),
  keep: { command: what },
})
function answer(values: object[] = [], slots: string[] = []): GaugeAnswer {
  const draft = { active: 'second', first: slots[0] ?? null }
  return {
    draft,
    slots: slots.map((text) => ({ text })),
    values,
    prompt: '',
    refusal: null,
  } as unknown as GaugeAnswer
}

beforeEach(() => {
  setActivePinia(createPinia())
  Object.assign(server, { heard: [], answers: [] })
  Object.assign(part, { built: null, notice: null, sent: [] })
})

// Stores of one test must not go on watching the part of the next.
afterEach(() => useGauge().$dispose())

describe('the measuring tool', () => {
  it('begins with what is picked, slot by slot, three at most', async () => {
    const gauge = useGauge()
    await gauge.begin(['a', 'b', 'c', 'd'])
    expect(server.heard.map((h) => h.input && [h.input.slot, h.input.text])).toEqual([
      null,
      ['first', 'a'],
      ['second', 'b'],
      ['along', 'c'],
    ])
  })

  it('goes on from the draft that the last answer gave', async () => {
    const gauge = useGauge()
    server.answers = [answer([], ['e/end'])]
    await gauge.ask(null)
    await gauge.pick('f/end', false)
    expect(JSON.parse(server.heard[1]!.draft)).toEqual({ active: 'second', first: 'e/end' })
  })

  it('knows what it stands on: snaps and pairs by their things', async () => {
    const gauge = useGauge()
    server.answers = [answer([], ['e/end^e/side@middle', 'p & q', ''])]
    await gauge.ask(null)
    expect(gauge.references).toEqual(['e/end^e/side', 'p', 'q'])
  })

  it('draws the value that was asked for, else the first that has two places', async () => {
    const gauge = useGauge()
    server.answers = [answer([value('angle', 0), value('distance', 2), value('along', 3)])]
    await gauge.ask(null)
    expect(gauge.drawn?.what).toBe('distance')
    gauge.shown = 'along'
    expect(gauge.drawn?.what).toBe('along')
    gauge.shown = 'gone'
    expect(gauge.drawn?.what).toBe('distance')
  })

  it('shows a refusal and keeps its slots', async () => {
    const gauge = useGauge()
    server.answers = [answer([], ['e/end']), { refusal: 'It is not straight.' }]
    await gauge.ask(null)
    await gauge.pick('x', false)
    expect(part.notice).toBe('It is not straight.')
    expect(gauge.references).toEqual(['e/end'])
  })

  it('follows the model while it is open, and only then', async () => {
    const gauge = useGauge()
    part.built = { revision: 1 }
    await nextTick()
    expect(server.heard).toHaveLength(0)
    await gauge.ask(null)
    part.built = { revision: 2 }
    await nextTick()
    await gauge.ask(null)
    expect(server.heard).toHaveLength(3)
    gauge.close()
    expect(gauge.open).toBe(false)
  })

  it('keeps a value as a step', async () => {
    const gauge = useGauge()
    await gauge.keep(value('volume', 0) as never)
    expect(part.sent).toEqual([{ command: 'volume' }])
  })
})
