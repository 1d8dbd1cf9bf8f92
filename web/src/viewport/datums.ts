import * as THREE from 'three'
import type { CurveAnswer, DatumAnswer, DatumKind, Vec } from '../api/datums'
import { colour } from '../theme'
import { clear, strokes } from './lines'
import { arrow, ball, dots, rim, segments, sheet, square, toPoint, toRow, triad } from './marks'
import { SketchPlane } from '../stores/plane'
import type { Stage } from './stage'

export interface ShownDatum {
  name: string
  label: string
  kind: DatumKind | 'curve'
  /** Origin, x, y. */
  numbers: number[]
  /** Places along a curve. */
  drawn: number[]
  /** How far it reaches from its origin. */
  extent: number
  /** Drawn back, as nothing near it is being worked on. */
  faint: boolean
}

/** A place on the picture that is picked by coming near it: a point or a row of places. */
interface Target {
  name: string
  places: THREE.Vector3[]
  point: boolean
}

interface Grip {
  field: string
  at: THREE.Vector3
  /** How far it is drawn from where it truly sits, so that several at one place can be told apart. */
  off: THREE.Vector3
}

const POINT_REACH = 10
const LINE_REACH = 6
const GRIP_REACH = 13
const CROWD = 46
const vector = (v: Vec | number[], at = 0): THREE.Vector3 => new THREE.Vector3(v[at], v[at + 1], v[at + 2])

/** Datums, 3D curves, and what the Datum bench would make of the picks. */
export class DatumLayer {
  private readonly group = new THREE.Group()
  private readonly preview = new THREE.Group()
  private planes: { name: string; mesh: THREE.Mesh }[] = []
  private names: { text: string; at: THREE.Vector3 }[] = []
  private targets: Target[] = []
  private extra: Target[] = []
  private solutions: { index: number; mesh: THREE.Mesh }[] = []
  private grips: Grip[] = []

  constructor(private readonly stage: Stage) {
    stage.scene.add(this.group, this.preview)
  }

  show(datums: ShownDatum[], hover: string, picks: string[]): void {
    clear(this.group)
    this.planes = []
    this.targets = []
    this.names = datums.map((d) => this.draw(d, hover, picks))
    this.stage.redraw()
  }

  /** Entities of sketches that can be picked where no sketch is open. */
  setSketchTargets(targets: { name: string; places: THREE.Vector3[] }[]): void {
    this.extra = targets.map((t) => ({ ...t, point: t.places.length === 1 }))
  }

  /** Paints what is picked of sketches. */
  markTargets(hover: string, picks: string[]): void {
    for (const t of this.extra) {
      if (t.name !== hover && !picks.includes(t.name)) continue
      const tint = picks.includes(t.name) ? colour('picked') : colour('hover')
      if (t.point) this.group.add(dots(t.places, tint, 12))
      else this.group.add(strokes(segments(t.places), { colour: tint, width: 4, front: true }))
    }
  }

  /** The datum on the bench: the chosen solution strong, others faint, values with their grips. A frame is shifted along each of its axes;
   *  of its turns that about one axis is gripped at a time, or they would lie in a heap. */
  drawAnswer(answer: DatumAnswer | null, extent: number, axis = 'z'): void {
    clear(this.preview)
    this.solutions = []
    this.grips = []
    if (answer) {
      answer.solutions.forEach((s, i) => {
        const frame = [...s.frame.origin, ...s.frame.x, ...s.frame.y]
        this.drawSolution(answer.draft.makes, frame, extent, i === answer.chosen, i)
      })
      const unit = this.stage.perPixel()
      for (let i = 0; i + 1 < answer.extensions.length; i += 2)
        this.preview.add(
          strokes([...answer.extensions[i]!, ...answer.extensions[i + 1]!], {
            colour: colour('foreseen'),
            width: 1.5,
            dash: [6 * unit, 4 * unit],
            front: true,
          }),
        )
      const grips = answer.fields.filter(
        (f) => f.grip && (!f.name.startsWith('about ') || f.name === `about ${axis}`),
      )
      for (const f of grips) {
        const crowd = grips.some((g) => g !== f && vector(g.grip!).distanceTo(vector(f.grip!)) < unit)
        this.drawGrip(f.name, vector(f.grip!), vector(f.way), crowd)
      }
    }
    this.stage.redraw()
  }

  drawCurve(answer: CurveAnswer | null): void {
    clear(this.preview)
    this.grips = []
    this.solutions = []
    if (answer) {
      const places = answer.drawn.map((p) => vector(p))
      if (places.length > 1)
        this.preview.add(strokes(segments(places), { colour: colour('accent'), width: 2.5, front: true }))
      if (answer.places.length > 0)
        this.preview.add(
          dots(
            answer.places.map((p) => vector(p)),
            colour('accent'),
            9,
          ),
        )
    }
    this.stage.redraw()
  }

  drawGap(ends: Vec[] | null): void {
    clear(this.preview)
    if (ends) {
      const unit = this.stage.perPixel()
      const stroke = {
        colour: colour('clash'),
        width: 2.5,
        dash: [5 * unit, 3 * unit] as [number, number],
        front: true,
      }
      this.preview.add(strokes(ends.flat(), stroke))
      this.preview.add(
        dots(
          ends.map((e) => vector(e)),
          colour('clash'),
          10,
        ),
      )
    }
    this.stage.redraw()
  }

  /** What is under the pointer: points before lines before planes. */
  pick(event: PointerEvent | MouseEvent): string {
    const near = this.near(event)
    if (near) return near
    const ray = this.stage.ray(event)
    const hit = new THREE.Raycaster(ray.origin, ray.direction).intersectObjects(
      this.planes.map((p) => p.mesh),
      false,
    )[0]
    return (hit?.object.userData.name as string | undefined) ?? ''
  }

  /** A point or line within reach on the screen and not behind what lies at a depth. */
  near(event: PointerEvent | MouseEvent, depth = Infinity): string {
    const ray = this.stage.ray(event)
    const unit = this.stage.perPixel()
    let [best, name] = [Infinity, '']
    for (const t of [...this.targets, ...this.extra]) {
      const reach = (t.point ? POINT_REACH : LINE_REACH) * unit
      const limit = depth + 2 * reach
      const d = t.point ? toPoint(ray, t.places[0]!, limit) : toRow(ray, t.places, limit)
      // A point wins over the lines through it.
      const weight = t.point ? d - reach : d
      if (d < reach && weight < best) [best, name] = [weight, t.name]
    }
    return name
  }

  /** The solution of the bench under the pointer; -1 for none. */
  solutionAt(ray: THREE.Ray): number {
    const hit = new THREE.Raycaster(ray.origin, ray.direction).intersectObjects(
      this.solutions.map((s) => s.mesh),
      false,
    )[0]
    return hit ? (this.solutions.find((s) => s.mesh === hit.object)?.index ?? -1) : -1
  }

  gripAt(event: PointerEvent | MouseEvent): Grip | null {
    const ray = this.stage.ray(event)
    const reach = GRIP_REACH * this.stage.perPixel()
    const near = this.grips
      .map((g) => ({ g, d: Math.sqrt(ray.distanceSqToPoint(g.at)) }))
      .filter((o) => o.d < reach)
      .sort((a, b) => a.d - b.d)[0]
    return near?.g ?? null
  }

  /** Values beside their grips. */
  gripPlaces(): Grip[] {
    return this.grips
  }

  /** What points and curves reach over. */
  box(): THREE.Box3 {
    const box = new THREE.Box3()
    for (const t of this.targets)
      if (!t.name.startsWith('world')) for (const p of t.places) box.expandByPoint(p)
    return box
  }

  labels(): { text: string; at: THREE.Vector3 }[] {
    return this.names
  }

  private draw(d: ShownDatum, hover: string, picks: string[]): { text: string; at: THREE.Vector3 } {
    const [picked, under] = [picks.includes(d.name), d.name === hover]
    const strong = picked || under
    const tint = picked ? colour('picked') : under ? colour('hover') : colour('muted')
    const width = strong ? 2.5 : d.faint ? 0.8 : 1.2
    const plane = d.numbers.length === 9 ? new SketchPlane(d.numbers) : null
    switch (d.kind) {
      case 'plane': {
        const corners = square(plane!, d.extent)
        const mesh = sheet(corners, tint, strong ? 0.16 : d.faint ? 0.02 : 0.05)
        mesh.userData.name = d.name
        this.planes.push({ name: d.name, mesh })
        this.group.add(mesh, strokes(rim(corners), { colour: tint, width }))
        return { text: d.label, at: plane!.at(-d.extent * 0.94, d.extent * 0.9) }
      }
      case 'axis': {
        const ends = [plane!.at(-d.extent, 0), plane!.at(d.extent, 0)]
        const unit = this.stage.perPixel()
        this.group.add(strokes(segments(ends), { colour: tint, width, dash: [14 * unit, 4 * unit] }))
        this.targets.push({ name: d.name, places: ends, point: false })
        return { text: d.label, at: ends[1]! }
      }
      case 'point':
        this.group.add(dots([plane!.origin], tint, strong ? 12 : 8))
        this.targets.push({ name: d.name, places: [plane!.origin], point: true })
        return { text: d.label, at: plane!.origin }
      case 'frame': {
        const arm = d.extent * 0.5
        this.group.add(...triad(plane!, arm, strong ? 3 : 1.8))
        this.group.add(dots([plane!.origin], tint, strong ? 12 : 7))
        this.targets.push({ name: d.name, places: [plane!.origin], point: true })
        const ways = { x: plane!.x, y: plane!.y, z: plane!.normal }
        for (const [name, way] of Object.entries(ways)) {
          const places = [plane!.origin, plane!.origin.clone().addScaledVector(way, arm)]
          this.targets.push({ name: `${d.name}/${name}`, places, point: false })
        }
        return { text: d.label, at: plane!.origin }
      }
      default: {
        const places = Array.from({ length: d.drawn.length / 3 }, (_, i) => vector(d.drawn, 3 * i))
        this.group.add(
          strokes(segments(places), { colour: strong ? tint : colour('steel'), width: width + 0.8 }),
        )
        this.targets.push({ name: d.name, places, point: false })
        return { text: d.label, at: places[Math.floor(places.length / 2)] ?? new THREE.Vector3() }
      }
    }
  }

  private drawSolution(
    kind: DatumKind,
    numbers: number[],
    extent: number,
    chosen: boolean,
    index: number,
  ): void {
    const plane = new SketchPlane(numbers)
    const tint = chosen ? colour('accent') : colour('muted')
    const width = chosen ? 2.5 : 1.2
    const handle = (mesh: THREE.Mesh): void => {
      this.solutions.push({ index, mesh })
      this.preview.add(mesh)
    }
    if (kind === 'plane') {
      const corners = square(plane, extent)
      handle(sheet(corners, tint, chosen ? 0.2 : 0.07))
      this.preview.add(strokes(rim(corners), { colour: tint, width, front: chosen }))
      if (chosen) this.preview.add(arrow(plane.origin, plane.normal, extent * 0.35, tint))
    } else if (kind === 'axis') {
      const ends = [plane.at(-extent, 0), plane.at(extent, 0)]
      this.preview.add(strokes(segments(ends), { colour: tint, width, front: true }))
      handle(ball(plane.at(extent, 0), 9 * this.stage.perPixel(), tint, chosen))
      if (chosen) this.preview.add(arrow(plane.at(extent, 0), plane.x, extent * 0.12, tint))
    } else if (kind === 'point') {
      handle(ball(plane.origin, (chosen ? 6 : 5) * this.stage.perPixel(), tint, chosen))
    } else {
      this.preview.add(...triad(plane, extent * 0.5, 3))
    }
  }

  /** The grips of a form. */
  drawGrips(grips: { field: string; at: number[]; way: number[] }[]): void {
    clear(this.preview)
    this.solutions = []
    this.grips = []
    for (const g of grips) this.drawGrip(g.field, vector(g.at), vector(g.way), false)
    this.stage.redraw()
  }

  private drawGrip(field: string, place: THREE.Vector3, way: THREE.Vector3, crowd: boolean): void {
    const unit = this.stage.perPixel()
    const tint = colour('hover')
    const off = way.clone().multiplyScalar(crowd ? CROWD * unit : 0)
    const at = place.clone().add(off)
    if (crowd) this.preview.add(strokes([...place, ...at], { colour: tint, width: 1.5, front: true }))
    this.preview.add(dots([at], tint, 13))
    this.preview.add(
      strokes(
        [...at.clone().addScaledVector(way, -22 * unit), ...at.clone().addScaledVector(way, 22 * unit)],
        {
          colour: tint,
          width: 2.5,
          front: true,
        },
      ),
    )
    this.grips.push({ field, at, off })
  }
}
