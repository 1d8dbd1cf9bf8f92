import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { FormAnswer, FormDraft, FormInput, PreviewMessage } from '../api/forms'
import { useForm } from './form'

const draft = (length: string): FormDraft => ({
  step: { kind: 'extrude', id: '', name: 'Extrude', length, sketch: 's' },
})
const answer = (length: string, more: Partial<FormAnswer> = {}): string =>
  JSON.stringify({
    draft: draft(length),
    title: '',
    prompt: 'Pick',
    fields: [],
    grips: [],
    centres: [],
    command: { command: 'add-step' },
    ...more,
  })

const server = {
  made: [] as string[],
  held: [] as (() => void)[],
  answers: [] as string[],
  inputs: [] as FormInput[],
}
const live = {
  beginForm: vi.fn(async () => server.answers.shift()!),
  editForm: vi.fn(async () => server.answers.shift()!),
  form: vi.fn(async (_: FormDraft, input: FormInput) => {
    server.inputs.push(input)
    return server.answers.shift()!
  }),
  previewForm(d: FormDraft, before = false, quick = false): Promise<PreviewMessage> {
    const length = (d.step.length as string | undefined) ?? ''
    server.made.push(
      before ? `before ${length}` : quick || !length.startsWith('slow') ? length : `${length}, as it is`,
    )
    const message = {
      rough: quick && length.startsWith('slow'),
      step: 'e',
      state: length === 'bad' ? 'failed' : 'built',
      message: length === 'bad' ? 'No.' : '',
      bodies: [],
      where: 'length',
      ways: length === 'bad' ? [{ words: 'Take 4 mm', field: 'length', value: '4 mm', instead: null }] : [],
    }
    return new Promise((done) => server.held.push(() => done(message as unknown as PreviewMessage)))
  },
  probe: vi.fn(async () => '{"refusal":"There is no material."}'),
}
const part = { id: 'p', sent: [] as object[], problem: null as object | null, notice: null as string | null }
vi.mock('./part', () => ({
  usePart: () => ({
    live: () => live,
    get snapshot() {
      return { id: part.id }
    },
    send: async (command: object) => {
      part.sent.push(command)
      return part.problem
    },
    set notice(words: string | null) {
      part.notice = words
    },
  }),
}))

const tick = async (): Promise<void> => {
  for (let i = 0; i < 12; i++) await Promise.resolve()
}
async function buildOne(): Promise<void> {
  server.held.shift()?.()
  await tick()
}

beforeEach(() => {
  setActivePinia(createPinia())
  Object.assign(server, { made: [], held: [], answers: [], inputs: [] })
  Object.assign(part, { id: 'p', sent: [], problem: null, notice: null })
  vi.clearAllMocks()
})

describe('a form', () => {
  it('is foreseen with the newest draft only, while one is built', async () => {
    const form = useForm()
    server.answers = [answer('1'), answer('2'), answer('3'), answer('4')]
    await form.begin('extrude', [])
    for (const value of ['2', '3', '4']) await form.set('length', value)
    expect(server.made).toEqual(['1'])
    await buildOne()
    expect(form.preview).toBeNull()
    expect(server.made).toEqual(['1', '4'])
    await buildOne()
    expect(form.preview?.state).toBe('built')
    expect(form.building).toBe(false)
  })

  it('is drawn roughly at once, and as it is when its size stands still', async () => {
    vi.useFakeTimers()
    const form = useForm()
    server.answers = [answer('slow 1'), answer('slow 2')]
    await form.begin('extrude', [])
    await buildOne()
    expect(form.preview?.rough).toBe(true)
    await vi.advanceTimersByTimeAsync(60)
    await form.set('length', 'slow 2')
    await buildOne()
    expect(server.made).toEqual(['slow 1', 'slow 2'])
    await vi.advanceTimersByTimeAsync(200)
    expect(server.made.at(-1)).toBe('slow 2, as it is')
    await buildOne()
    expect(form.preview?.rough).toBe(false)
    expect(form.building).toBe(false)
    vi.useRealTimers()
  })

  it('does not wait out the pause when it is accepted or closed', async () => {
    const form = useForm()
    server.answers = [answer('slow 1'), answer('slow 2')]
    await form.begin('extrude', [])
    await buildOne()
    const accepted = form.accept()
    await tick()
    expect(server.made).toEqual(['slow 1', 'slow 1, as it is'])
    await buildOne()
    await accepted
    expect(part.sent).toHaveLength(1)

    await form.begin('extrude', [])
    await buildOne()
    form.close()
    await tick()
    expect(form.building).toBe(false)
    expect(server.made).toHaveLength(3)
  })

  it('is not built again for a new name', async () => {
    const form = useForm()
    const renamed = JSON.parse(answer('1')) as FormAnswer
    renamed.draft.step.name = 'Rib'
    server.answers = [answer('1'), JSON.stringify(renamed)]
    await form.begin('extrude', [])
    await buildOne()
    await form.rename('Rib')
    await tick()
    expect(server.made).toEqual(['1'])
  })

  it('takes no answer that comes after it was closed', async () => {
    const form = useForm()
    server.answers = [answer('1')]
    const begun = form.begin('extrude', [])
    form.close()
    await begun
    expect(form.open).toBe(false)
  })

  it('has no picture while it lacks something, and says what', async () => {
    const form = useForm()
    server.answers = [
      answer('1'),
      answer('1', {
        command: undefined,
        refusal: { code: '', message: 'A sketch is needed.', involved: [], places: [] },
      }),
    ]
    await form.begin('extrude', [])
    await buildOne()
    expect(form.preview).not.toBeNull()
    await form.set('sketch', '')
    expect(form.preview).toBeNull()
    expect(form.trouble).toBe('A sketch is needed.')
    await form.accept()
    expect(part.sent).toEqual([])
    expect(part.notice).toBe('A sketch is needed.')
  })

  it('says why it cannot be built', async () => {
    const form = useForm()
    server.answers = [answer('bad')]
    await form.begin('extrude', [])
    await buildOne()
    expect(form.trouble).toBe('No.')
  })

  it('closes once it is taken, and stays where that is refused', async () => {
    const form = useForm()
    server.answers = [answer('1')]
    await form.begin('extrude', [])
    await buildOne()
    part.problem = { detail: 'stale' }
    await form.accept()
    expect(form.open).toBe(true)
    part.problem = null
    await form.accept()
    expect(part.sent).toHaveLength(2)
    expect(form.open).toBe(false)
  })

  it('is not accepted while it cannot be built, says where and takes the way on', async () => {
    const form = useForm()
    const fields = [{ name: 'length', type: 'value', picks: [] }] as unknown as FormAnswer['fields']
    server.answers = [answer('bad', { fields }), answer('4', { fields })]
    await form.begin('extrude', [])
    await buildOne()
    expect([form.trouble, form.where]).toEqual(['No.', 'length'])
    await form.accept()
    expect([part.sent, part.notice, form.open]).toEqual([[], 'No.', true])
    await form.follow(form.ways[0]!)
    expect(server.inputs.at(-1)).toEqual({ field: 'length', value: '4 mm' })
    await buildOne()
    expect([form.trouble, form.ways]).toEqual(['', []])
    await form.accept()
    expect(part.sent).toHaveLength(1)
  })

  it('puts one pick in place of another where a way says so', async () => {
    const form = useForm()
    server.answers = [answer('1'), answer('1')]
    await form.begin('fillet', [])
    await form.follow({ words: 'Take a', field: 'edges', value: 'a', instead: 'lost' })
    expect(server.inputs.at(-1)).toEqual({ field: 'edges', pick: 'a', value: 'lost' })
  })

  it('is laid aside with its values and taken up again, in the part that it is of', async () => {
    const form = useForm()
    server.answers = [answer('7', { title: 'New hole' }), answer('7'), answer('8', { title: 'New extrude' })]
    await form.begin('hole', [])
    form.layAside()
    expect([form.open, form.aside.map((k) => k.title)]).toEqual([false, ['New hole']])
    await form.takeUp(0)
    expect([form.open, form.aside]).toEqual([true, []])
    expect(live.form).toHaveBeenLastCalledWith(draft('7'), {})
    await form.begin('extrude', [])
    form.layAside()
    form.forget(0)
    expect(form.aside).toEqual([])
  })

  it('shows the model as it stood before while it is edited', async () => {
    const form = useForm()
    server.answers = [answer('5')]
    const begun = form.edit('e')
    await tick()
    expect(server.made).toEqual(['before 5'])
    await buildOne()
    await begun
    expect(form.before).toEqual([])
    expect(server.made).toEqual(['before 5', '5'])
  })

  it('drags one step at a time', async () => {
    const form = useForm()
    server.answers = [answer('1'), answer('2'), answer('3')]
    await form.begin('extrude', [])
    const first = form.pull('length', [0, 0, 0, 0, 0, 1], 2)
    await form.pull('length', [0, 0, 1, 0, 0, 1], 2)
    await first
    expect(server.inputs.map((i) => i.ray![2])).toEqual([0])
  })

  it.each([
    [{ kind: 'hole' }, true],
    [{ kind: 'extrude', operation: 'cut' }, true],
    [{ kind: 'extrude', operation: 'join' }, false],
    [{ kind: 'chamfer' }, true],
    [{ kind: 'thread' }, true],
    [{ kind: 'fillet' }, false],
  ])('knows whether it takes material: %o', async (step, taking) => {
    const form = useForm()
    server.answers = [answer('1', { draft: { step: { id: '', name: '', ...step } } })]
    await form.begin(step.kind, [])
    expect(form.taking).toBe(taking)
  })

  it('lists what it stands on', async () => {
    const form = useForm()
    const picks = [{ reference: 'e/end', words: '', lost: false }]
    const fields = [
      { type: 'picks', picks },
      { type: 'regions', picks: [{ reference: '+a', words: '', lost: false }], active: true },
    ] as unknown as FormAnswer['fields']
    server.answers = [answer('1', { fields })]
    await form.begin('extrude', [])
    expect(form.references).toEqual(['e/end'])
    expect(form.regions.map((r) => r.reference)).toEqual(['+a'])
    expect([form.choosing, form.sketch]).toEqual([true, 's'])
  })
})

describe('the probe', () => {
  it('says why there is nothing to show', async () => {
    const form = useForm()
    await form.probe('world/z')
    expect(form.probed).toBeNull()
    expect(part.notice).toBe('There is no material.')
  })
})
