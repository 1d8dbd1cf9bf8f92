<script setup lang="ts">
import * as THREE from 'three'
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue'
import { usePart } from '../stores/part'
import { useDatum } from '../stores/datum'
import { useForm } from '../stores/form'
import { useGauge } from '../stores/gauge'
import { useWork } from '../stores/work'
import { colour } from '../theme'
import { FORMS } from '../workspace/benches'
import { useLook } from '../stores/look'
import PickList from './PickList.vue'
import { useDimensionText } from '../workspace/dimensionText'
import { BodyLayer } from './bodies'
import ViewLabels from './ViewLabels.vue'
import { failureLabels, readingLabels, sketchLabels, type Label } from './labels'
import { playMotion } from './motion'
import { useDatumView } from './datumView'
import { SketchPlane, WORLD_PLANES } from './plane'
import { SketchLayer } from './sketches'
import { ReadingLayer } from './readings'
import { Stage, type Direction } from './stage'

const REACH = 9
const DRAG_START = 4
/** The sine of the flattest view of a plane that can be drawn on. */
const EDGE_ON = Math.sin((5 * Math.PI) / 180)
const part = usePart()
const work = useWork()
const datum = useDatum()
const form = useForm()
const viewLook = useLook()
const gauge = useGauge()
const host = ref<HTMLDivElement | null>(null)
const labels = shallowRef<Label[]>([])
const snap = shallowRef<{ text: string; x: number; y: number } | null>(null)
const editing = ref<string | null>(null)
const texts = useDimensionText((at) => active.value?.meet(stage!.ray(at)) ?? null)
const answered = ref(0)
/** What would be taken into the sketch. */
const taken = ref('')
const frame = ref({ x: 0, y: 0, perPixel: 1 })
let stage: Stage | null = null
let bodies: BodyLayer | null = null
let readings: ReadingLayer | null = null
let layers = new Map<string, SketchLayer>()
let drawnAt = 0
let down: { x: number; y: number; dragging: boolean } | null = null
let stopPlaying = (): void => {}
let shownBodies = ''

const datums = useDatumView(
  () => host.value,
  () => {
    const box = bodies?.box() ?? new THREE.Box3()
    return box.isEmpty() ? 35 : Math.max(10, box.getSize(new THREE.Vector3()).length() * 0.42)
  },
  () => layers,
)

const active = computed(() => (work.sketch ? layerPlane(work.sketch) : null))

function layerPlane(step: string): SketchPlane | null {
  const known = part.states.get(step)?.plane
  if (known) return new SketchPlane(known)
  const view = part.snapshot?.steps.find((s) => s.id === step)?.step as { on?: string } | undefined
  const world = view?.on ? WORLD_PLANES[view.on] : undefined
  return world ? new SketchPlane(world) : null
}

function redrawBodies(): void {
  const messages = form.before ?? part.built?.bodies ?? []
  const key = messages.map((b) => b.key).join()
  if (key !== shownBodies) {
    shownBodies = key
    bodies?.setBodies(messages)
  }
  bodies?.setThreads((part.built?.steps ?? []).flatMap((s) => s.threads))
  bodies?.setFaint(work.sketch !== null || form.preview?.state === 'built')
  const box = bodies?.box()
  if (box && !box.isEmpty()) void stage?.fitOnce(box)
  redrawDatums()
}

function redrawSketches(): void {
  if (!stage) return
  for (const layer of layers.values()) layer.remove()
  layers = new Map()
  for (const step of part.snapshot?.steps ?? []) {
    const plane = layerPlane(step.id)
    const left = part.states.get(step.id)?.state === 'left'
    if (!step.sketch || !plane || (left && work.sketch !== step.id)) continue
    const used = part.snapshot?.steps.some(
      (s) => s.parents.includes(step.id) && FORMS.some((f) => f.name === s.kind),
    )
    const editingThis = work.sketch === step.id
    const forming =
      form.open && (form.sketch === step.id || form.references.some((r) => r.split('/')[0] === step.id))
    const asked = step.hidden === false
    if ((step.hidden === true || (used && !asked)) && !editingThis && !forming) continue
    const layer = new SketchLayer(stage, plane, step.sketch, editingThis)
    layers.set(step.id, layer)
    if (editingThis) layer.drawDimensions()
    if (!part.built?.bodies.length && step.sketch.entities.length > 0 && !work.sketch)
      void stage.fitOnce(layer.box())
  }
  redrawForm()
  redrawMarks()
  place()
}

function redrawForm(): void {
  const layer = form.sketch && form.answer ? layers.get(form.sketch) : undefined
  layer?.drawRegions(form.regions.map((r) => r.reference))
  const made = form.preview?.state === 'built' ? form.preview : null
  bodies?.setFresh(made?.bodies ?? [], made?.step ?? '', colour(form.taking ? 'taken' : 'added'))
  bodies?.setFaint(work.sketch !== null || made !== null)
}

function redrawMarks(): void {
  const sketch = work.sketch ? layers.get(work.sketch) : undefined
  if (sketch) {
    sketch.mark(work.hover, [...work.picks, ...work.touched], clashing.value)
    sketch.drawForeseen(work.foreseen)
    bodies?.mark(work.taking ? taken.value : '', [])
  } else {
    bodies?.mark(work.hover, [...work.picks, ...datum.references, ...form.references, ...gauge.references])
  }
  redrawDatums()
}

const clashing = computed(() => {
  const involved = work.answer?.refusal?.involved ?? []
  const view = work.sketchView
  if (!view || involved.length === 0) return []
  return [...view.constraints, ...view.dimensions].filter((c) => involved.includes(c.id)).flatMap((c) => c.of)
})

const involved = computed(() => work.answer?.refusal?.involved ?? [])

/** Constraints and sizes are picked by their marks. */
function pickRule(id: string, event: MouseEvent): void {
  if (work.tool !== 'select') return
  work.picks = event.shiftKey || event.ctrlKey ? toggled(work.picks, id) : [id]
}

function redrawDatums(): void {
  datums.redraw()
}

function redrawReadings(): void {
  const kept = work.sketch
    ? []
    : (part.snapshot?.steps ?? []).filter((s) => s.kind === 'reading' && s.hidden !== true)
  readings?.draw(
    kept.flatMap((s) => part.states.get(s.id) ?? []),
    work.sketch ? [] : (gauge.drawn?.points ?? []),
  )
  place()
}

/** Places labels over the picture, and says where the sketch's origin lies on the screen. */
function place(): void {
  if (!stage) return
  const next: Label[] = []
  const layer = work.sketch ? layers.get(work.sketch) : undefined
  const view = work.sketchView
  if (layer && view) {
    if (Math.abs(stage.perPixel() / drawnAt - 1) > 0.08) {
      drawnAt = stage.perPixel()
      layer.drawCurves(view.entities)
      layer.drawDimensions()
    }
    next.push(...sketchLabels(stage, layer.plane, view, texts.placeOf))
    const origin = stage.toScreen(layer.plane.at(0, 0))
    const now = { ...origin, perPixel: stage.perPixel() }
    if (!alike(frame.value, now)) frame.value = now
  }
  next.push(...datums.labels())
  if (!work.sketch) next.push(...readingLabels(stage, part.snapshot?.steps ?? [], part.states, gauge.drawn))
  const failed = form.open ? (form.preview ? [form.preview] : []) : [...part.states.values()]
  next.push(...failed.filter((s) => s.state === 'failed').flatMap((s) => failureLabels(stage!, s)))
  if (next.length !== labels.value.length || next.some((l, i) => !alike(l, labels.value[i]!)))
    labels.value = next
  placeSnap()
}

/** The name of the snap, above it; apart from the other labels, since it alone follows the pointer. */
function placeSnap(): void {
  const layer = work.sketch ? layers.get(work.sketch) : undefined
  const now = work.answer?.snap
  if (!stage || !layer || !now || now.kind === 'free') snap.value = null
  else {
    const at = stage.toScreen(layer.plane.at(now.at[0]!, now.at[1]!))
    snap.value = { text: now.kind.replace(/-/g, ' '), x: at.x, y: at.y - 17 }
  }
}

function alike<T extends object>(a: T, b: T): boolean {
  return (Object.keys(a) as (keyof T)[]).every((k) => a[k] === b[k])
}

function locate(event: PointerEvent | MouseEvent): boolean {
  if (!stage || !active.value) return false
  const at = active.value.meet(stage.ray(event))
  if (!at || Math.abs(active.value.normal.dot(stage.ray(event).direction)) < EDGE_ON) {
    void part
      .live()
      ?.edgeOn(work.sketch!, work.view.towards)
      .then((words) => (part.notice = words ?? 'The plane is seen edge-on; turn the view to draw on it.'))
    return false
  }
  Object.assign(work.pointer, at, { reach: REACH * stage.perPixel() })
  return true
}

function onMove(event: PointerEvent): void {
  if (datums.drag(event)) return
  if (work.sketch && work.taking) {
    if (!event.buttons) taken.value = underModel(event)
    return
  }
  if (work.sketch) {
    if (!locate(event)) return
    if (
      down &&
      !down.dragging &&
      Math.hypot(event.clientX - down.x, event.clientY - down.y) > DRAG_START &&
      work.tool === 'select'
    ) {
      down.dragging = true
      void work.input('dragStart', startOf(down))
    }
    void work.input(down?.dragging ? 'drag' : 'move', { suppress: event.altKey })
    return
  }
  if (event.buttons) return
  work.hover = under(event)
}

function startOf(at: { x: number; y: number }): { x: number; y: number } {
  const p = stage && active.value?.meet(stage.ray({ clientX: at.x, clientY: at.y }))
  return p ?? { x: work.pointer.x, y: work.pointer.y }
}

function under(event: PointerEvent | MouseEvent): string {
  if (work.awaitingPlane || work.moving) return datums.pick(event) || (bodies?.pick(event) ?? '')
  return underModel(event) || datums.pick(event)
}

/** Points and lines of datums and sketches first, then what is on the body. */
function underModel(event: PointerEvent | MouseEvent): string {
  return datums.near(event, bodies?.depth(event)) || (bodies?.pick(event) ?? '')
}

function onDown(event: PointerEvent): void {
  viewLook.under = null
  if (event.button === 2) rightDown = { x: event.clientX, y: event.clientY }
  if (event.button !== 0) return
  if (!work.sketch && datums.grab(event)) return
  down = { x: event.clientX, y: event.clientY, dragging: false }
  editing.value = null
}

function onUp(event: PointerEvent): void {
  if (datums.drop()) return
  if (event.button === 2) return listUnder(event)
  if (event.button !== 0 || !down) return
  const was = down
  down = null
  if (work.sketch && work.taking) {
    const name = underModel(event)
    if (name) void work.take(name)
    return
  }
  if (work.sketch) {
    if (!locate(event)) return
    // Nothing of the sketch is there, but something of the model is: it may only look as if it met the sketch.
    if (!was.dragging && !work.hover && (work.tool === 'select' || work.tool?.startsWith('tie-'))) {
      const name = datums.near(event) || (bodies?.pick(event, false) ?? '')
      if (name) return void work.seen(name, datums.ray(event))
    }
    void work.input(was.dragging ? 'dragEnd' : 'click', {
      suppress: event.altKey,
      extend: event.shiftKey || event.ctrlKey,
    })
    return
  }
  if (Math.hypot(event.clientX - was.x, event.clientY - was.y) > DRAG_START) return
  pickModel(event)
}

function pickModel(event: PointerEvent): void {
  const name = under(event)
  if (form.open) {
    pickForForm(event, name)
    return
  }
  if (gauge.open) {
    if (name) void gauge.pick(name, event.shiftKey || event.ctrlKey)
    return
  }
  if (!work.awaitingPlane && !work.moving && datums.click(event, name)) return
  if (datum.quick) {
    void work.fixQuick()
    return
  }
  if (work.moving && name) {
    if (work.isPlane(name)) void work.moveTo(name)
    else part.notice = `${name} is not planar; pick a plane, a planar face or a frame.`
    return
  }
  if (work.awaitingPlane && name) {
    if (work.isPlane(name)) void work.sketchOn(name, work.awaitingPlane)
    else part.notice = `${name} is not planar; pick a plane or a planar face.`
    return
  }
  if (!name) work.picks = []
  else work.picks = event.shiftKey || event.ctrlKey ? toggled(work.picks, name) : [name]
}

/** While a form is made: a region of its sketch where those are being chosen, otherwise whatever is there. */
function pickForForm(event: PointerEvent, name: string): void {
  const layer = form.choosing && form.sketch ? layers.get(form.sketch) : undefined
  const region = layer && stage ? layer.regionAt(stage.ray(event)) : ''
  if (region) void form.pick(region, 'regions')
  else if (name) void form.pick(name)
}

function toggled(list: string[], item: string): string[] {
  return list.includes(item) ? list.filter((i) => i !== item) : [...list, item]
}

async function look(direction: Direction | 'fit' | 'square'): Promise<void> {
  if (!stage) return
  if (direction === 'square') {
    if (active.value) await stage.lookFrom(active.value.normal)
  } else if (direction === 'fit') {
    const box = bodies?.box() ?? new THREE.Box3()
    for (const layer of layers.values()) box.union(layer.box())
    await stage.fit(box.union(datums.box()))
  } else await stage.look(direction)
}

/** Plays one remaining motion of the sketch back and forth. */
function play(index: number): void {
  const view = work.sketchView
  const layer = work.sketch ? layers.get(work.sketch) : undefined
  const motion = view?.motions[index]
  if (!view || !layer || !motion || !stage) return
  stopPlaying()
  stopPlaying = playMotion(layer, view, motion, 26 * stage.perPixel())
}

async function picture(): Promise<Blob | null> {
  return stage ? stage.picture() : null
}

/** The half of space that a section keeps. */
function cutPicture(): void {
  const cut = viewLook.section
  if (!cut) return bodies?.setSection(null)
  const plane = new SketchPlane(cut.plane)
  const normal = plane.normal.clone().multiplyScalar(cut.flip ? 1 : -1)
  const origin = plane.origin.clone().addScaledVector(plane.normal, cut.offset)
  bodies?.setSection(new THREE.Plane().setFromNormalAndCoplanarPoint(normal, origin))
}

let rightDown: { x: number; y: number } | null = null
/** A right click that does not turn the view lists what lies under the pointer. */
function listUnder(event: PointerEvent): void {
  const was = rightDown
  rightDown = null
  if (!was || Math.hypot(event.clientX - was.x, event.clientY - was.y) > DRAG_START || work.sketch) return
  const box = host.value!.getBoundingClientRect()
  const first = datums.near(event)
  const names = [
    ...new Set([...(first ? [first] : []), ...(bodies?.pickAll(event) ?? []), datums.pick(event)]),
  ].filter(Boolean)
  viewLook.under =
    names.length > 0 ? { x: event.clientX - box.left, y: event.clientY - box.top, names } : null
}

/** Takes one of what is listed. */
function takeUnder(name: string, more: boolean): void {
  viewLook.under = null
  if (form.open) void form.pick(name)
  else if (gauge.open) void gauge.pick(name, more)
  else if (datum.open) void datum.pick(name, [0, 0, 1e4, 0, 0, -1])
  else work.picks = more ? toggled(work.picks, name) : [name]
}

defineExpose({ look, play, picture })

onMounted(() => {
  if (!host.value) return
  stage = new Stage(host.value)
  bodies = new BodyLayer(stage)
  readings = new ReadingLayer(stage)
  datums.begin(stage)
  stage.onFrame(place)
  stage.onFrame(datums.looked)
  drawnAt = stage.perPixel()
  bodies.setLook(viewLook.mode, part.snapshot?.material.colour ?? null)
  cutPicture()
  redrawBodies()
  redrawSketches()
  redrawReadings()
})

onBeforeUnmount(() => {
  stopPlaying()
  bodies?.dispose()
  stage?.dispose()
})

watch(
  () => part.built,
  () => {
    redrawBodies()
    redrawSketches()
  },
)
watch(() => part.snapshot, redrawSketches)
watch(
  () => work.sketch,
  (now) => {
    stage?.letLeftTurn(now === null)
    redrawBodies()
    redrawSketches()
    squareOn = now
    trySquare()
  },
)
let squareOn: string | null = null
function trySquare(): void {
  if (!stage || !squareOn || !active.value) return
  squareOn = null
  // The scale stays: a picture that jumps while one draws is worse than one that is not filled.
  stage.keepScale()
  void stage.lookFrom(active.value.normal, false)
}
watch(active, trySquare)
watch(() => [work.hover, work.picks, work.touched, work.foreseen, clashing.value], redrawMarks)
watch(() => [work.awaitingPlane, work.moving, work.bench, datum.open], redrawDatums)
watch(
  () => [datum.answer, datum.curve, datum.quick],
  () => {
    datums.drawBench()
    place()
  },
)
watch(taken, redrawMarks)
watch(() => viewLook.section, cutPicture)
watch(
  () => [viewLook.mode, part.snapshot?.material.colour] as const,
  ([mode, tint]) => bodies?.setLook(mode, tint ?? null),
  { immediate: true },
)
watch(() => [part.built, part.snapshot, work.sketch, gauge.drawn], redrawReadings)
watch(() => gauge.answer, redrawMarks)
watch(
  () => work.apart,
  (now) => datums.drawGap(now ? [now.here, now.there] : null),
)
watch(
  () => work.answer,
  (answer) => {
    const layer = work.sketch ? layers.get(work.sketch) : undefined
    if (!layer) return
    layer.drawPreview(answer?.preview ?? [], answer?.snap ?? null)
    placeSnap()
    if (answer?.dragged) {
      const known = new Map(work.sketchView?.entities.map((e) => [e.id, e.freedoms]))
      layer.drawCurves(answer.dragged.map((c) => ({ ...c, freedoms: known.get(c.id) ?? 0 })))
    }
    answered.value++
  },
)
watch(
  () => [form.open, form.sketch, form.before, form.references.join()],
  () => {
    redrawBodies()
    redrawSketches()
  },
)
watch(
  () => [form.answer, form.preview],
  () => {
    redrawForm()
    redrawMarks()
    place()
  },
)
</script>

<template>
  <div
    ref="host"
    class="viewport relative h-full w-full overflow-hidden"
    :class="work.sketch && work.tool !== 'select' ? 'cursor-crosshair' : ''"
    data-testid="viewport"
    :data-sketch="work.sketch ?? ''"
    :data-origin-x="frame.x"
    :data-origin-y="frame.y"
    :data-per-pixel="frame.perPixel"
    :data-settled="part.settled"
    :data-answered="answered"
    @pointermove="onMove"
    @pointerdown="onDown"
    @pointerup="onUp"
    @contextmenu.prevent
  >
    <ViewLabels
      v-model:editing="editing"
      :labels="labels"
      :texts="texts"
      :involved="involved"
      @moved="place"
      @pick="pickRule"
    />
    <PickList
      v-if="viewLook.under"
      :at="viewLook.under"
      @hover="work.hover = $event"
      @take="(name, more) => takeUnder(name, more)"
      @close="viewLook.under = null"
    />
    <span
      v-if="snap"
      class="pointer-events-none absolute -translate-x-1/2 -translate-y-1/2 rounded-sm bg-canvas/85 px-1 text-[11px] whitespace-nowrap text-accent"
      :style="{ left: `${snap.x}px`, top: `${snap.y}px` }"
      data-testid="snap"
      >{{ snap.text }}</span
    >
  </div>
</template>
