import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { busy } from './busy'

const page = { dataset: {} as Record<string, string> }

describe('what the page waits for', () => {
  beforeEach(() => vi.stubGlobal('document', { documentElement: page }))
  afterEach(() => vi.unstubAllGlobals())

  it('is counted until each has come or failed', async () => {
    let come: (n: number) => void = () => {}
    const one = busy(new Promise<number>((done) => (come = done)))
    const other = busy(Promise.reject(new Error('away')))
    expect(page.dataset.busy).toBe('2')
    await expect(other).rejects.toThrow('away')
    expect(page.dataset.busy).toBe('1')
    come(7)
    expect(await one).toBe(7)
    expect(page.dataset.busy).toBe('0')
  })
})
