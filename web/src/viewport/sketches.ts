import * as THREE from 'three'
import type { SketchView } from '../api/client'
import type { CurveMessage } from '../api/live'
import { TEMPER } from '../temper'
import { colour } from '../theme'
import { clear, hairs, strokes, type Stroke } from './lines'
import { kept } from './looks'
import type { SketchPlane } from '../stores/plane'
import type { Stage } from './stage'

const WIDTHS = [2.6, 2.1, 2.1, 1.9]
const ARROW = 9

type Curve = Pick<CurveMessage, 'id' | 'kind' | 'numbers' | 'freedoms' | 'construction'>

/** The entities of a sketch with what a drag moves: their places, counts and numbers one after the other. */
export function movedIn<T extends { numbers: readonly number[] }>(
  entities: readonly T[],
  moved: readonly number[],
): T[] {
  const now = [...entities]
  for (let i = 0; i + 1 < moved.length; i += 2 + moved[i + 1]!) {
    const was = now[moved[i]!]
    if (was) now[moved[i]!] = { ...was, numbers: moved.slice(i + 2, i + 2 + moved[i + 1]!) }
  }
  return now
}

function segmentsOf(plane: SketchPlane, curve: Pick<Curve, 'kind' | 'numbers'>): number[] {
  const n = curve.numbers
  if (curve.kind === 'line') return [...plane.at(n[0]!, n[1]!), ...plane.at(n[2]!, n[3]!)]
  if (curve.kind === 'path') {
    const out: number[] = []
    for (let i = 0; i + 3 < n.length; i += 2)
      out.push(...plane.at(n[i]!, n[i + 1]!), ...plane.at(n[i + 2]!, n[i + 3]!))
    return out
  }
  if (curve.kind !== 'circle' && curve.kind !== 'arc') return []
  const [cx, cy, r, start, sweep] = [n[0]!, n[1]!, n[2]!, n[3] ?? 0, n[4] ?? 2 * Math.PI]
  const count = Math.max(8, Math.ceil(sweep / 0.08))
  const out: number[] = []
  for (let i = 0; i < count; i++) {
    const [a, b] = [start + (sweep * i) / count, start + (sweep * (i + 1)) / count]
    out.push(
      ...plane.at(cx + r * Math.cos(a), cy + r * Math.sin(a)),
      ...plane.at(cx + r * Math.cos(b), cy + r * Math.sin(b)),
    )
  }
  return out
}

const nodeTextures = new Map<string, THREE.CanvasTexture>()

/** The picture of a node; made once for each of its colours, since nodes are drawn anew with every move. */
function node(fill: boolean, tint: string): THREE.CanvasTexture {
  const ground = colour('canvas')
  const key = `${fill} ${tint} ${ground}`
  const known = nodeTextures.get(key)
  if (known) return known
  const canvas = document.createElement('canvas')
  canvas.width = canvas.height = 32
  const context = canvas.getContext('2d')!
  context.beginPath()
  if (fill) context.rect(7, 7, 18, 18)
  else context.arc(16, 16, 10, 0, 2 * Math.PI)
  context.fillStyle = fill ? tint : ground
  context.fill()
  context.lineWidth = 4
  context.strokeStyle = tint
  context.stroke()
  const texture = new THREE.CanvasTexture(canvas)
  texture.colorSpace = THREE.SRGBColorSpace
  nodeTextures.set(key, texture)
  return texture
}

/** Thin slanting lines of one screen spacing; neighbours differ in slant and spacing. */
function hatching(index: number): THREE.ShaderMaterial {
  const slant = [1, -1, 0.45, -0.45][index % 4]!
  return kept(
    `hatching ${colour('region')} ${index % 12}`,
    () =>
      new THREE.ShaderMaterial({
        uniforms: {
          tint: { value: new THREE.Color(colour('region')) },
          slant: { value: slant },
          spacing: { value: 9 + 2 * (Math.floor(index / 4) % 3) },
        },
        vertexShader:
          'void main() { gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0); }',
        fragmentShader: `uniform vec3 tint; uniform float slant; uniform float spacing;
        void main() {
          float d = mod((gl_FragCoord.x + slant * gl_FragCoord.y) / sqrt(1.0 + slant * slant), spacing);
          gl_FragColor = vec4(tint, d < 1.0 ? 0.34 : 0.045);
        }`,
        transparent: true,
        depthTest: false,
        depthWrite: false,
        side: THREE.DoubleSide,
      }),
  )
}

/** One sketch: its curves in the code of their freedoms, dimensions, regions, and what a tool previews. */
export class SketchLayer {
  readonly group = new THREE.Group()
  private readonly curves = new THREE.Group()
  private readonly sizes = new THREE.Group()
  private readonly marks = new THREE.Group()
  private readonly preview = new THREE.Group()
  private readonly fills = new THREE.Group()
  private readonly hatches = new THREE.Group()
  private readonly foreseen = new THREE.Group()
  private dragged = false

  constructor(
    private readonly stage: Stage,
    readonly plane: SketchPlane,
    private readonly view: SketchView,
    private readonly active: boolean,
  ) {
    this.group.add(this.hatches, this.fills, this.curves, this.foreseen, this.sizes, this.marks, this.preview)
    stage.scene.add(this.group)
    this.drawCurves(view.entities)
    if (active) {
      this.drawAxes()
      this.drawHatches()
    }
    stage.redraw()
  }

  remove(): void {
    clear(this.group)
    this.stage.scene.remove(this.group)
    this.stage.redraw()
  }

  box(): THREE.Box3 {
    const box = new THREE.Box3()
    for (const e of this.view.entities) {
      const s = segmentsOf(this.plane, e)
      for (let i = 0; i < s.length; i += 3) box.expandByPoint(new THREE.Vector3(s[i], s[i + 1], s[i + 2]))
    }
    return box
  }

  /** Its entities as rows of places, named as references. */
  targets(step: string): { name: string; places: THREE.Vector3[] }[] {
    return this.view.entities.map((e) => {
      const name = `${step}/${e.id}`
      if (e.kind === 'point') return { name, places: [this.plane.at(e.numbers[0]!, e.numbers[1]!)] }
      const s = segmentsOf(this.plane, e)
      const places = [new THREE.Vector3(s[0], s[1], s[2])]
      for (let i = 3; i < s.length; i += 6) places.push(new THREE.Vector3(s[i], s[i + 1], s[i + 2]))
      return { name, places }
    })
  }

  /** The sketch with what a drag moves. */
  drawMoved(moved: readonly number[]): void {
    this.dragged = true
    this.drawCurves(movedIn(this.view.entities, moved))
  }

  /** Nothing is dragged any more, and nothing has changed. */
  settle(): void {
    if (!this.dragged) return
    this.dragged = false
    this.drawCurves(this.view.entities)
  }

  drawCurves(curves: readonly Curve[]): void {
    clear(this.curves)
    const unit = this.stage.perPixel()
    const bins = new Map<string, { segments: number[]; stroke: Stroke }>()
    const nodes = new Map<number, THREE.Vector3[]>()
    for (const curve of curves) {
      const freedoms = Math.min(3, curve.freedoms)
      if (curve.kind === 'point') {
        if (this.active) {
          if (!nodes.has(freedoms)) nodes.set(freedoms, [])
          nodes.get(freedoms)!.push(this.plane.at(curve.numbers[0]!, curve.numbers[1]!))
        }
        continue
      }
      const key = `${freedoms}${curve.construction}`
      if (!bins.has(key))
        bins.set(key, { segments: [], stroke: this.strokeOf(freedoms, curve.construction, unit) })
      bins.get(key)!.segments.push(...segmentsOf(this.plane, curve))
    }
    for (const { segments, stroke } of bins.values()) this.curves.add(strokes(segments, stroke))
    for (const [freedoms, at] of nodes) this.curves.add(this.nodesOf(at, freedoms))
    this.stage.redraw()
  }

  /** Dimension lines and arrows, with arrows of one size on the screen. */
  drawDimensions(): void {
    clear(this.sizes)
    const unit = this.stage.perPixel()
    const segments: number[] = []
    const heads: number[] = []
    for (const { drawing } of this.view.dimensions) {
      for (let i = 0; i + 3 < drawing.lines.length; i += 4)
        segments.push(
          ...this.plane.at(drawing.lines[i]!, drawing.lines[i + 1]!),
          ...this.plane.at(drawing.lines[i + 2]!, drawing.lines[i + 3]!),
        )
      if (drawing.arc.length === 5)
        segments.push(...segmentsOf(this.plane, { kind: 'arc', numbers: drawing.arc }))
      for (let i = 0; i + 3 < drawing.arrows.length; i += 4) {
        const [x, y, dx, dy] = drawing.arrows.slice(i, i + 4) as [number, number, number, number]
        const [l, w] = [ARROW * unit, (ARROW * unit) / 5]
        const tip = this.plane.at(x, y)
        const left = this.plane.at(x - l * dx - w * dy, y - l * dy + w * dx)
        const right = this.plane.at(x - l * dx + w * dy, y - l * dy - w * dx)
        heads.push(...tip, ...left, ...right)
      }
    }
    if (segments.length > 0)
      this.sizes.add(hairs(segments, { colour: colour('dimension'), width: 1, front: true }))
    if (heads.length > 0) {
      const geometry = new THREE.BufferGeometry()
      geometry.setAttribute('position', new THREE.Float32BufferAttribute(heads, 3))
      const mesh = new THREE.Mesh(
        geometry,
        kept(
          `arrowhead ${colour('dimension')}`,
          () =>
            new THREE.MeshBasicMaterial({
              color: colour('dimension'),
              side: THREE.DoubleSide,
              depthTest: false,
            }),
        ),
      )
      mesh.renderOrder = 10
      this.sizes.add(mesh)
    }
    this.stage.redraw()
  }

  mark(hover: string, picks: string[], clashing: string[]): void {
    clear(this.marks)
    const paint = (id: string, tint: string, width: number): void => {
      const axis = id === 'x-axis' ? [-1e3, 0, 1e3, 0] : id === 'y-axis' ? [0, -1e3, 0, 1e3] : null
      const curve = axis ? { kind: 'line', numbers: axis } : this.view.entities.find((e) => e.id === id)
      const point = id === 'origin' ? [0, 0] : curve?.kind === 'point' ? curve.numbers : null
      if (point) {
        const geometry = new THREE.BufferGeometry().setFromPoints([this.plane.at(point[0]!, point[1]!)])
        const make = (): THREE.PointsMaterial =>
          new THREE.PointsMaterial({ color: tint, size: 12, sizeAttenuation: false, depthTest: false })
        const material = kept(`marked point ${tint}`, make)
        const mark = new THREE.Points(geometry, material)
        mark.renderOrder = 9
        this.marks.add(mark)
      } else if (curve) {
        this.marks.add(strokes(segmentsOf(this.plane, curve), { colour: tint, width, front: true }))
      }
    }
    // A band of short strokes across reads as hatching, without colour as well.
    const band = (id: string): void => {
      const curve = this.view.entities.find((e) => e.id === id)
      const unit = this.stage.perPixel()
      if (!curve || curve.kind === 'point') return paint(id, colour('clash'), 9)
      const dash: [number, number] = [2.5 * unit, 3.5 * unit]
      this.marks.add(
        strokes(segmentsOf(this.plane, curve), { colour: colour('clash'), width: 11, dash, front: true }),
      )
    }
    for (const id of clashing) band(id)
    for (const id of picks) paint(id, colour('picked'), 5)
    if (hover && !picks.includes(hover)) paint(hover, colour('hover'), 4.5)
    this.stage.redraw()
  }

  /** What a tool would draw, what would vanish, and what only explains. */
  drawPreview(curves: CurveMessage[], snap: { kind: string; at: number[]; guides: number[] } | null): void {
    const nothing = curves.length === 0 && (!snap || snap.kind === 'free')
    if (nothing && this.preview.children.length === 0) return
    clear(this.preview)
    const unit = this.stage.perPixel()
    const styles: Record<string, Stroke> = {
      '': { colour: colour('accent'), width: 2, front: true },
      gone: { colour: colour('clash'), width: 5, dash: [6 * unit, 4 * unit], front: true },
      guide: { colour: colour('muted'), width: 1, dash: [5 * unit, 4 * unit], front: true },
    }
    for (const [role, stroke] of Object.entries(styles)) {
      const segments = curves.filter((c) => (c.role ?? '') === role).flatMap((c) => segmentsOf(this.plane, c))
      if (segments.length > 0) this.preview.add(strokes(segments, stroke))
    }
    const points = curves
      .filter((c) => c.kind === 'point')
      .map((c) => this.plane.at(c.numbers[0]!, c.numbers[1]!))
    if (snap && snap.kind !== 'free') {
      const at = this.plane.at(snap.at[0]!, snap.at[1]!)
      points.push(at)
      const lines: number[] = []
      for (let i = 0; i + 1 < snap.guides.length; i += 2)
        lines.push(...this.plane.at(snap.guides[i]!, snap.guides[i + 1]!), ...at)
      if (lines.length > 0)
        this.preview.add(
          strokes(lines, { colour: colour('accent'), width: 1, dash: [3 * unit, 3 * unit], front: true }),
        )
    }
    if (points.length > 0) this.preview.add(this.nodesOf(points, 3, colour('accent')))
    this.stage.redraw()
  }

  /** The sketch as a way out, an offer or a proposal would leave it, over the present one. */
  drawForeseen(curves: CurveMessage[]): void {
    clear(this.foreseen)
    const segments = curves.flatMap((c) => segmentsOf(this.plane, c))
    if (segments.length > 0)
      this.foreseen.add(strokes(segments, { colour: colour('foreseen'), width: 3.4, front: true }))
    this.stage.redraw()
  }

  /** Hatches each region its own way, so that a division of the profile is seen at once. */
  private drawHatches(): void {
    this.view.regions.forEach((region, i) => {
      const mesh = new THREE.Mesh(new THREE.ShapeGeometry(this.shapeOf(region), 24), hatching(i))
      mesh.renderOrder = -1
      this.place(mesh, 0)
      this.hatches.add(mesh)
    })
  }

  /** Fills regions; chosen ones strongly. Used while a form picks its profile. */
  drawRegions(chosen: string[]): void {
    clear(this.fills)
    for (const region of this.view.regions) {
      const shape = this.shapeOf(region)
      const opacity = chosen.includes(region.key) ? 0.5 : 0.12
      const make = (): THREE.MeshBasicMaterial =>
        new THREE.MeshBasicMaterial({
          color: colour('region'),
          transparent: true,
          opacity,
          side: THREE.DoubleSide,
          depthTest: false,
        })
      const material = kept(`region ${colour('region')} ${opacity}`, make)
      const mesh = new THREE.Mesh(new THREE.ShapeGeometry(shape, 24), material)
      mesh.userData.key = region.key
      this.place(mesh, 0)
      this.fills.add(mesh)
    }
    this.stage.redraw()
  }

  regionAt(ray: THREE.Ray): string {
    const hits = new THREE.Raycaster(ray.origin, ray.direction).intersectObjects(this.fills.children, false)
    const keys = hits.map((h) => h.object.userData.key as string)
    return keys[0] ?? ''
  }

  private shapeOf(region: SketchView['regions'][number]): THREE.Shape {
    const points = (flat: number[]): THREE.Vector2[] =>
      Array.from({ length: flat.length / 2 }, (_, i) => new THREE.Vector2(flat[2 * i], flat[2 * i + 1]))
    const shape = new THREE.Shape(points(region.outer))
    shape.holes = region.holes.map((h) => new THREE.Path(points(h)))
    return shape
  }

  private place(mesh: THREE.Mesh, offset: number): void {
    mesh.matrixAutoUpdate = false
    const origin = this.plane.origin.clone().addScaledVector(this.plane.normal, offset)
    mesh.matrix.makeBasis(this.plane.x, this.plane.y, this.plane.normal).setPosition(origin)
    mesh.matrixWorldNeedsUpdate = true
    mesh.updateMatrixWorld(true)
  }

  private strokeOf(freedoms: number, construction: boolean, unit: number): Stroke {
    if (!this.active)
      return {
        colour: colour('muted'),
        width: construction ? 0.8 : 1.2,
        dash: construction ? [6 * unit, 4 * unit] : undefined,
      }
    const tint = colour(TEMPER[freedoms]!)
    if (construction) return { colour: tint, width: 1.3, dash: [9 * unit, 4 * unit], front: true }
    return {
      colour: tint,
      width: WIDTHS[freedoms]!,
      dash: freedoms === 3 ? [14 * unit, 3 * unit] : undefined,
      front: true,
    }
  }

  private nodesOf(at: THREE.Vector3[], freedoms: number, tint?: string): THREE.Points {
    const geometry = new THREE.BufferGeometry().setFromPoints(at)
    const look = tint ?? colour(TEMPER[freedoms]!)
    const make = (): THREE.PointsMaterial =>
      new THREE.PointsMaterial({
        map: node(freedoms === 0, look),
        size: freedoms === 0 ? 9 : 11,
        sizeAttenuation: false,
        depthTest: false,
        transparent: true,
        alphaTest: 0.3,
      })
    const material = kept(`node ${look} ${freedoms === 0}`, make)
    const points = new THREE.Points(geometry, material)
    points.renderOrder = 11
    return points
  }

  private drawAxes(): void {
    const long = 1e3
    const axes = strokes([...this.plane.at(-long, 0), ...this.plane.at(long, 0)], {
      colour: '#c2574a',
      width: 0.8,
    })
    const upright = strokes([...this.plane.at(0, -long), ...this.plane.at(0, long)], {
      colour: '#5a8f4e',
      width: 0.8,
    })
    this.group.add(axes, upright, this.nodesOf([this.plane.at(0, 0)], 0, colour('muted')))
  }
}
