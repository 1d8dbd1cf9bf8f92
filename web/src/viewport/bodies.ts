import * as THREE from 'three'
import type { BodyMessage } from '../api/live'
import { colour } from '../theme'
import type { LookMode } from '../stores/look'
import { drawFresh, drawThreads } from './bodyExtras'
import { paintMark } from './bodyMarks'
import { BodyPicker } from './bodyPicking'
import { shapeOf, type Shown } from './bodyShape'
import { clear } from './lines'
import { SectionCaps } from './section'
import type { Stage } from './stage'

/** Bodies shaded with their edges, with hover and picks of faces, edges and vertices by name. */
export class BodyLayer {
  private readonly group = new THREE.Group()
  private readonly marks = new THREE.Group()
  private readonly fresh = new THREE.Group()
  private readonly threads = new THREE.Group()
  private readonly caps = new SectionCaps()
  private mode: LookMode = 'edges'
  private tint: string | null = null
  private cut: THREE.Plane | null = null
  private faint = false
  private shown: Shown[] = []
  private marked = ''
  private readonly picker: BodyPicker

  constructor(private readonly stage: Stage) {
    this.picker = new BodyPicker(
      stage,
      () => this.shown,
      (p) => this.caps.hides(p),
    )
    stage.scene.add(this.group, this.marks, this.fresh, this.threads, this.caps.group)
    window.addEventListener('themechange', this.repaint)
  }

  dispose(): void {
    window.removeEventListener('themechange', this.repaint)
  }

  setBodies(messages: BodyMessage[]): void {
    clear(this.group)
    this.shown = messages.map(shapeOf)
    for (const { mesh, strokes } of this.shown) this.group.add(...(strokes ? [mesh, strokes] : [mesh]))
    this.marked = ''
    clear(this.marks)
    this.caps.set(this.cut, this.cut ? this.shown.map((s) => s.mesh) : [])
    this.dress()
  }

  /** Draws the bodies faintly while a sketch is edited. */
  setFaint(faint: boolean): void {
    this.faint = faint
    this.dress()
  }

  /** Shaded with or without edges, see-through, or edges alone; in the colour of the material where it has one. */
  setLook(mode: LookMode, tint: string | null): void {
    ;[this.mode, this.tint] = [mode, tint]
    this.dress()
  }

  /** Cuts the picture; the half that the plane's normal points to stays. */
  setSection(plane: THREE.Plane | null): void {
    this.cut = plane
    this.caps.set(plane, plane ? this.shown.map((s) => s.mesh) : [])
    this.dress()
  }

  private dress(): void {
    const through = this.faint || this.mode === 'through'
    const planes = this.cut ? [this.cut] : null
    this.threads.visible = this.mode !== 'shaded'
    for (const thread of this.threads.children)
      ((thread as THREE.Mesh).material as THREE.Material).clippingPlanes = planes
    for (const { message, mesh, strokes: edges } of this.shown) {
      const material = mesh.material as THREE.MeshLambertMaterial
      material.color.set(
        message.colour ?? (message.reference ? colour('reference') : (this.tint ?? colour('body'))),
      )
      material.transparent = through
      material.opacity = through ? 0.42 : 1
      material.depthWrite = !through
      material.colorWrite = this.mode !== 'wire'
      if (this.mode === 'wire') material.depthWrite = false
      // Triangles of a file may be open.
      material.side = this.cut || message.reference ? THREE.DoubleSide : THREE.FrontSide
      material.clippingPlanes = planes
      material.needsUpdate = true
      if (!edges) continue
      edges.visible = this.mode !== 'shaded'
      const line = (edges as THREE.Mesh).material as THREE.Material
      line.clippingPlanes = planes
      line.needsUpdate = true
    }
    this.stage.redraw()
  }

  /** Threads that are drawn and not modelled, as helices. */
  setThreads(threads: number[][]): void {
    drawThreads(this.threads, threads)
    this.stage.redraw()
  }

  /** Draws what a form would make: the faces that bear its name, in the colour of added or taken material. */
  setFresh(messages: BodyMessage[], step: string, tint: string): void {
    drawFresh(this.fresh, messages, step, tint)
    this.stage.redraw()
  }

  box(): THREE.Box3 {
    const box = new THREE.Box3()
    for (const { mesh } of this.shown) box.expandByObject(mesh)
    return box
  }

  /** Everything under the pointer in order of depth: faces gone through, and the edges and vertices near it. */
  pickAll(event: PointerEvent | MouseEvent): string[] {
    return this.picker.pickAll(event)
  }

  /** How far along its ray the pointer first meets a body; infinity where it meets none. */
  depth(event: PointerEvent | MouseEvent): number {
    return this.picker.depth(event)
  }

  /** The name of what is under the pointer: a vertex before an edge before a face, where faces count. */
  pick(event: PointerEvent | MouseEvent, faces = true): string {
    return this.picker.pick(event, faces)
  }

  /** Names of all faces that are shown. */
  get faces(): string[] {
    return this.shown.flatMap((s) => s.message.faces)
  }

  /** Marks what is picked and under the pointer; `lit` are faces with how strongly, from -1 to 1. */
  mark(hover: string, picks: string[], lit: Map<string, number> = new Map()): void {
    const key = [hover, ...picks, ...[...lit].map(([face, share]) => `${face} ${share}`)].join('\n')
    if (key === this.marked) return
    this.marked = key
    clear(this.marks)
    for (const [name, share] of lit)
      paintMark(
        this.marks,
        this.shown,
        name,
        colour(share < 0 ? 'copper' : 'steel'),
        0.15 + 0.6 * Math.abs(share),
      )
    for (const name of picks) paintMark(this.marks, this.shown, name, colour('picked'), 0.55)
    if (hover && !picks.includes(hover)) paintMark(this.marks, this.shown, hover, colour('hover'), 0.4)
    this.stage.redraw()
  }

  private readonly repaint = (): void => this.setBodies(this.shown.map((s) => s.message))
}
