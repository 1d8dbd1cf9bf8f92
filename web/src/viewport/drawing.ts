import * as THREE from 'three'
import { computed, watch, type Ref } from 'vue'
import { useDatum } from '../stores/datum'
import { litFaces, useAsking } from '../stores/asking'
import { useForm } from '../stores/form'
import { useForesight } from '../stores/foresight'
import { useGauge } from '../stores/gauge'
import { useLook } from '../stores/look'
import { usePart } from '../stores/part'
import { useWork } from '../stores/work'
import { colour } from '../theme'
import { SketchPlane, WORLD_PLANES } from '../stores/plane'
import type { Scene } from './scene'
import { SketchLayer } from './sketches'

/** Always the same one, so that nothing is drawn anew where there still is nothing. */
const NOTHING: string[] = []
/** How strongly what a step made lights up while its row is under the pointer. */
const ROW = 0.5

/** The plane that a sketch lies on, as far as it is known. */
export function planeOfSketch(step: string): SketchPlane | null {
  const part = usePart()
  const known = part.states.get(step)?.plane
  if (known) return new SketchPlane(known)
  const view = part.snapshot?.steps.find((s) => s.id === step)?.step as { on?: string } | undefined
  const world = view?.on ? WORLD_PLANES[view.on] : undefined
  return world ? new SketchPlane(world) : null
}

/** Keeps the layers of the picture in step with the part, the tools and the forms. */
export function useDrawing(scene: Scene, taken: Ref<string>, place: () => void) {
  const part = usePart()
  const work = useWork()
  const datum = useDatum()
  const asking = useAsking()
  const form = useForm()
  const look = useLook()
  const gauge = useGauge()
  const foresight = useForesight()
  let shownBodies = ''

  const openLayer = (): SketchLayer | undefined => (work.sketch ? scene.layers.get(work.sketch) : undefined)

  const involved = computed(() => work.answer?.refusal?.involved ?? NOTHING)

  /** What the constraints and sizes that a refusal names are about. */
  const clashing = computed(() => {
    const view = work.sketchView
    if (!view || involved.value.length === 0) return NOTHING
    const rules = [...view.constraints, ...view.dimensions]
    return rules.filter((c) => involved.value.includes(c.id)).flatMap((c) => c.of)
  })

  function redrawBodies(): void {
    const { bodies } = scene
    const all = part.built?.bodies ?? []
    const hidden = new Set((part.snapshot?.steps ?? []).filter((s) => s.hidden).map((s) => s.id))
    // A form's preview is of bodies; what was read as triangles stays.
    const messages = (form.before ? [...form.before, ...all.filter((b) => b.reference)] : all).filter(
      (b) => !b.reference || !hidden.has(b.name),
    )
    const key = messages.map((b) => b.key).join()
    if (key !== shownBodies) {
      shownBodies = key
      bodies?.setBodies(messages)
    }
    bodies?.setThreads((part.built?.steps ?? []).flatMap((s) => s.threads))
    bodies?.setFaint(work.sketch !== null || form.preview?.state === 'built')
    fitAtFirst()
    scene.datums.redraw()
  }

  /** A part that opens is fitted to what is there of it so far; whether bodies come, and those go first, its model says. */
  function fitAtFirst(): void {
    const { bodies, stage, layers } = scene
    if (!stage?.opening || !part.built) return
    const box = bodies?.box() ?? new THREE.Box3()
    if (box.isEmpty() && !work.sketch) for (const layer of layers.values()) box.union(layer.box())
    if (!box.isEmpty()) stage.fitAtFirst(box, part.settled)
  }

  /** A sketch that a form was made of is drawn only where that is asked for, or while either is worked on. */
  function isDrawn(step: { id: string; hidden?: boolean | null }): boolean {
    if (part.states.get(step.id)?.state === 'left') return work.sketch === step.id
    const forming = form.sketch === step.id || form.references.some((r) => r.split('/')[0] === step.id)
    if (work.sketch === step.id || (form.open && forming)) return true
    const used = part.snapshot?.steps.some((s) => s.form && s.parents.includes(step.id))
    return step.hidden !== true && (!used || step.hidden === false)
  }

  function redrawSketches(): void {
    const { stage, layers } = scene
    if (!stage) return
    for (const layer of layers.values()) layer.remove()
    layers.clear()
    for (const step of part.snapshot?.steps ?? []) {
      const plane = planeOfSketch(step.id)
      if (!step.sketch || !plane || !isDrawn(step)) continue
      const open = work.sketch === step.id
      const layer = new SketchLayer(stage, plane, step.sketch, open)
      layers.set(step.id, layer)
      if (open) layer.drawDimensions()
    }
    fitAtFirst()
    redrawForm()
    redrawMarks()
    place()
  }

  function redrawForm(): void {
    const layer = form.sketch && form.answer ? scene.layers.get(form.sketch) : undefined
    layer?.drawRegions(form.regions.map((r) => r.reference))
    const made = form.preview?.state === 'built' ? form.preview : foresight.form
    scene.bodies?.setFresh(
      made?.bodies ?? foresight.beside,
      made?.step ?? '',
      colour(made ? (form.preview && form.taking ? 'taken' : 'added') : 'amber'),
    )
    scene.bodies?.setFaint(work.sketch !== null || made !== null)
  }

  function redrawMarks(): void {
    const sketch = openLayer()
    if (sketch) {
      sketch.mark(work.hover, [...work.picks, ...work.touched], clashing.value)
      sketch.drawForeseen([...work.foreseen, ...foresight.curves])
      scene.bodies?.mark(work.taking ? taken.value : '', [])
    } else {
      const picked = [...work.picks, ...datum.references, ...form.references, ...gauge.references]
      const faces = scene.bodies?.faces ?? []
      const made = look.lit
      const lit = made
        ? new Map(faces.filter((f) => f.startsWith(`${made}/`)).map((f) => [f, ROW] as const))
        : asking.lit.length > 0 && part.snapshot
          ? litFaces(part.snapshot, faces, asking.lit)
          : undefined
      scene.bodies?.mark(work.hover, picked, lit)
    }
    scene.datums.redraw()
  }

  function redrawReadings(): void {
    const steps = work.sketch ? [] : (part.snapshot?.steps ?? [])
    const kept = steps.filter((s) => s.kind === 'reading' && s.hidden !== true)
    scene.readings?.draw(
      kept.flatMap((s) => part.states.get(s.id) ?? []),
      work.sketch ? [] : ((gauge.drawn ?? foresight.reading)?.points ?? []),
    )
    place()
  }

  /** The half of space that a section keeps. */
  function cutPicture(): void {
    const cut = look.section
    if (!cut) return scene.bodies?.setSection(null)
    const plane = new SketchPlane(cut.plane)
    const normal = plane.normal.clone().multiplyScalar(cut.flip ? 1 : -1)
    const origin = plane.origin.clone().addScaledVector(plane.normal, cut.offset)
    scene.bodies?.setSection(new THREE.Plane().setFromNormalAndCoplanarPoint(normal, origin))
  }

  function setLook(): void {
    scene.bodies?.setLook(look.mode, part.snapshot?.material.colour ?? null)
  }

  function redrawModel(): void {
    redrawBodies()
    redrawSketches()
  }

  /** Everything, once the layers are there. */
  function drawAll(): void {
    setLook()
    cutPicture()
    redrawModel()
    redrawReadings()
  }

  watch(() => part.built, redrawModel)
  watch(() => part.snapshot, redrawSketches)
  watch(() => part.settled, fitAtFirst)
  watch(
    () =>
      part.snapshot?.steps
        .filter((s) => s.kind === 'mesh' && s.hidden)
        .map((s) => s.id)
        .join(),
    redrawBodies,
  )
  watch(
    () => work.sketch,
    (now) => {
      scene.stage?.letLeftTurn(now === null)
      redrawModel()
    },
  )
  watch(
    () => [
      work.hover,
      work.picks,
      work.touched,
      work.foreseen,
      clashing.value,
      asking.lit,
      look.lit,
      foresight.curves,
    ],
    redrawMarks,
  )
  watch(
    () => [work.awaitingPlane, work.moving, work.bench, datum.open],
    () => scene.datums.redraw(),
  )
  watch(
    () => [datum.answer, datum.curve, datum.quick, datum.axis, foresight.datum],
    () => {
      scene.datums.drawBench()
      place()
    },
  )
  watch(taken, redrawMarks)
  watch(() => look.section, cutPicture)
  watch(() => [look.mode, part.snapshot?.material.colour], setLook)
  watch(() => [part.built, part.snapshot, work.sketch, gauge.drawn, foresight.reading], redrawReadings)
  watch(() => gauge.answer, redrawMarks)
  watch(
    () => work.apart,
    (now) => scene.datums.drawGap(now ? [now.here, now.there] : null),
  )
  watch(() => [form.open, form.sketch, form.before, form.references.join()], redrawModel)
  watch(
    () => [form.answer, form.preview, foresight.form, foresight.beside],
    () => {
      redrawForm()
      redrawMarks()
      place()
    },
  )

  return { openLayer, involved, drawAll }
}
