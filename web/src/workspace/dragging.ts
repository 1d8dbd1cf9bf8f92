/** Follows the pointer from where it was pressed on a handle until it is let go. */
export function follow(event: PointerEvent, moved: (event: PointerEvent) => void): void {
  const handle = event.currentTarget as HTMLElement
  handle.setPointerCapture(event.pointerId)
  handle.addEventListener('pointermove', moved)
  handle.addEventListener('lostpointercapture', () => handle.removeEventListener('pointermove', moved), {
    once: true,
  })
}
