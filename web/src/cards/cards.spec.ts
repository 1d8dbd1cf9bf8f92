import { describe, expect, it } from 'vitest'
import { MODEL_TOOLS } from '../stores/benches'
import { CARDS, cardOf } from './drawn'
import { circle, draw, press, there, timed, also } from './scene'

describe('cards of tools', () => {
  it('are there for every tool that works on the model', () => {
    for (const t of MODEL_TOOLS) expect(cardOf(t.bench, t.name), t.name).toBeDefined()
  })

  it('say what the tool is for and what it needs, and draw something', () => {
    for (const [name, card] of Object.entries(CARDS)) {
      expect(card.when.length, name).toBeGreaterThan(10)
      expect(card.needs.endsWith('.'), name).toBe(true)
      expect(
        card.scene.some((b) => b.kind !== 'there' && b.kind !== 'press'),
        name,
      ).toBe(true)
      for (const b of card.scene.filter((x) => x.kind === 'turn'))
        // One outline becomes another only where both go the same way.
        expect(b.to!.replace(/[-\d. ]+/g, '#'), name).toBe(b.d.replace(/[-\d. ]+/g, '#'))
      const numbers = card.scene.flatMap((b) => `${b.d} ${b.to ?? ''}`.match(/-?\d+(\.\d+)?/g)!.map(Number))
      expect(Math.max(...numbers), name).toBeLessThanOrEqual(120)
    }
  })

  it('tells two tools of one name apart by their benches', () => {
    expect(cardOf('Draw', 'mirror')).not.toBe(cardOf('Form', 'mirror'))
    expect(cardOf('Draw', 'point')).not.toBe(cardOf('Datum', 'point'))
    expect(cardOf('Draw', 'split')).not.toBe(cardOf('Form', 'split'))
    expect(cardOf('Draw', 'no such tool')).toBeUndefined()
  })

  it('happens one beat after the other, those that belong together at once', () => {
    const beats = timed([there('M0 0h9'), press(1, 1), draw(circle(9, 9, 3)), also(draw('M1 1h2'))])
    expect(beats[0]!.until).toBe(0)
    expect(beats[1]!.until).toBeCloseTo(beats[2]!.from)
    expect([beats[3]!.from, beats[3]!.until]).toEqual([beats[2]!.from, beats[2]!.until])
    expect(Math.max(...beats.map((b) => b.until))).toBeLessThanOrEqual(0.86)
  })
})
