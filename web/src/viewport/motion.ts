import type { SketchView } from '../api/client'
import type { MotionMessage } from '../api/live'
import type { SketchLayer } from './sketches'

const LASTS = 1400

/** Plays one remaining motion of a sketch back and forth, as far as size (millimetres). Answers how to stop it. */
export function playMotion(
  layer: SketchLayer,
  view: SketchView,
  motion: MotionMessage,
  size: number,
): () => void {
  const began = performance.now()
  const point = (id: string): readonly number[] => motion.moves[id] ?? [0, 0]
  const owners = new Map(
    view.entities.filter((e) => e.kind === 'point').map((e) => [`${e.numbers[0]},${e.numbers[1]}`, e.id]),
  )
  const along = (e: { id: string; numbers: readonly number[] }, k: number): number[] => {
    const moves = motion.paths[e.id]
    return e.numbers.map((v, i) => v + k * (moves?.[i] ?? 0))
  }
  const shift = (x: number, y: number, k: number): [number, number] => {
    const m = point(owners.get(`${x},${y}`) ?? '')
    return [x + k * m[0]!, y + k * m[1]!]
  }
  const step = (now: number): void => {
    const t = (now - began) / LASTS
    const k = t >= 1 ? 0 : size * Math.sin(2 * Math.PI * t)
    layer.drawCurves(
      view.entities.map((e) => {
        const n = e.numbers
        if (e.kind === 'path') return { ...e, numbers: along(e, k) }
        if (e.kind === 'line')
          return { ...e, numbers: [...shift(n[0]!, n[1]!, k), ...shift(n[2]!, n[3]!, k)] }
        const moved = shift(n[0]!, n[1]!, k)
        const grow = k * (point(e.id)[0] ?? 0)
        return { ...e, numbers: e.kind === 'point' ? moved : [...moved, n[2]! + grow, ...n.slice(3)] }
      }),
    )
    if (t < 1) playing = requestAnimationFrame(step)
  }
  let playing = requestAnimationFrame(step)
  return () => cancelAnimationFrame(playing)
}
