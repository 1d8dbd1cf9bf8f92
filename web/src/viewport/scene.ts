import type { ComputedRef } from 'vue'
import type { BodyLayer } from './bodies'
import type { useDatumView } from './datumView'
import type { SketchPlane } from '../stores/plane'
import type { ReadingLayer } from './readings'
import type { SketchLayer } from './sketches'
import type { Stage } from './stage'

/** What the viewport draws on and picks from; the layers are there once it is mounted. */
export interface Scene {
  host(): HTMLDivElement | null
  stage: Stage | null
  bodies: BodyLayer | null
  readings: ReadingLayer | null
  /** Of the sketches that are drawn, by their steps. */
  layers: Map<string, SketchLayer>
  datums: ReturnType<typeof useDatumView>
  /** The plane of the sketch that is open. */
  active: ComputedRef<SketchPlane | null>
}

/** A list with one more item, or without it where it is there. */
export function toggled(list: string[], item: string): string[] {
  return list.includes(item) ? list.filter((i) => i !== item) : [...list, item]
}
