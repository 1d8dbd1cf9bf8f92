<script setup lang="ts">
import * as THREE from 'three'
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue'
import type { MotionMessage } from '../api/live'
import { usePart } from '../stores/part'
import { useForm } from '../stores/form'
import { useForesight } from '../stores/foresight'
import { useGauge } from '../stores/gauge'
import { useLook } from '../stores/look'
import type { Viewpoint } from '../stores/views'
import { useWork } from '../stores/work'
import { useDimensionText } from './dimensionText'
import { BodyLayer } from './bodies'
import { useDatumView } from './datumView'
import { planeOfSketch, useDrawing } from './drawing'
import { fingers } from './fingers'
import { failureLabels, readingLabels, sketchLabels, type Label } from './labels'
import { leaned, type Sight } from './leaning'
import { playMotion } from './motion'
import PickList from './PickList.vue'
import { placed as apart, type Placed, type Shifts } from './placement'
import { usePointing } from './pointing'
import { ReadingLayer } from './readings'
import type { Scene } from './scene'
import { Stage, type Direction } from './stage'
import ViewLabels from './ViewLabels.vue'
import ViewSprig from './ViewSprig.vue'

const part = usePart()
const work = useWork()
const form = useForm()
const viewLook = useLook()
const gauge = useGauge()
const foresight = useForesight()
const host = ref<HTMLDivElement | null>(null)
const labels = shallowRef<Placed[]>([])
const shifts: Shifts = new Map()
const snap = shallowRef<{ text: string; x: number; y: number } | null>(null)
const editing = ref<string | null>(null)
const texts = useDimensionText((at) => active.value?.meet(scene.stage!.ray(at)) ?? null)
let answered = 0
let placed: { view: unknown; seen: THREE.Matrix4 } = { view: null, seen: new THREE.Matrix4() }
const frame = ref({ x: 0, y: 0, perPixel: 1 })
let drawnAt = 0
let stopPlaying = (): void => {}

const active = computed(() => (work.sketch ? planeOfSketch(work.sketch) : null))

/** How large the model is, for the sizes of what stands about it. */
function modelSize(): number {
  const box = scene.bodies?.box() ?? new THREE.Box3()
  return box.isEmpty() ? 35 : Math.max(10, box.getSize(new THREE.Vector3()).length() * 0.42)
}

const scene: Scene = {
  host: () => host.value,
  stage: null,
  bodies: null,
  readings: null,
  layers: new Map(),
  datums: useDatumView(
    () => host.value,
    modelSize,
    () => scene.layers,
  ),
  active,
}
const pointing = usePointing(scene)
const { taken, takeUnder, pickRule } = pointing
const hand = fingers(pointing)
const { openLayer, involved, drawAll } = useDrawing(scene, taken, place)

/** Places labels over the picture, and says where the sketch's origin lies on the screen. */
function place(): void {
  const { stage, datums } = scene
  if (!stage) return
  const next: Label[] = []
  const layer = openLayer()
  const view = work.sketchView
  // While something is dragged, what is written stands with the sketch as it was.
  const { lens } = stage
  const seen = lens.projectionMatrix.clone().multiply(lens.matrixWorldInverse)
  if (work.answer?.moved && view === placed.view && seen.equals(placed.seen)) return placeSnap()
  placed = { view, seen }
  if (layer && view) {
    if (Math.abs(stage.perPixel() / drawnAt - 1) > 0.08) {
      drawnAt = stage.perPixel()
      layer.drawCurves(view.entities)
      layer.drawDimensions()
    }
    const own = part.snapshot?.steps.find((s) => s.id === work.sketch)?.sizes
    const written = (id: string): string => own?.find((z) => z.field === id)?.written ?? ''
    next.push(...sketchLabels(stage, layer.plane, view, texts.placeOf, written))
    const origin = stage.toScreen(layer.plane.at(0, 0))
    const now = { ...origin, perPixel: stage.perPixel() }
    if (!alike(frame.value, now)) frame.value = now
  }
  turned(stage)
  next.push(...datums.labels())
  if (!work.sketch)
    next.push(
      ...readingLabels(stage, part.snapshot?.steps ?? [], part.states, gauge.drawn ?? foresight.reading),
    )
  const failed = form.open ? (form.preview ? [form.preview] : []) : [...part.states.values()]
  next.push(...failed.filter((s) => s.state === 'failed').flatMap((s) => failureLabels(stage, s)))
  const room = { width: host.value!.clientWidth, height: host.value!.clientHeight }
  const shown = apart(next, shifts, room, texts.held())
  if (shown.length !== labels.value.length || shown.some((l, i) => !alike(l, labels.value[i]!)))
    labels.value = shown
  placeSnap()
}

/** The camera's axes in the world, for the marker of directions. */
const sight = shallowRef<Sight>({ right: [1, 0, 0], up: [0, 1, 0], back: [0, 0, 1] })
function turned(stage: Stage): void {
  const e = stage.camera.matrixWorld.elements
  const axis = (at: number): number[] => [e[at]!, e[at + 1]!, e[at + 2]!]
  const now = { right: axis(0), up: axis(4), back: axis(8) }
  const same = (['right', 'up', 'back'] as const).every((k) =>
    now[k].every((v, i) => Math.abs(v - sight.value[k][i]!) < 1e-4),
  )
  if (!same) sight.value = now
}

/** The name of the snap, above it; apart from the other labels, since it alone follows the pointer. */
function placeSnap(): void {
  const layer = openLayer()
  const now = work.answer?.snap
  if (!scene.stage || !layer || !now || now.kind === 'free') snap.value = null
  else {
    const at = scene.stage.toScreen(layer.plane.at(now.at[0]!, now.at[1]!))
    snap.value = { text: now.kind.replace(/-/g, ' '), x: at.x, y: at.y - 17 }
  }
}

function alike<T extends object>(a: T, b: T): boolean {
  return (Object.keys(a) as (keyof T)[]).every((k) => a[k] === b[k])
}

function press(event: PointerEvent): void {
  if (event.button === 0) editing.value = null
  hand.press(event)
}

async function look(direction: Direction | 'fit' | 'square'): Promise<void> {
  const { stage } = scene
  if (!stage) return
  if (direction === 'square') {
    if (active.value) await stage.lookFrom(active.value.normal)
  } else if (direction === 'fit') {
    const box = scene.bodies?.box() ?? new THREE.Box3()
    for (const layer of scene.layers.values()) box.union(layer.box())
    await stage.fit(box.union(scene.datums.box()))
  } else await stage.look(direction)
}

/** Plays one remaining motion of the sketch back and forth. */
function play(motion: MotionMessage): void {
  const view = work.sketchView
  const layer = openLayer()
  if (!view || !layer || !scene.stage) return
  stopPlaying()
  stopPlaying = playMotion(layer, view, motion, 26 * scene.stage.perPixel())
}

/** A form that begins square to its sketch would show nothing of its depth: the view leans. */
watch(
  () => (form.open ? form.sketch : null),
  (now, was) => {
    const plane = now && !was ? planeOfSketch(now) : null
    const from = plane && leaned(sight.value, plane.normal)
    if (from) void scene.stage?.lookFrom(from)
  },
)

/** What is drawn is seen in parallel: in perspective nothing on it would have its true length. */
watch(
  () => viewLook.perspective && !work.sketch,
  (deep) => scene.stage?.setPerspective(deep),
)

defineExpose({
  look,
  play,
  viewpoint: () => scene.stage?.viewpoint(),
  lookAs: (from: Viewpoint) => scene.stage?.lookAs(from),
})

onMounted(() => {
  if (!host.value) return
  scene.stage = new Stage(host.value)
  scene.stage.setPerspective(viewLook.perspective && !work.sketch)
  scene.bodies = new BodyLayer(scene.stage)
  scene.readings = new ReadingLayer(scene.stage)
  scene.datums.begin(scene.stage)
  scene.stage.onFrame(place)
  scene.stage.onFrame(scene.datums.looked)
  drawnAt = scene.stage.perPixel()
  drawAll()
})

onBeforeUnmount(() => {
  stopPlaying()
  scene.bodies?.dispose()
  scene.stage?.dispose()
})

/** A sketch that was just opened is looked at squarely, as soon as its plane is known. */
let squareOn = false
function trySquare(): void {
  if (!scene.stage || !squareOn || !active.value) return
  squareOn = false
  // The scale stays: a picture that jumps while one draws is worse than one that is not filled.
  scene.stage.keepScale()
  void scene.stage.lookFrom(active.value.normal, false)
}
watch(
  () => work.sketch,
  (now) => {
    squareOn = now !== null
    trySquare()
  },
)
watch(active, trySquare)
watch(
  () => work.answer,
  (answer) => {
    const layer = openLayer()
    if (!layer) return
    layer.drawPreview(answer?.preview ?? [], answer?.snap ?? null)
    placeSnap()
    const current = answer?.revision === part.snapshot?.revision
    if (answer?.moved && current) layer.drawMoved(answer.moved)
    else if (current) layer.settle()
    // Past the templates: nothing else of the view depends on it.
    if (host.value) host.value.dataset.answered = String(++answered)
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
    :data-volume="part.built?.bodies.reduce((sum, b) => sum + (b.reference ? 0 : b.volume), 0) ?? 0"
    @pointermove="hand.move"
    @pointerleave="work.sketch || (work.hover = '')"
    @pointerdown="press"
    @pointerup="hand.leave"
    @pointercancel="hand.lose"
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
    <ViewSprig
      v-bind="sight"
      @from="scene.stage?.lookFrom(new THREE.Vector3(...$event))"
      @turn="(x, y) => scene.stage?.turn(x, y)"
    />
    <PickList
      v-if="viewLook.under"
      :at="viewLook.under"
      @hover="work.hover = $event"
      @take="takeUnder"
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
