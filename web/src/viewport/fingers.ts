/** How long one finger rests for the list of what lies under it, in milliseconds. */
const LONG = 550
/** A finger that rests wanders by so many pixels. */
const REST = 9

/** What pointing does, by whatever it is done. */
export interface Pointed {
  onDown(event: PointerEvent): void
  onMove(event: PointerEvent): void
  onUp(event: PointerEvent): void
  /** Takes back what was begun by a press. */
  cancel(): void
  /** Lists what lies at a place. */
  list(event: PointerEvent): void
}

/** Fingers in the picture: one draws and picks, as a mouse does with its left button; a second one takes back what the first began, for
 *  two turn the view and three shift it; one that rests lists what lies under it. Mouse and pen go through as they are. */
export function fingers(on: Pointed) {
  const down = new Set<number>()
  let several = false
  let listed = false
  let first: { x: number; y: number } | null = null
  let timer: ReturnType<typeof setTimeout> | undefined

  function settle(): void {
    clearTimeout(timer)
    timer = undefined
  }

  function press(event: PointerEvent): void {
    if (event.pointerType !== 'touch') return on.onDown(event)
    down.add(event.pointerId)
    if (down.size > 1) {
      settle()
      if (!several) on.cancel()
      several = true
      return
    }
    several = listed = false
    first = { x: event.clientX, y: event.clientY }
    timer = setTimeout(() => {
      listed = true
      on.cancel()
      on.list(event)
    }, LONG)
    // A finger comes from nowhere: where it is has to be known before it presses.
    on.onMove(event)
    on.onDown(event)
  }

  function move(event: PointerEvent): void {
    if (event.pointerType !== 'touch') return on.onMove(event)
    if (several || listed) return
    if (first && Math.hypot(event.clientX - first.x, event.clientY - first.y) > REST) settle()
    on.onMove(event)
  }

  function leave(event: PointerEvent): void {
    if (event.pointerType !== 'touch') return on.onUp(event)
    const taken = down.delete(event.pointerId)
    settle()
    if (taken && !several && !listed) on.onUp(event)
    if (down.size === 0) several = false
  }

  /** The browser or the system has taken the finger for something else. */
  function lose(event: PointerEvent): void {
    if (event.pointerType === 'touch') down.delete(event.pointerId)
    settle()
    on.cancel()
    if (down.size === 0) several = false
  }

  return { press, move, leave, lose }
}
