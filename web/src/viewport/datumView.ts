import * as THREE from 'three'
import { useDatum } from '../stores/datum'
import { useForesight } from '../stores/foresight'
import { useForm } from '../stores/form'
import { usePart } from '../stores/part'
import { useWork } from '../stores/work'
import { DatumLayer, type ShownDatum } from './datums'
import { WORLD_PLANES } from '../stores/plane'
import type { SketchLayer } from './sketches'
import type { Stage } from './stage'

const WORLD_FRAME = [0, 0, 0, 1, 0, 0, 0, 1, 0]
const DATUMS = ['plane', 'axis', 'point', 'frame', 'curve']
const QUICK_PAUSE = 60

/** Datums in the viewport: which are drawn, what of them is picked, and the handles of the one on the bench. */
export function useDatumView(
  host: () => HTMLElement | null,
  modelSize: () => number,
  layers: () => Map<string, SketchLayer>,
) {
  const part = usePart()
  const work = useWork()
  const datum = useDatum()
  const form = useForm()
  const foresight = useForesight()
  let stage: Stage | null = null
  let layer: DatumLayer | null = null
  let gripped: { field: string; off: THREE.Vector3 } | null = null
  let turned = 0

  function begin(on: Stage): void {
    stage = on
    layer = new DatumLayer(on)
  }

  /** Whether something is wanted that world planes may serve. */
  const asking = (): boolean =>
    !work.sketch &&
    (work.awaitingPlane !== null ||
      work.moving !== null ||
      work.bench === 'Datum' ||
      datum.open ||
      (form.open && form.answer!.fields.some((f) => f.active && f.planes)) ||
      part.snapshot?.steps.length === 0)

  function redraw(): void {
    if (!stage || !layer) return
    const size = modelSize()
    const faint = !asking() || (datum.answer?.solutions.length ?? 0) > 0
    const list: ShownDatum[] = []
    const add = (
      name: string,
      label: string,
      kind: ShownDatum['kind'],
      numbers: number[],
      extent: number,
    ): void => {
      list.push({ name, label, kind, numbers, drawn: [], extent, faint })
    }
    if (asking()) {
      for (const [name, numbers] of Object.entries(WORLD_PLANES))
        add(
          name,
          name.replace('world/', '').toUpperCase(),
          'plane',
          numbers,
          size * (part.built?.bodies.length ? 0.55 : 1),
        )
      if (datum.open || work.bench === 'Datum') {
        add('world', '', 'frame', WORLD_FRAME, size * 0.6)
        add('world/origin', '', 'point', WORLD_FRAME, 0)
      }
    }
    for (const step of part.snapshot?.steps ?? []) {
      const state = part.states.get(step.id)
      if (!DATUMS.includes(step.kind) || step.hidden === true || state?.state !== 'built') continue
      const onBench = datum.answer?.draft.step === step.id
      if (onBench || (work.sketch && step.kind === 'plane')) continue
      list.push({
        name: step.id,
        label: step.name,
        kind: step.kind as ShownDatum['kind'],
        numbers: state.plane ?? [],
        drawn: state.drawn,
        extent: state.extent || size * 0.3,
        faint,
      })
    }
    layer.setSketchTargets(sketchTargets())
    const picked = [...work.picks, ...datum.references, ...form.references]
    layer.show(list, work.hover, picked)
    if (!work.sketch) layer.markTargets(work.hover, picked)
    drawBench()
  }

  /** Curves and points of the sketches that are drawn, named as references. */
  function sketchTargets(): { name: string; places: THREE.Vector3[] }[] {
    const found: { name: string; places: THREE.Vector3[] }[] = []
    for (const [step, sketch] of layers()) if (step !== work.sketch) found.push(...sketch.targets(step))
    return found
  }

  function drawBench(): void {
    const size = modelSize()
    const known = datum.answer?.draft.step ? part.states.get(datum.answer.draft.step)?.extent : undefined
    if (form.answer) layer?.drawGrips(form.answer.grips)
    else if (datum.curve) layer?.drawCurve(datum.curve)
    else
      layer?.drawAnswer(
        datum.quick?.answer ?? datum.answer ?? foresight.datum,
        known || size * 0.55,
        datum.axis,
      )
  }

  /** The way from a place of the sketch to what only looks as if it lay there. */
  function drawGap(ends: [number, number, number][] | null): void {
    layer?.drawGap(ends)
  }

  /** Tells the rest how the model is looked at; a quick plane follows. */
  function looked(): void {
    if (!stage) return
    const m = stage.camera.matrixWorld.elements
    const target = stage.controls.getTarget(new THREE.Vector3())
    const { projectionMatrix, matrixWorldInverse } = stage.lens
    const look = projectionMatrix.clone().multiply(matrixWorldInverse).elements
    if (host()) host()!.dataset.look = look.map((v) => v.toPrecision(9)).join(' ')
    work.view.towards = [m[8]!, m[9]!, m[10]!]
    work.view.frame = [...target.toArray(), m[0]!, m[1]!, m[2]!, m[4]!, m[5]!, m[6]!]
    if (datum.quick && performance.now() - turned > QUICK_PAUSE) {
      turned = performance.now()
      void datum.follow(datum.quick.picks, work.view.towards)
    }
  }

  function ray(event: { clientX: number; clientY: number }): number[] {
    const r = stage!.ray(event)
    return [...r.origin.toArray(), ...r.direction.toArray()]
  }

  /** Takes a press on a handle of the bench. */
  function grab(event: PointerEvent): boolean {
    gripped = ((datum.answer ?? form.answer) && layer?.gripAt(event)) ?? null
    if (gripped) stage?.controls.cancel()
    return gripped !== null
  }

  function drag(event: PointerEvent): boolean {
    if (!gripped || !stage) return false
    const [x, y, z, ...way] = ray(event) as [number, number, number, ...number[]]
    const { off } = gripped
    const pull = form.open ? form.pull : datum.pull
    void pull(gripped.field, [x - off.x, y - off.y, z - off.z, ...way], 9 * stage.perPixel())
    return true
  }

  function drop(): boolean {
    const was = gripped !== null
    gripped = null
    return was
  }

  /** A click while the bench is open: another solution, or a pick. */
  function click(event: PointerEvent, name: string): boolean {
    if (!datum.open || !stage) return false
    const solution =
      datum.answer && datum.answer.solutions.length > 1 ? layer!.solutionAt(stage.ray(event)) : -1
    if (!name && solution >= 0) datum.choose(solution)
    else if (name && !(event.shiftKey && datum.lengthen(name))) void datum.pick(name, ray(event))
    return true
  }

  function labels(): { id: string; text: string; kind: string; x: number; y: number }[] {
    if (!stage || !layer) return []
    const placed = layer.labels().filter((l) => l.text)
    const values = new Map(
      form.answer?.grips.map((g) => [g.field, g.shown]) ?? datum.answer?.fields.map((f) => [f.name, f.shown]),
    )
    return [
      ...placed.map((l) => ({ id: l.text, text: l.text, kind: 'datum', ...stage!.toScreen(l.at) })),
      ...layer.gripPlaces().map((g) => {
        const at = stage!.toScreen(g.at)
        return { id: `grip-${g.field}`, text: values.get(g.field) ?? '', kind: 'grip', x: at.x, y: at.y - 20 }
      }),
    ]
  }

  return {
    begin,
    redraw,
    drawBench,
    drawGap,
    looked,
    ray,
    grab,
    drag,
    drop,
    click,
    labels,
    box: () => layer?.box() ?? new THREE.Box3(),
    near: (event: PointerEvent | MouseEvent, depth?: number) => layer?.near(event, depth) ?? '',
    pick: (event: PointerEvent | MouseEvent) => layer?.pick(event) ?? '',
  }
}
