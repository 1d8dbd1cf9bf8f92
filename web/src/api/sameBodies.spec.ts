import { describe, expect, it } from 'vitest'
import type { BodyMessage } from './live'
import { withGeometry } from './sameBodies'

const body = (key: string, over: object = {}): BodyMessage =>
  ({ name: key, key, positions: new Uint8Array([1, 2]), same: false, colour: null, ...over }) as BodyMessage

describe('bodies that come by their keys', () => {
  it('keep the geometry that they had, under the name that they have now', () => {
    const now = [body('a', { same: true, name: 'b', positions: new Uint8Array() }), body('c')]
    const whole = withGeometry(now, [body('a'), body('z')])!
    expect(whole.map((b) => b.name)).toEqual(['b', 'c'])
    expect(whole[0]!.positions).toHaveLength(2)
    expect(whole.some((b) => b.same)).toBe(false)
  })
  it('are asked for where they are not known', () => {
    expect(withGeometry([body('a', { same: true })], [])).toBeNull()
  })
})
