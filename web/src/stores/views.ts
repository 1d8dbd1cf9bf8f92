import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import { usePart } from './part'

/** How a part is looked at: from where, at what, and how large. */
export interface Viewpoint {
  eye: number[]
  at: number[]
  zoom: number
}

export interface NamedView extends Viewpoint {
  name: string
}

const LONGEST = 40

/** Views of the open part that somebody gave a name, kept in this browser. */
export const useViews = defineStore('views', () => {
  const part = usePart()
  const changes = ref(0)
  const key = (): string => `views-${part.snapshot?.id ?? ''}`

  const all = computed<NamedView[]>(() => {
    void changes.value
    try {
      const kept: unknown = JSON.parse(localStorage.getItem(key()) ?? '[]')
      return Array.isArray(kept) ? kept.filter(isView) : []
    } catch {
      return []
    }
  })

  function write(views: NamedView[]): void {
    localStorage.setItem(key(), JSON.stringify(views))
    changes.value++
  }

  /** Keeps a view under a name, in place of one that had it; without a name it is called after its number. */
  function keep(name: string, viewpoint: Viewpoint): void {
    const called = name.trim().slice(0, LONGEST) || free()
    const view = { name: called, ...viewpoint }
    const had = all.value.some((v) => v.name === called)
    write(had ? all.value.map((v) => (v.name === called ? view : v)) : [...all.value, view])
  }

  function free(): string {
    let n = all.value.length + 1
    while (all.value.some((v) => v.name === `View ${n}`)) n++
    return `View ${n}`
  }

  const drop = (name: string): void => write(all.value.filter((v) => v.name !== name))

  return { all, keep, drop }
})

function isView(v: unknown): v is NamedView {
  const view = v as Partial<NamedView> | null
  const triple = (t: unknown): boolean =>
    Array.isArray(t) && t.length === 3 && t.every((n) => Number.isFinite(n))
  return (
    !!view && typeof view.name === 'string' && triple(view.eye) && triple(view.at) && Number(view.zoom) > 0
  )
}
