import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { CurveDraft, DatumAnswer, DatumCondition, DatumDraft } from '../api/datums'
import { useDatum } from './datum'

/** A server that answers with the draft it was asked about. */
const server = {
  drafts: [] as DatumDraft[],
  curves: [] as CurveDraft[],
  more: {} as Partial<DatumAnswer>,
  hold: null as Promise<void> | null,
}
const live = {
  async datum(json: string): Promise<string> {
    const draft = JSON.parse(json) as DatumDraft
    server.drafts.push(draft)
    await server.hold
    return JSON.stringify({
      draft,
      fields: [],
      solutions: [],
      chosen: 0,
      prompt: 'More is needed.',
      ...server.more,
    })
  },
  async curve(json: string): Promise<string> {
    const draft = JSON.parse(json) as CurveDraft
    server.curves.push(draft)
    return JSON.stringify({ draft, prompt: 'Pick a point.' })
  },
  pointAt: vi.fn(async (reference: string) =>
    JSON.stringify(
      reference === 'air'
        ? { refusal: 'There is nothing.' }
        : { condition: { relation: reference === 'p' ? 'at' : 'on-face', of: [reference], values: [] } },
    ),
  ),
  draft: vi.fn(async () =>
    JSON.stringify({
      step: 'plane_1',
      makes: 'plane',
      conditions: [condition('offset', ['e/end'], ['8 mm'])],
      flip: false,
      name: 'Plane 1',
    }),
  ),
  quickPlane: vi.fn(async () => JSON.stringify({ draft: {}, command: { command: 'add-step' } })),
  viewFrame: vi.fn(async () => JSON.stringify({ makes: 'plane' })),
}
const part = {
  notice: null as string | null,
  sent: [] as object[],
  problem: null as object | null,
  units: 'mm',
}
vi.mock('./part', () => ({
  usePart: () => ({
    live: () => live,
    get snapshot() {
      return { units: part.units }
    },
    set notice(words: string | null) {
      part.notice = words
    },
    send: async (command: object) => {
      part.sent.push(command)
      return part.problem
    },
  }),
}))

function condition(relation: string, of: string[], values: string[] = []): DatumCondition {
  return { relation, of, values }
}
const UP = [0, 0, 1, 0, 0, -1]
const last = (): DatumDraft => server.drafts.at(-1)!

beforeEach(() => {
  setActivePinia(createPinia())
  Object.assign(server, { drafts: [], curves: [], more: {}, hold: null })
  Object.assign(part, { notice: null, sent: [], problem: null, units: 'mm' })
  vi.clearAllMocks()
})

describe('a datum', () => {
  it('begins with the picks; a free point with coordinates', async () => {
    const datum = useDatum()
    await datum.begin('plane', ['e/end'])
    expect(last()).toMatchObject({ makes: 'plane', picks: ['e/end'], conditions: [] })
    part.units = 'in'
    await datum.begin('point', [])
    expect(last().conditions).toEqual([condition('coordinates', [], ['0 in', '0 in', '0 in'])])
  })

  it('is typed within the frame that is worked in, the newest of them', async () => {
    const datum = useDatum()
    datum.workIn('frame_1')
    datum.workIn('frame_2')
    datum.workIn('frame_1')
    expect(datum.frames).toEqual(['frame_2', 'frame_1'])
    await datum.begin('frame', [])
    expect(last().conditions[0]).toEqual(
      condition('like', ['frame_1'], ['0 mm', '0 mm', '0 mm', '0 deg', '0 deg', '0 deg']),
    )
    datum.workIn(null)
    expect(datum.active).toBe('frame_2')
  })

  it('gives up what was only placed freely for the first pick', async () => {
    const datum = useDatum()
    await datum.begin('point', [])
    await datum.pick('e/end', UP)
    expect(last()).toMatchObject({ conditions: [], picks: ['e/end'] })
  })

  it('drops a pick that is picked again and asks anew about the rest', async () => {
    const datum = useDatum()
    await datum.openDraft(
      JSON.stringify({ makes: 'plane', conditions: [condition('through', ['a', 'b'])], choice: '2' }),
    )
    await datum.pick('a', UP)
    expect(last()).toMatchObject({ conditions: [], picks: ['b'] })
    expect(last().choice).toBeUndefined()
  })

  it('puts the next pick in the place of the one that is replaced', async () => {
    const datum = useDatum()
    await datum.openDraft(JSON.stringify({ makes: 'plane', conditions: [condition('through', ['a', 'b'])] }))
    datum.replacing = { condition: 0, pick: 1 }
    await datum.pick('c', UP)
    expect(last().conditions[0]!.of).toEqual(['a', 'c'])
    expect(datum.replacing).toBeNull()
  })

  it('does not stand on itself', async () => {
    const datum = useDatum()
    await datum.edit('plane_1')
    const asked = server.drafts.length
    await datum.pick('plane_1/origin', UP)
    expect(server.drafts).toHaveLength(asked)
  })

  it('lengthens a path by an edge, only where there is one', async () => {
    const datum = useDatum()
    await datum.openDraft(JSON.stringify({ makes: 'point', conditions: [condition('on-face', ['f'])] }))
    expect(datum.lengthen('e2')).toBe(false)
    await datum.openDraft(
      JSON.stringify({ makes: 'point', conditions: [condition('at-fraction', ['e1'], ['0.5'])] }),
    )
    expect(datum.lengthen('e2')).toBe(true)
    expect(last().conditions[0]!.of).toEqual(['e1 + e2'])
    expect(datum.references).toEqual(['e1'])
  })

  it.each([
    ['offset', '8 mm', '12', '12 mm'],
    ['angle', '30 deg', '-45.5', '-45.5 deg'],
    ['fraction', '0.5', '0.25', '0.25'],
    ['offset', '8 mm', '1/2 in', '1/2 in'],
    ['offset', '8 mm', 'wall * 2', 'wall * 2'],
  ])('reads %s, %s, typed as %s', async (name, before, typed, after) => {
    const datum = useDatum()
    server.more = { fields: [{ name, shown: before }] as unknown as DatumAnswer['fields'] }
    await datum.openDraft(
      JSON.stringify({ makes: 'plane', conditions: [condition('offset', ['e/end'], [before])] }),
    )
    await datum.setValue(name, typed)
    expect(last().conditions[0]!.values).toEqual([after])
  })

  it('goes round its solutions both ways', async () => {
    const datum = useDatum()
    server.more = {
      solutions: [{ label: 'a' }, { label: 'b' }, { label: 'c' }] as unknown as DatumAnswer['solutions'],
      chosen: 0,
    }
    await datum.begin('plane', [])
    datum.next(-1)
    expect(last().choice).toBe('c')
    datum.next(1)
    await vi.waitFor(() => expect(last().choice).toBe('b'))
  })

  it('heeds only the newest answer', async () => {
    const datum = useDatum()
    let free = (): void => undefined
    server.hold = new Promise((done) => (free = done))
    const first = datum.begin('plane', ['slow'])
    server.hold = null
    await datum.begin('plane', ['quick'])
    free()
    await first
    expect(datum.answer!.draft.picks).toEqual(['quick'])
  })

  it('says what is missing rather than being made', async () => {
    const datum = useDatum()
    await datum.begin('plane', [])
    expect(await datum.accept()).toBe(false)
    expect(part.notice).toBe('More is needed.')
    server.more = { command: { command: 'add-step' } as unknown as DatumAnswer['command'] }
    await datum.begin('plane', [])
    part.problem = { detail: 'stale' }
    expect(await datum.accept()).toBe(false)
    expect(datum.open).toBe(true)
    part.problem = null
    expect(await datum.accept()).toBe(true)
    expect(datum.open).toBe(false)
  })
})

describe('a curve in space', () => {
  it('stands on points that are there, and makes those that are not', async () => {
    const datum = useDatum()
    await datum.beginCurve('line', ['p', 'e/end'])
    expect(server.curves.at(-1)!.points).toEqual([
      { reference: 'p' },
      { made: condition('on-face', ['e/end']) },
    ])
    await datum.pick('q', UP)
    expect(server.curves.at(-1)!.points).toHaveLength(2)
  })

  it('says where a point cannot be', async () => {
    const datum = useDatum()
    await datum.beginCurve('spline', ['air'])
    expect(part.notice).toBe('There is nothing.')
    expect(datum.curve!.draft.points).toEqual([])
  })

  it('takes a plane after its centre, and a radius or a diameter', async () => {
    const datum = useDatum()
    await datum.beginCurve('circle', ['p', 'e/end'])
    expect(server.curves.at(-1)).toMatchObject({ points: [{ reference: 'p' }], support: 'e/end' })
    await datum.setValue('radius', '5')
    await datum.setValue('diameter', '12')
    expect(server.curves.at(-1)!.diameter).toBe('12 mm')
    expect(server.curves.at(-1)!.radius).toBeUndefined()
  })

  it('has points by three typed numbers, no more and no fewer', async () => {
    const datum = useDatum()
    await datum.beginCurve('spline', [])
    expect(await datum.typePoint('1, 2')).toBe(false)
    expect(part.notice).toContain('Three numbers')
    expect(await datum.typePoint('1, , 2')).toBe(false)
    expect(await datum.typePoint('1, 2 in, h')).toBe(true)
    expect(server.curves.at(-1)!.points).toEqual([
      { made: condition('coordinates', [], ['1 mm', ' 2 in', ' h']) },
    ])
    await datum.dropPoint(0)
    expect(server.curves.at(-1)!.points).toEqual([])
  })
})

describe('the quick plane', () => {
  it('is not brought back by an answer that comes after it was left', async () => {
    const datum = useDatum()
    await datum.follow(['p'], [0, 0, 1])
    expect(datum.quick?.picks).toEqual(['p'])
    const late = datum.follow(['p'], [0, 1, 0])
    datum.close()
    await late
    expect(datum.quick).toBeNull()
  })
})
