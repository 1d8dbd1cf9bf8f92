import { shallowRef, watch } from 'vue'
import type { DimensionView } from '../api/client'
import { usePart } from '../stores/part'
import { useWork } from '../stores/work'
import { resize } from '../stores/edits'

const FAR = 4
const NUMBER = /^(-?\d+(?:\.\d+)?)\s*([a-z]*)$/

interface Grabbed {
  id: string
  x: number
  y: number
  at: [number, number] | null
}

/** The texts of dimensions: dragged to another place, their values stepped by wheel and arrow keys. */
export function useDimensionText(
  meet: (at: { clientX: number; clientY: number }) => { x: number; y: number } | null,
): {
  placeOf(d: DimensionView): [number, number]
  grab(event: PointerEvent, id: string): void
  drag(event: PointerEvent): boolean
  drop(): void
  moved(): boolean
  /** The size whose text is being dragged, or null. */
  held(): string | null
  step(id: string, by: number, event: { shiftKey: boolean; ctrlKey: boolean }): void
} {
  const part = usePart()
  const work = useWork()
  const held = shallowRef<Grabbed | null>(null)
  const placed = new Map<string, [number, number]>()
  let wasMoved = false
  let pending: { id: string; value: string } | null = null
  let sending = false

  watch(
    () => part.snapshot,
    () => placed.clear(),
  )

  function placeOf(d: DimensionView): [number, number] {
    if (held.value?.id === d.id && held.value.at) return held.value.at
    return placed.get(d.id) ?? [d.drawing.textAt[0]!, d.drawing.textAt[1]!]
  }

  function grab(event: PointerEvent, id: string): void {
    ;(event.currentTarget as HTMLElement).setPointerCapture(event.pointerId)
    held.value = { id, x: event.clientX, y: event.clientY, at: null }
    wasMoved = false
  }

  function drag(event: PointerEvent): boolean {
    const now = held.value
    if (!now || (!now.at && Math.hypot(event.clientX - now.x, event.clientY - now.y) < FAR)) return false
    const p = meet(event)
    if (!p) return false
    wasMoved = true
    held.value = { ...now, at: [p.x, p.y] }
    return true
  }

  function drop(): void {
    const now = held.value
    held.value = null
    const d = work.sketchView?.dimensions.find((x) => x.id === now?.id)
    if (!now?.at || !d) return
    placed.set(d.id, now.at)
    void part.send(resize(work.sketch, `move ${d.id}`, d, d.value ?? null, now.at))
  }

  /** One unit up or down; ten with Shift, a tenth with Control. */
  function step(id: string, by: number, event: { shiftKey: boolean; ctrlKey: boolean }): void {
    const d = work.sketchView?.dimensions.find((x) => x.id === id)
    const now = NUMBER.exec((pending?.id === id ? pending.value : d?.value) ?? '')
    if (!d?.value || !now) {
      part.notice = d?.value
        ? `${id} is a formula, ${d.value}: change it by a double click.`
        : `${id} only reads.`
      return
    }
    const unit = now[2] === 'in' ? 0.0625 : 1
    const next = Number(now[1]) + by * unit * (event.shiftKey ? 10 : event.ctrlKey ? 0.1 : 1)
    pending = { id, value: `${Number(next.toFixed(6))} ${now[2]}`.trim() }
    void send()
  }

  async function send(): Promise<void> {
    if (sending) return
    sending = true
    while (pending) {
      const { id, value } = pending
      await work.send(JSON.stringify({ command: 'set-size', step: work.sketch, field: id, value }))
      if (pending?.value === value) pending = null
    }
    sending = false
  }

  return {
    placeOf,
    grab,
    drag,
    drop,
    moved: () => wasMoved,
    held: () => (held.value?.at ? held.value.id : null),
    step,
  }
}
