import { computed, ref, shallowRef, type ComputedRef, type Ref } from 'vue'
import type { PartCommand, SketchView } from '../api/client'
import type { SeenOnly } from '../api/datums'
import { usePart } from './part'

const PROMPTS: Record<string, string> = {
  section: 'Pick a face to take its section with the sketch plane, or Enter for the whole body',
  crossing: 'Pick an edge, an axis or a curve: a point is kept where it meets the sketch plane',
  copy: 'Pick an edge, a vertex, a face or a curve of another sketch: it is kept as a live copy',
}

/** Taking from the model into the open sketch, and what only looks as if it met the sketch. */
export function useTaking(
  sketch: Ref<string | null>,
  sketchView: ComputedRef<SketchView | null>,
  picks: Ref<string[]>,
) {
  const part = usePart()
  /** What is being taken into the sketch from the model: a copy, a section or a crossing. */
  const taking = ref<string | null>(null)
  /** Something that meets the sketch only as seen from the view, with what can be done. */
  const apart = shallowRef<SeenOnly | null>(null)
  const takingPrompt = computed(() => PROMPTS[taking.value ?? 'copy'] ?? PROMPTS.copy!)

  /** The one point of the sketch that is picked, or null. */
  function pickedPoint(): string | null {
    const only = picks.value.length === 1 ? picks.value[0]! : null
    return sketchView.value?.entities.find((e) => e.id === only)?.kind === 'point' ? only : null
  }

  /** Asks about a thing of the model that was pointed at in a sketch, at a place of that sketch. */
  async function seen(reference: string, ray: number[], at: { x: number; y: number }): Promise<void> {
    const live = part.live()
    if (!live || !sketch.value) return
    const json = await live.apart(sketch.value, reference, at.x, at.y, ray, pickedPoint())
    apart.value = json ? (JSON.parse(json) as SeenOnly) : null
  }

  async function takeSeen(how: 'crossing' | 'copy'): Promise<void> {
    const command = apart.value?.[how]
    apart.value = null
    if (command) await part.send(command)
  }

  /** Takes something of the model into the sketch; by default the whole body. */
  async function take(reference = part.built?.bodies[0]?.name ?? ''): Promise<void> {
    const live = part.live()
    if (!live || !sketch.value || !taking.value) return
    const answered = JSON.parse(await live.take(sketch.value, taking.value, reference)) as {
      command?: PartCommand
      refusal?: string
    }
    if (answered.command) await part.send(answered.command)
    else part.notice = answered.refusal ?? null
  }

  return { taking, apart, takingPrompt, seen, takeSeen, take }
}
