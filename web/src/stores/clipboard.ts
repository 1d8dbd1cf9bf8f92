import type { Ref } from 'vue'
import { usePart } from './part'

/** What was copied of a sketch, and pasting it at the pointer. */
export function useClipboard(
  sketch: Ref<string | null>,
  picks: Ref<string[]>,
  pointer: { x: number; y: number },
  send: (command: string) => Promise<boolean>,
) {
  const part = usePart()
  let clipboard: string | null = null

  async function copy(): Promise<void> {
    const live = part.live()
    if (!live || !sketch.value || picks.value.length === 0) return
    clipboard = await live.copy(sketch.value, picks.value)
    part.notice = clipboard ? `${picks.value.length} copied; paste puts them at the pointer` : null
  }

  async function paste(): Promise<void> {
    const live = part.live()
    if (!live || !sketch.value) return
    if (!clipboard) {
      part.notice = 'Nothing was copied yet: pick geometry and copy it first.'
      return
    }
    const command = await live.paste(sketch.value, clipboard, pointer.x, pointer.y)
    if (command) await send(command)
  }

  return { copy, paste }
}
