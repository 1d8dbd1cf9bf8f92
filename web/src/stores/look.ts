import { defineStore } from 'pinia'
import { ref, shallowRef, watch } from 'vue'
import { WORLD_PLANES } from './plane'
import { usePart } from './part'

export type LookMode = 'edges' | 'shaded' | 'through' | 'wire'
const PERSPECTIVE = 'perspective'

export interface SectionCut {
  reference: string
  /** Origin, x and y of the plane. */
  plane: number[]
  /** Along its normal, in millimetres. */
  offset: number
  flip: boolean
}

/** How the model is looked at: the mode, a section, and the card that is open over it. */
export const useLook = defineStore('look', () => {
  const part = usePart()
  const mode = ref<LookMode>('edges')
  /** Whether what is further off is smaller; remembered on this browser. */
  const perspective = ref(localStorage.getItem(PERSPECTIVE) === 'on')
  watch(perspective, (on) => localStorage.setItem(PERSPECTIVE, on ? 'on' : 'off'))
  const section = shallowRef<SectionCut | null>(null)
  const card = ref<'holes' | 'mass' | 'readings' | 'export' | 'history' | 'ask' | null>(null)
  /** The step whose row is under the pointer: what it made lights up. */
  const lit = ref<string | null>(null)
  /** What is under the pointer, in order of depth, and where that was asked. */
  const under = shallowRef<{ x: number; y: number; names: string[] } | null>(null)

  /** Cuts the picture with a plane: a datum, a planar face, or one of the world's. */
  async function cut(reference: string): Promise<void> {
    const plane = WORLD_PLANES[reference] ?? (await part.live()?.planeOf(reference))
    if (plane) section.value = { reference, plane: [...plane], offset: 0, flip: false }
    else part.notice = 'That is not flat: a section needs a plane or a planar face.'
  }

  const shift = (offset: number): void => {
    if (section.value && Number.isFinite(offset)) section.value = { ...section.value, offset }
  }
  const flip = (): void => {
    if (section.value) section.value = { ...section.value, flip: !section.value.flip }
  }

  return { mode, perspective, section, card, lit, under, cut, shift, flip }
})
