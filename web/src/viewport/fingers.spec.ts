import { beforeEach, describe, expect, it, vi } from 'vitest'
import { fingers } from './fingers'

const did: string[] = []
const on = Object.fromEntries(
  ['onDown', 'onMove', 'onUp', 'cancel', 'list'].map((name) => [name, () => void did.push(name)]),
) as never
const event = (pointerId: number, x = 0, y = 0, pointerType = 'touch'): PointerEvent =>
  ({ pointerId, pointerType, clientX: x, clientY: y }) as PointerEvent
let hand: ReturnType<typeof fingers>

describe('fingers', () => {
  beforeEach(() => {
    vi.useFakeTimers()
    did.length = 0
    hand = fingers(on)
  })

  it('leave mouse and pen as they are', () => {
    for (const type of ['mouse', 'pen']) {
      hand.press(event(1, 0, 0, type))
      vi.advanceTimersByTime(2000)
      hand.move(event(1, 4, 4, type))
      hand.leave(event(1, 4, 4, type))
    }
    expect(did).toEqual(['onDown', 'onMove', 'onUp', 'onDown', 'onMove', 'onUp'])
  })

  it('one draws: it points before it presses', () => {
    hand.press(event(1))
    hand.move(event(1, 30, 0))
    vi.advanceTimersByTime(2000)
    hand.leave(event(1, 30, 0))
    expect(did).toEqual(['onMove', 'onDown', 'onMove', 'onUp'])
  })

  it('two take back what one began, and do nothing more until all are away', () => {
    hand.press(event(1))
    hand.press(event(2))
    hand.move(event(1, 50, 0))
    hand.press(event(3))
    hand.leave(event(2))
    hand.leave(event(3))
    hand.move(event(1, 60, 0))
    hand.leave(event(1))
    expect(did).toEqual(['onMove', 'onDown', 'cancel'])
    hand.press(event(4))
    hand.leave(event(4))
    expect(did.slice(3)).toEqual(['onMove', 'onDown', 'onUp'])
  })

  it('one that rests lists what is there, and presses nothing', () => {
    hand.press(event(1))
    hand.move(event(1, 3, 3))
    vi.advanceTimersByTime(600)
    hand.move(event(1, 40, 3))
    hand.leave(event(1, 40, 3))
    expect(did).toEqual(['onMove', 'onDown', 'onMove', 'cancel', 'list'])
  })

  it('one that is taken away by the system ends what it began', () => {
    hand.press(event(1))
    hand.lose(event(1))
    vi.advanceTimersByTime(2000)
    hand.leave(event(1))
    expect(did).toEqual(['onMove', 'onDown', 'cancel'])
  })
})
