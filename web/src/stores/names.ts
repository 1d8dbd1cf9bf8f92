import { defineStore } from 'pinia'
import { shallowReactive, watch } from 'vue'
import { usePart } from './part'

/** What people call the things that references name. The server tells, once for each revision; until then there are dots. */
export const useNames = defineStore('names', () => {
  const part = usePart()
  const known = shallowReactive(new Map<string, string>())
  const wanted = new Map<string, Set<string>>()
  watch(
    () => [part.snapshot?.revision, part.built],
    () => known.clear(),
  )

  /** The words for a reference of the model, or for an entity or a rule of a sketch. */
  function of(reference: string, sketch: string | null = null): string {
    const key = `${sketch ?? ''} ${reference}`
    const words = known.get(key)
    if (words !== undefined) return words
    if (wanted.size === 0) queueMicrotask(() => void ask())
    const same = wanted.get(sketch ?? '')
    if (same) same.add(reference)
    else wanted.set(sketch ?? '', new Set([reference]))
    return '…'
  }

  async function ask(): Promise<void> {
    const now = [...wanted]
    wanted.clear()
    for (const [sketch, references] of now) {
      const asked = [...references]
      const told = await part
        .live()
        ?.words(sketch || null, asked)
        .catch(() => null)
      asked.forEach((reference, i) => known.set(`${sketch} ${reference}`, told?.[i] ?? reference))
    }
  }

  return { of }
})
