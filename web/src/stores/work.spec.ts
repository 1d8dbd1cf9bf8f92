import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { nextTick, ref, shallowRef } from 'vue'
import type { AnswerMessage, InputMessage, OfferMessage } from '../api/live'
import { useWork } from './work'

/** A server that answers when it is let. */
const server = {
  heard: [] as InputMessage[],
  held: [] as (() => void)[],
  next: {} as Partial<AnswerMessage>,
  broken: false,
  offers: [] as OfferMessage[],
  ways: [] as { words: string }[],
}
const answerOf = (more: Partial<AnswerMessage>): AnswerMessage =>
  ({
    prompt: '',
    preview: [],
    refusal: null,
    outs: [],
    picks: null,
    hover: '',
    revision: 1,
    ...more,
  }) as AnswerMessage
const live = {
  startTool: vi.fn(async () => answerOf({ prompt: 'Press a point' })),
  input(message: InputMessage): Promise<AnswerMessage> {
    server.heard.push(message)
    const next = answerOf(server.next)
    return new Promise((done, fail) =>
      server.held.push(() => (server.broken ? fail(new Error('gone')) : done(next))),
    )
  },
  offers: vi.fn(async () => server.offers),
  waysOut: vi.fn(async () => server.ways),
  copy: vi.fn(async () => 'clip'),
  paste: vi.fn(async () => '{"command":"edit-sketch"}'),
  apart: vi.fn(
    async () => '{"words":"only seen","crossing":{"command":"take"},"here":[0,0,0],"there":[0,0,5]}',
  ),
  take: vi.fn(async () => '{"refusal":"It misses the plane."}'),
}
const part = {
  snapshot: shallowRef<object | null>({ revision: 1, steps: [] }),
  built: shallowRef<object | null>(null),
  notice: ref<string | null>(null),
  sent: [] as object[],
  problem: null as object | null,
}
vi.mock('./part', () => ({
  usePart: () => ({
    get snapshot() {
      return part.snapshot.value
    },
    get built() {
      return part.built.value
    },
    get notice() {
      return part.notice.value
    },
    set notice(words: string | null) {
      part.notice.value = words
    },
    live: () => live,
    refresh: async () => undefined,
    send: async (command: object) => {
      part.sent.push(command)
      return part.problem
    },
  }),
}))

/** Lets every answer that is due come, one after the other. */
async function settle(work: ReturnType<typeof useWork>): Promise<void> {
  for (let i = 0; i < 20; i++) {
    server.held.shift()?.()
    await Promise.resolve()
    await nextTick()
  }
  await work.idle()
}

async function drawing(): Promise<ReturnType<typeof useWork>> {
  const work = useWork()
  await work.enterSketch('s', 'line')
  return work
}

beforeEach(() => {
  setActivePinia(createPinia())
  Object.assign(server, { heard: [], held: [], next: {}, broken: false, offers: [], ways: [] })
  Object.assign(part, { sent: [], problem: null })
  part.notice.value = null
  part.snapshot.value = { revision: 1, steps: [] }
  vi.clearAllMocks()
})

describe('input', () => {
  it('lets only the newest move wait while one is under way', async () => {
    const work = await drawing()
    for (const x of [1, 2, 3, 4]) {
      work.pointer.x = x
      void work.input('move')
      await nextTick()
    }
    await settle(work)
    expect(server.heard.map((m) => m.x)).toEqual([1, 4])
  })

  it('drops no click and keeps their order', async () => {
    const work = await drawing()
    for (const x of [1, 2, 3]) {
      work.pointer.x = x
      void work.input('click')
    }
    await settle(work)
    expect(server.heard.map((m) => [m.kind, m.x])).toEqual([
      ['click', 1],
      ['click', 2],
      ['click', 3],
    ])
  })

  it('keeps a refusal readable while the pointer only moves', async () => {
    const work = await drawing()
    server.next = { refusal: { code: 'x', message: 'too short', where: null, involved: [] } }
    void work.input('click')
    await settle(work)
    server.next = {}
    void work.input('move')
    await settle(work)
    expect(work.answer!.refusal!.message).toBe('too short')
    void work.input('click')
    await settle(work)
    expect(work.answer!.refusal).toBeNull()
  })

  it('says that the link broke, and goes on', async () => {
    const work = await drawing()
    server.broken = true
    void work.input('click')
    await settle(work)
    expect(part.notice.value).toContain('the last input was not used')
    server.broken = false
    void work.input('click')
    await settle(work)
    expect(part.notice.value).toBeNull()
  })

  it('leaves the sketch from the select tool, and goes back to it from another', async () => {
    const work = await drawing()
    server.next = { leave: true }
    void work.input('cancel')
    await settle(work)
    expect([work.sketch, work.tool]).toEqual(['s', 'select'])
    void work.input('cancel')
    await settle(work)
    expect(work.sketch).toBeNull()
  })
})

describe('a tool', () => {
  it('is taken up after what is under way', async () => {
    const work = await drawing()
    void work.input('click')
    const begun = work.startTool('circle')
    await nextTick()
    expect(live.startTool).toHaveBeenCalledTimes(1)
    await settle(work)
    await begun
    expect(live.startTool).toHaveBeenLastCalledWith('s', 'circle', [])
    expect(work.tool).toBe('circle')
  })

  it('that the server does not know holds up nothing', async () => {
    const work = await drawing()
    live.startTool.mockRejectedValueOnce(new Error('no such tool'))
    await expect(work.startTool('odd')).rejects.toThrow('no such tool')
    void work.input('click')
    await settle(work)
    expect(server.heard).toHaveLength(1)
  })
})

describe('offers', () => {
  it('of the newest picks stay, whatever comes late', async () => {
    const work = await drawing()
    let slow = (): void => undefined
    live.offers.mockImplementationOnce(
      () => new Promise((done) => (slow = () => done([{ id: 'old' } as OfferMessage]))),
    )
    work.picks = ['a']
    await nextTick()
    server.offers = [{ id: 'new' } as OfferMessage]
    work.picks = ['b']
    await nextTick()
    await vi.waitFor(() => expect(work.offers.map((o) => o.id)).toEqual(['new']))
    slow()
    await nextTick()
    await Promise.resolve()
    expect(work.offers.map((o) => o.id)).toEqual(['new'])
  })

  const remove = { id: 'remove', command: '{"command":"x"}', touches: ['d1'] } as unknown as OfferMessage

  it('asks once more where more goes than was picked', async () => {
    const work = await drawing()
    await work.press(remove)
    expect(part.sent).toEqual([])
    expect(work.touched).toEqual(['d1'])
    await work.press(work.asked!)
    expect(part.sent).toEqual([{ command: 'x' }])
    expect(work.touched).toEqual([])
  })

  it('asks for what is offered now before it removes', async () => {
    const work = await drawing()
    work.picks = ['l1']
    server.offers = [{ ...remove, touches: [] }]
    await work.removePicked()
    expect(live.offers).toHaveBeenCalledWith('s', ['l1'])
    expect(part.sent).toEqual([{ command: 'x' }])
    expect(work.picks).toEqual([])
  })

  it('asks for ways out where a sketch refuses, and only there', async () => {
    const work = await drawing()
    server.ways = [{ words: 'make it a reference' }]
    part.problem = { code: 'sketch.clash', detail: 'It clashes.', involved: ['d1'] }
    expect(await work.send('{"command":"x"}')).toBe(false)
    expect(work.outs).toEqual(server.ways)
    expect(work.answer!.refusal!.involved).toEqual(['d1'])
    part.problem = { code: 'step.order', detail: 'No.', involved: null }
    await work.send('{"command":"x"}')
    expect(work.outs).toEqual([])
  })
})

describe('planes', () => {
  it('are the world’s, planes and frames of the part, and planar faces', () => {
    const work = useWork()
    part.snapshot.value = {
      revision: 1,
      steps: [
        { id: 'p', kind: 'plane' },
        { id: 'a', kind: 'axis' },
      ],
    }
    part.built.value = { bodies: [{ faces: ['e/end', 'e/side/k'], surfaces: ['plane', 'cylinder'] }] }
    expect(['world/xy', 'p', 'e/end'].map((n) => work.isPlane(n))).toEqual([true, true, true])
    expect(['a', 'e/side/k', 'gone'].map((n) => work.isPlane(n))).toEqual([false, false, false])
  })

  it('are waited for where a sketch tool has none, once there are sketches', async () => {
    const work = useWork()
    part.snapshot.value = { revision: 1, steps: [{ id: 's', kind: 'sketch' }] }
    await work.chooseTool('line')
    expect(work.awaitingPlane).toBe('line')
    expect(part.sent).toEqual([])
    part.snapshot.value = { revision: 1, steps: [] }
    await work.chooseTool('line')
    expect(part.sent).toMatchObject([{ command: 'add-step', step: { on: 'world/xy' } }])
  })
})

describe('copy and paste', () => {
  it('says what to do where nothing was copied', async () => {
    const work = await drawing()
    await work.paste()
    expect(part.notice.value).toContain('Nothing was copied yet')
    expect(live.paste).not.toHaveBeenCalled()
  })

  it('pastes at the pointer', async () => {
    const work = await drawing()
    work.picks = ['l1', 'l2']
    await work.copy()
    expect(part.notice.value).toContain('2 copied')
    Object.assign(work.pointer, { x: 7, y: 8 })
    await work.paste()
    expect(live.paste).toHaveBeenCalledWith('s', 'clip', 7, 8)
    expect(part.sent).toEqual([{ command: 'edit-sketch' }])
  })
})

describe('taking from the model', () => {
  it('says why something cannot be taken', async () => {
    const work = await drawing()
    await work.startTaking('section')
    expect(work.takingPrompt).toContain('Enter for the whole body')
    await work.take('e/end')
    expect(live.take).toHaveBeenCalledWith('s', 'section', 'e/end')
    expect(part.notice.value).toBe('It misses the plane.')
  })

  it('hands over the one point that is picked, and offers what can be done with what is only seen', async () => {
    const work = await drawing()
    part.snapshot.value = {
      revision: 1,
      steps: [
        {
          id: 's',
          kind: 'sketch',
          sketch: {
            entities: [
              { id: 'p', kind: 'point' },
              { id: 'l', kind: 'line' },
            ],
          },
        },
      ],
    }
    work.picks = ['l']
    const beyond = { name: 'e/end', ray: [0, 0, 1, 0, 0, -1] }
    await work.click({}, beyond)
    expect(live.apart).toHaveBeenLastCalledWith(
      's',
      'e/end',
      work.pointer.x,
      work.pointer.y,
      [0, 0, 1, 0, 0, -1],
      null,
    )
    work.picks = ['p']
    await work.click({}, beyond)
    expect(live.apart.mock.lastCall!.at(-1)).toBe('p')
    await work.takeSeen('copy')
    expect(part.sent).toEqual([])
    await work.click({}, beyond)
    await work.takeSeen('crossing')
    expect(part.sent).toEqual([{ command: 'take' }])
    expect(work.apart).toBeNull()
  })

  it('waits for what the move before a click met, and then clicks where that click was', async () => {
    const work = await drawing()
    work.pointer.x = 7
    server.next = { hover: 'l' }
    void work.input('move')
    const clicked = work.click({ extend: true }, { name: 'e/end', ray: [] })
    work.pointer.x = 50
    await settle(work)
    await clicked
    expect(live.apart).not.toHaveBeenCalled()
    expect(server.heard.map((m) => [m.kind, m.x, m.extend])).toEqual([
      ['move', 7, false],
      ['click', 7, true],
    ])
  })

  it('goes on after the link failed while something beyond the sketch was asked about', async () => {
    const work = await drawing()
    live.apart.mockRejectedValueOnce(new Error('gone'))
    await work.click({}, { name: 'e/end', ray: [] })
    expect(part.notice.value).toContain('interrupted')
    void work.input('click')
    await settle(work)
    expect(server.heard.map((m) => m.kind)).toEqual(['click'])
  })
})
