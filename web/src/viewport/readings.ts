import * as THREE from 'three'
import type { StepState } from '../api/live'
import { colour } from '../theme'
import { clear, strokes } from './lines'
import type { Stage } from './stage'

/** Half the length of the bar across each end of a leader, over the length of the leader. */
const BAR = 0.02

/** Leaders of readings between their foot points, in the colour of how they stand to their limits. */
export class ReadingLayer {
  private readonly group = new THREE.Group()

  constructor(private readonly stage: Stage) {
    stage.scene.add(this.group)
  }

  draw(kept: readonly StepState[], measured: readonly (readonly [number, number, number])[]): void {
    clear(this.group)
    for (const state of kept) {
      if (state.state !== 'built' || state.points.length < 6) continue
      const tint = state.verdict === 'fail' ? 'alert' : state.verdict === 'near' ? 'copper' : 'muted'
      this.leader(state.points, colour(tint), 1.2)
    }
    if (measured.length >= 2) this.leader(measured.flat(), colour('accent'), 1.8)
    this.stage.redraw()
  }

  /** Between the first two points; where there is a third the leader was projected from it, and a thin line says so. */
  private leader(points: number[], tint: ReturnType<typeof colour>, width: number): void {
    const [a, b] = [new THREE.Vector3().fromArray(points), new THREE.Vector3().fromArray(points, 3)]
    const along = b.clone().sub(a)
    if (along.length() < 1e-9) return
    const across = new THREE.Vector3(0, 0, 1).cross(along)
    if (across.length() < 1e-6 * along.length()) across.set(1, 0, 0)
    across.setLength(along.length() * BAR)
    const bar = (p: THREE.Vector3): number[] => [
      ...p.clone().add(across).toArray(),
      ...p.clone().sub(across).toArray(),
    ]
    this.add([...points.slice(0, 6), ...bar(a), ...bar(b)], tint, width)
    if (points.length >= 9) this.add(points.slice(3, 9), tint, 0.7)
  }

  private add(segments: number[], tint: ReturnType<typeof colour>, width: number): void {
    this.group.add(strokes(segments, { colour: tint, width, front: true }))
  }
}
