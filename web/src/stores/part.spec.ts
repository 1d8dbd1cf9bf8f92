import { createPinia, setActivePinia } from 'pinia'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { PartCommand } from '../api/client'

/** The live link as the store opens it, with what it is told to hear. */
type Hears = {
  changed(revision: number): void
  rebuilt(message: object): void
  building(step: string | null): void
  share(share: number): void
  connected(on: boolean): void
}
const links: { part: string; hears: Hears; opened: boolean; closed: boolean }[] = []
vi.mock('../api/live', () => ({
  LiveLink: class {
    private readonly self: (typeof links)[number]
    constructor(part: string, hears: Hears) {
      this.self = { part, hears, opened: false, closed: false }
      links.push(this.self)
    }
    async open(): Promise<void> {
      this.self.opened = true
    }
    close(): void {
      this.self.closed = true
    }
  },
}))

/** A server of parts by their ids; answers are held where that is asked. */
const parts = new Map<string, { id: string; revision: number }>()
const asked: { method: string; path: string; body: unknown }[] = []
let answer: ((method: string, path: string) => Response | Promise<Response> | null) | null = null
async function server(input: RequestInfo | URL, init?: RequestInit): Promise<Response> {
  // A copy of a request is one of the class below the one that is put in its place here.
  const request =
    typeof input === 'object' && 'clone' in input
      ? input
      : new Request(new URL(String(input), 'http://host'), init)
  const path = new URL(request.url).pathname
  const text = init?.body instanceof File ? init.body.name : await request.text()
  asked.push({ method: request.method, path, body: text.startsWith('{') ? JSON.parse(text) : text })
  const special = answer?.(request.method, path)
  if (special) return special
  const part = parts.get(path.split('/')[3]!)
  return part
    ? Response.json(part)
    : Response.json({ detail: 'There is no such part.', status: 404 }, { status: 404 })
}
vi.stubGlobal('fetch', server)
// Requests of a page are relative to it.
vi.stubGlobal(
  'Request',
  class extends Request {
    constructor(input: RequestInfo | URL, init?: RequestInit) {
      super(input instanceof Request ? input : new URL(String(input), 'http://host'), init)
    }
  },
)
const { usePart } = await import('./part')

const rename = { command: 'rename-part', name: 'Other' } as PartCommand
const last = (): Hears => links.at(-1)!.hears

beforeEach(() => {
  setActivePinia(createPinia())
  links.length = asked.length = 0
  parts.clear()
  parts.set('a', { id: 'a', revision: 3 })
  parts.set('b', { id: 'b', revision: 1 })
  answer = null
})
afterEach(() => vi.restoreAllMocks())

describe('opening', () => {
  it('takes the part and then hears of its changes', async () => {
    const part = usePart()
    await part.open('a')
    expect(part.snapshot?.revision).toBe(3)
    expect(links).toMatchObject([{ part: 'a', opened: true }])
    expect(part.settled).toBe(false)
    last().rebuilt({ revision: 3, steps: [{ id: 's', state: 'built' }], bodies: [] })
    expect(part.settled).toBe(true)
    expect(part.states.get('s')).toMatchObject({ state: 'built' })
  })

  it('says why where there is none, and opens no link', async () => {
    const part = usePart()
    await part.open('z')
    expect(part.missing).toBe('There is no such part.')
    expect(links).toMatchObject([{ part: 'z', closed: true }])
  })

  it('asks for the part and for the model at once, whichever comes first', async () => {
    let give = (): void => undefined
    answer = (method, path) =>
      path === '/api/parts/a' && method === 'GET'
        ? new Promise<Response>((done) => (give = () => done(Response.json({ id: 'a', revision: 3 }))))
        : null
    const part = usePart()
    const opened = part.open('a')
    await vi.waitFor(() => expect(links).toMatchObject([{ part: 'a', opened: true }]))
    last().rebuilt({ revision: 3, steps: [], bodies: [] })
    expect(part.built).toBeNull()
    await vi.waitFor(() => expect(asked).toHaveLength(1))
    give()
    await opened
    expect(part.settled).toBe(true)
    expect(asked.filter((a) => a.path === '/api/parts/a')).toHaveLength(1)
  })

  it('closes the one before, and what comes late of that one is not taken for the new one', async () => {
    const part = usePart()
    await part.open('a')
    let late: (r: Response) => void = () => undefined
    answer = (_, path) => (path === '/api/parts/a' ? new Promise<Response>((done) => (late = done)) : null)
    last().changed(4)
    await vi.waitFor(() => expect(asked.at(-1)!.path).toBe('/api/parts/a'))
    await part.open('b')
    expect(links[0]!.closed).toBe(true)
    late(Response.json({ id: 'a', revision: 9 }))
    await new Promise((done) => setTimeout(done, 5))
    expect(part.snapshot).toMatchObject({ id: 'b', revision: 1 })
  })
})

describe('hearing', () => {
  it('asks anew for what others changed, and not for what is known', async () => {
    const part = usePart()
    await part.open('a')
    const before = asked.length
    last().changed(3)
    expect(asked.length).toBe(before)
    parts.set('a', { id: 'a', revision: 4 })
    last().changed(4)
    await vi.waitFor(() => expect(part.snapshot?.revision).toBe(4))
  })

  it('takes its own change from the answer, and asks for what others changed meanwhile', async () => {
    const part = usePart()
    await part.open('a')
    const command = { command: 'rename-part', name: 'B' } as never
    let kept: (r: Response) => void = () => undefined
    answer = (_, path) => (path.endsWith('/commands') ? new Promise<Response>((done) => (kept = done)) : null)
    const gets = (): number => asked.filter((a) => a.path === '/api/parts/a').length
    const before = gets()
    const first = part.send(command)
    await vi.waitFor(() => expect(asked.at(-1)!.path).toContain('/commands'))
    last().changed(4)
    kept(Response.json({ id: 'a', revision: 4 }))
    expect(await first).toBeNull()
    await new Promise((done) => setTimeout(done, 5))
    expect([gets(), part.snapshot?.revision]).toEqual([before, 4])

    const second = part.send(command)
    await vi.waitFor(() => expect(asked.filter((a) => a.path.endsWith('/commands')).length).toBe(2))
    last().changed(6)
    parts.set('a', { id: 'a', revision: 6 })
    kept(Response.json({ id: 'a', revision: 5 }))
    await second
    await vi.waitFor(() => expect(part.snapshot?.revision).toBe(6))
    expect(gets()).toBe(before + 1)
  })

  it('asks anew where a sketch followed the model', async () => {
    const part = usePart()
    await part.open('a')
    const before = asked.length
    last().rebuilt({ revision: 3, steps: [{ id: 's', followed: false }], bodies: [] })
    expect(asked.length).toBe(before)
    last().rebuilt({ revision: 3, steps: [{ id: 's', followed: true }], bodies: [] })
    await vi.waitFor(() => expect(asked.length).toBe(before + 1))
  })

  it('keeps a part that is shown while the server is away, and not one that was removed', async () => {
    const part = usePart()
    await part.open('a')
    answer = () => Promise.reject(new TypeError('Failed to fetch'))
    last().changed(4)
    await vi.waitFor(() => expect(part.notice).toContain('could not be reached'))
    expect([part.missing, part.snapshot?.revision]).toEqual([null, 3])
    answer = null
    parts.delete('a')
    last().changed(5)
    await vi.waitFor(() => expect(part.missing).toBe('There is no such part.'))
  })

  it('shows what a long rebuild has come to, and clears it when it is done', async () => {
    const part = usePart()
    await part.open('a')
    last().building('hole')
    last().share(0.4)
    expect([part.building, part.share]).toEqual(['hole', 0.4])
    last().building('fillet')
    expect([part.building, part.share]).toEqual(['fillet', null])
    last().rebuilt({ revision: 3, steps: [], bodies: [] })
    expect([part.building, part.share]).toEqual([null, null])
    last().connected(false)
    expect(part.connected).toBe(false)
  })
})

describe('sending', () => {
  it('says what it is based on and takes the answer', async () => {
    const part = usePart()
    await part.open('a')
    answer = (method) => (method === 'POST' ? Response.json({ id: 'a', revision: 4 }) : null)
    part.notice = 'before'
    expect(await part.send(rename)).toBeNull()
    expect(asked.at(-1)).toEqual({
      method: 'POST',
      path: '/api/parts/a/commands',
      body: { revision: 3, command: rename },
    })
    expect(part.snapshot?.revision).toBe(4)
    expect(part.notice).toBeNull()
  })

  it('never goes back to an older part', async () => {
    const part = usePart()
    await part.open('a')
    answer = (method) => (method === 'POST' ? Response.json({ id: 'a', revision: 2 }) : null)
    await part.send(rename)
    expect(part.snapshot?.revision).toBe(3)
  })

  it('shows a refusal and keeps the part', async () => {
    const part = usePart()
    await part.open('a')
    answer = (method) =>
      method === 'POST'
        ? Response.json({ detail: 'Too short.', code: 'size.too-small' }, { status: 422 })
        : null
    expect(await part.send(rename)).toMatchObject({ code: 'size.too-small', detail: 'Too short.' })
    expect(part.notice).toBe('Too short.')
    expect(part.snapshot?.revision).toBe(3)
  })

  it('takes the part as it is now where a change came too late', async () => {
    const part = usePart()
    await part.open('a')
    parts.set('a', { id: 'a', revision: 8 })
    answer = (method) =>
      method === 'POST'
        ? Response.json({ detail: 'Changed meanwhile.', code: 'edit.stale' }, { status: 409 })
        : null
    await part.send(rename)
    await vi.waitFor(() => expect(part.snapshot?.revision).toBe(8))
    expect(part.notice).toBe('Changed meanwhile.')
  })

  it('says when the server is not there, and when something went wrong on it', async () => {
    const part = usePart()
    await part.open('a')
    answer = () => Promise.reject(new TypeError('Failed to fetch'))
    expect((await part.send(rename))?.detail).toContain('could not be reached')
    expect((await part.step('undo'))?.detail).toContain('could not be reached')
    answer = () => Response.json({ title: 'An error occurred.', status: 500 }, { status: 500 })
    expect((await part.step('redo'))?.detail).toContain('went wrong on the server')
    expect(part.snapshot?.revision).toBe(3)
  })

  it('sends changes one after the other, and none to a part that was left for another', async () => {
    const part = usePart()
    await part.open('a')
    let revision = 3
    answer = (method) => (method === 'POST' ? Response.json({ id: 'a', revision: ++revision }) : null)
    await Promise.all([part.step('undo'), part.step('undo'), part.send(rename)])
    const sent = asked
      .filter((a) => a.method === 'POST')
      .map((a) => (a.body as { revision: number }).revision)
    expect(sent).toEqual([3, 4, 5])
    parts.set('b', { id: 'b', revision: 1 })
    const first = part.step('undo')
    const late = part.step('undo')
    const opened = part.open('b')
    await Promise.all([first, late, opened])
    expect(asked.filter((a) => a.method === 'POST')).toHaveLength(4)
  })

  it('undoes and redoes from the revision that is shown', async () => {
    const part = usePart()
    await part.open('a')
    answer = (_, path) => Response.json({ id: 'a', revision: path.endsWith('undo') ? 4 : 5 })
    await part.step('undo')
    await part.step('redo')
    expect(asked.slice(-2)).toEqual([
      { method: 'POST', path: '/api/parts/a/undo', body: { revision: 3 } },
      { method: 'POST', path: '/api/parts/a/redo', body: { revision: 4 } },
    ])
    expect(part.snapshot?.revision).toBe(5)
  })
})

describe('reading a file', () => {
  const file = (size: number): File => {
    const made = new File(['x'], 'motor.step')
    Object.defineProperty(made, 'size', { value: size })
    return made
  }

  it('is refused before anything is sent where it is too large', async () => {
    const part = usePart()
    await part.open('a')
    const before = asked.length
    expect((await part.importFile(file(200 * 2 ** 20)))?.detail).toBe(
      'motor.step has 200 MB; up to 64 MB are read.',
    )
    expect(asked.length).toBe(before)
  })

  it('shows its name meanwhile and takes the part with the new step', async () => {
    const part = usePart()
    await part.open('a')
    let done: (r: Response) => void = () => undefined
    answer = (method) => (method === 'POST' ? new Promise<Response>((r) => (done = r)) : null)
    const reading = part.importFile(file(1), 'old')
    await vi.waitFor(() => expect(asked.at(-1)!.path).toBe('/api/parts/a/import'))
    expect(part.importing).toBe('motor.step')
    done(Response.json({ id: 'a', revision: 4 }))
    expect(await reading).toBeNull()
    expect([part.importing, part.snapshot?.revision]).toEqual([null, 4])
  })

  it('says why where it fails, whatever the answer looks like', async () => {
    const part = usePart()
    await part.open('a')
    answer = () => Response.json({ detail: 'The file is cut off.' }, { status: 422 })
    expect((await part.importFile(file(1)))?.detail).toBe('The file is cut off.')
    answer = () => new Response('<html>', { status: 502 })
    expect((await part.importFile(file(1)))?.detail).toContain('could not be reached')
    answer = () => Promise.reject(new TypeError('Failed to fetch'))
    expect((await part.importFile(file(1)))?.detail).toContain('could not be reached')
    expect(part.importing).toBeNull()
  })
})
