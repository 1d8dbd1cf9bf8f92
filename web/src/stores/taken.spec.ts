import { beforeEach, describe, expect, it, vi } from 'vitest'
import { learned, took } from './taken'

const kept = new Map<string, string>()
vi.stubGlobal('localStorage', {
  getItem: (k: string) => kept.get(k) ?? null,
  setItem: (k: string, v: string) => kept.set(k, v),
})

const offers = [
  { id: 'plane-offset', group: 'Planes' },
  { id: 'plane-middle', group: 'Planes' },
  { id: 'form-hole', group: 'Forms' },
  { id: 'form-extrude', group: 'Forms' },
]
const ids = (): string =>
  learned(offers)
    .map((o) => o.id)
    .join(' ')

describe('the order of offers', () => {
  beforeEach(() => kept.clear())

  it('is as they come until something was taken, and follows what is taken within a group', () => {
    expect(ids()).toBe('plane-offset plane-middle form-hole form-extrude')
    took('form-extrude')
    expect(ids()).toBe('plane-offset plane-middle form-extrude form-hole')
    took('form-hole')
    took('form-hole')
    expect(ids()).toBe('plane-offset plane-middle form-hole form-extrude')
  })

  it('lets an old habit go when there is another', () => {
    for (let i = 0; i < 200; i++) took('form-hole')
    for (let i = 0; i < 20; i++) took('form-extrude')
    expect(ids()).toContain('form-extrude form-hole')
  })

  it('forgets what was not taken for long, and bears with what it cannot read', () => {
    took('form-extrude')
    for (let i = 0; i < 80; i++) took(`other-${i}`)
    expect(ids()).toContain('form-hole form-extrude')
    kept.set('offers-taken', 'not JSON')
    expect(ids()).toBe('plane-offset plane-middle form-hole form-extrude')
    took('plane-middle')
    expect(ids()).toContain('plane-middle plane-offset')
  })
})
