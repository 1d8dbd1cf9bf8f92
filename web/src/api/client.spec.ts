import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { patient, waiting } from './client'

const asked: string[] = []
let answers: Response[] = []
const away = (after = '3'): Response =>
  Response.json({ code: 'store.away' }, { status: 503, headers: { 'Retry-After': after } })

beforeEach(() => {
  vi.useFakeTimers()
  asked.length = 0
  vi.stubGlobal('fetch', async (request: Request) => {
    asked.push(`${request.method} ${await request.text()}`)
    return answers.shift() ?? Response.json({})
  })
})
afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
})

const edit = (): Request =>
  new Request('http://host/api/parts/a/commands', { method: 'POST', body: '{"revision":3}' })

describe('a server that cannot just now', () => {
  it('is sent an edit again by itself, with all that was in it', async () => {
    answers = [away(), away('1'), Response.json({ revision: 4 })]
    const done = patient(edit())
    await vi.advanceTimersByTimeAsync(10)
    expect(waiting.value).toBe(1)
    await vi.advanceTimersByTimeAsync(3000)
    expect(asked).toHaveLength(2)
    await vi.advanceTimersByTimeAsync(1000)
    expect(await (await done).json()).toEqual({ revision: 4 })
    expect(asked).toEqual(Array(3).fill('POST {"revision":3}'))
    expect(waiting.value).toBe(0)
  })

  it('is not sent twice what would then be there twice', async () => {
    answers = [away()]
    const made = await patient(new Request('http://host/api/parts', { method: 'POST', body: '{}' }))
    expect([made.status, asked.length]).toEqual([503, 1])
  })

  it('is believed at last, and when it says nothing of when', async () => {
    answers = Array.from({ length: 20 }, () => away('1'))
    const given = patient(edit())
    await vi.advanceTimersByTimeAsync(60_000)
    expect((await given).status).toBe(503)
    expect(asked).toHaveLength(8)
    answers = [Response.json({}, { status: 503 })]
    expect((await patient(edit())).status).toBe(503)
    expect(asked).toHaveLength(9)
  })
})
