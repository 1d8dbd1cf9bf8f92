/** A drawing that moves, 120 wide and 72 high: what is there, and what happens one after the other. */
export interface Beat {
  /** there: what was there all along; pick: what is pressed; draw: what comes; fill: what is filled; go: what goes; turn: one outline that
   *  becomes another; press: where the pointer presses. */
  kind: 'there' | 'pick' | 'draw' | 'fill' | 'go' | 'turn' | 'press'
  /** Outlines as SVG paths; of a press the place. */
  d: string
  /** What it becomes. */
  to?: string
  /** With the beat before, not after it. */
  along?: boolean
}

export const there = (...d: string[]): Beat => ({ kind: 'there', d: d.join('') })
export const pick = (...d: string[]): Beat => ({ kind: 'pick', d: d.join('') })
export const draw = (...d: string[]): Beat => ({ kind: 'draw', d: d.join('') })
export const fill = (...d: string[]): Beat => ({ kind: 'fill', d: d.join('') })
export const go = (...d: string[]): Beat => ({ kind: 'go', d: d.join('') })
export const turn = (d: string, to: string): Beat => ({ kind: 'turn', d, to })
export const press = (x: number, y: number): Beat => ({ kind: 'press', d: `${x} ${y}` })
/** With the beat before. */
export const also = (beat: Beat): Beat => ({ ...beat, along: true })

export const circle = (x: number, y: number, r: number): string =>
  `M${x - r} ${y}a${r} ${r} 0 1 0 ${2 * r} 0a${r} ${r} 0 1 0 ${-2 * r} 0`
export const ellipse = (x: number, y: number, a: number, b: number): string =>
  `M${x - a} ${y}a${a} ${b} 0 1 0 ${2 * a} 0a${a} ${b} 0 1 0 ${-2 * a} 0`
export const line = (...at: number[]): string =>
  at.reduce((d, n, i) => (i % 2 === 0 ? `${d}${i ? 'L' : 'M'}${n}` : `${d} ${n}`), '')
export const box = (x: number, y: number, w: number, h: number): string => `M${x} ${y}h${w}v${h}h${-w}Z`
export const dot = (x: number, y: number): string => circle(x, y, 1.6)
export const slot = (x: number, y: number, w: number, r: number): string =>
  `M${x} ${y - r}h${w}a${r} ${r} 0 0 1 0 ${2 * r}h${-w}a${r} ${r} 0 0 1 0 ${-2 * r}Z`
/** A block seen from above and in front: width, height, and how far it goes back. */
export const block = (x: number, y: number, w: number, h: number, back: number): string =>
  `${box(x, y, w, h)}M${x} ${y}l${back} ${-back / 2}h${w}v${h}l${-back} ${back / 2}M${x + w} ${y}l${back} ${-back / 2}`
/** A plane that leans back. */
export const sheet = (x: number, y: number, w: number, back: number): string =>
  `M${x} ${y}h${w}l${back} ${-back / 2}h${-w}Z`
/** A size with its arrows along a level line. */
export const size = (x: number, y: number, w: number): string =>
  `M${x} ${y}h${w}M${x + 4} ${y - 2}l-4 2l4 2M${x + w - 4} ${y - 2}l4 2l-4 2`

/** Beats of presses and shapes with the share of the loop where each begins and is done; what is there takes none. */
export function timed(beats: readonly Beat[]): (Beat & { from: number; until: number })[] {
  const slots = beats.filter((b) => b.kind !== 'there' && !b.along).length
  const share = 0.8 / Math.max(slots, 1)
  let at = -1
  return beats.map((b) => {
    if (b.kind === 'there') return { ...b, from: 0, until: 0 }
    if (!b.along) at++
    return { ...b, from: 0.05 + Math.max(at, 0) * share, until: 0.05 + (Math.max(at, 0) + 1) * share }
  })
}

/** How long the drawing of a card takes to begin anew. */
export const LOOP = '4.5s'
/** The key times of what changes within a beat: still before it and after it. */
export const times = (from: number, until: number): string => `0;${from};${until};1`
