import { ref } from 'vue'
import { useChoice } from '../stores/choice'
import { useDatum } from '../stores/datum'
import { useForm } from '../stores/form'
import { useGauge } from '../stores/gauge'
import { useLook } from '../stores/look'
import { usePart } from '../stores/part'
import { useWork } from '../stores/work'
import { toggled, type Scene } from './scene'

/** How near a click has to come to something thin, and how far a press moves before it is a drag; pixels. */
const REACH = 9
const DRAG_START = 4
/** The sine of the flattest view of a plane that can be drawn on. */
const EDGE_ON = Math.sin((5 * Math.PI) / 180)

type Place = { x: number; y: number }

/** What pointing into the picture means: drawing in the open sketch, picking for the bench that asks, or just picking. */
export function usePointing(scene: Scene) {
  const part = usePart()
  const work = useWork()
  const { choose, takePlane } = useChoice()
  const datum = useDatum()
  const form = useForm()
  const gauge = useGauge()
  const look = useLook()
  /** What would be taken into the sketch. */
  const taken = ref('')
  let down: (Place & { dragging: boolean }) | null = null
  let rightDown: Place | null = null
  /** Where what lies under the pointer was listed, as the line of sight there. */
  let sight: number[] = []

  const moved = (event: PointerEvent, since: Place): boolean =>
    Math.hypot(event.clientX - since.x, event.clientY - since.y) > DRAG_START

  function locate(event: PointerEvent): boolean {
    const plane = scene.active.value
    if (!scene.stage || !plane) return false
    const ray = scene.stage.ray(event)
    const at = plane.meet(ray)
    if (!at || Math.abs(plane.normal.dot(ray.direction)) < EDGE_ON) {
      void part
        .live()
        ?.edgeOn(work.sketch!, work.view.towards)
        .then((words) => (part.notice = words ?? 'The plane is seen edge-on; turn the view to draw on it.'))
      return false
    }
    Object.assign(work.pointer, at, { reach: REACH * scene.stage.perPixel() })
    return true
  }

  function onMove(event: PointerEvent): void {
    if (scene.datums.drag(event)) return
    if (work.sketch && work.taking) {
      if (!event.buttons) taken.value = underModel(event)
    } else if (work.sketch) moveInSketch(event)
    else if (!event.buttons) work.hover = under(event)
  }

  function moveInSketch(event: PointerEvent): void {
    if (!locate(event)) return
    if (down && !down.dragging && moved(event, down) && work.tool === 'select') {
      down.dragging = true
      void work.input('dragStart', startOf(down))
    }
    void work.input(down?.dragging ? 'drag' : 'move', { suppress: event.altKey })
  }

  function startOf(at: Place): Place {
    const p = scene.stage && scene.active.value?.meet(scene.stage.ray({ clientX: at.x, clientY: at.y }))
    return p ?? { x: work.pointer.x, y: work.pointer.y }
  }

  function under(event: PointerEvent): string {
    const { datums, bodies } = scene
    if (work.awaitingPlane || work.moving) return datums.pick(event) || (bodies?.pick(event) ?? '')
    return underModel(event) || datums.pick(event)
  }

  /** Points and lines of datums and sketches first, then what is on the body. */
  function underModel(event: PointerEvent): string {
    return scene.datums.near(event, scene.bodies?.depth(event)) || (scene.bodies?.pick(event) ?? '')
  }

  function onDown(event: PointerEvent): void {
    look.under = null
    if (event.button === 2) rightDown = { x: event.clientX, y: event.clientY }
    if (event.button !== 0 || (!work.sketch && scene.datums.grab(event))) return
    down = { x: event.clientX, y: event.clientY, dragging: false }
  }

  function onUp(event: PointerEvent): void {
    if (scene.datums.drop()) return
    if (event.button === 2) return listUnder(event)
    if (event.button !== 0 || !down) return
    const was = down
    down = null
    if (work.sketch && work.taking) {
      const name = underModel(event)
      if (name) void work.take(name)
    } else if (work.sketch) leaveOffInSketch(event, was.dragging)
    else if (!moved(event, was)) pickModel(event)
  }

  function leaveOffInSketch(event: PointerEvent, dragging: boolean): void {
    if (!locate(event)) return
    const extra = { suppress: event.altKey, extend: event.shiftKey || event.ctrlKey }
    if (dragging) return void work.input('dragEnd', extra)
    const at = { ...work.pointer }
    // Where nothing of the sketch is there, something of the model may only look as if it met the sketch.
    const picking = work.tool === 'select' || work.tool?.startsWith('tie-')
    const name = picking && (scene.datums.near(event) || (scene.bodies?.pick(event, false) ?? ''))
    const ray = name ? scene.datums.ray(event) : []
    work.after(() => work.click({ ...extra, ...at }, name ? { name, ray } : null))
  }

  function pickModel(event: PointerEvent): void {
    const name = under(event)
    const more = event.shiftKey || event.ctrlKey
    if (form.open) pickForForm(event, name)
    else if (gauge.open) {
      if (name) void gauge.pick(name, more)
    } else if (!work.awaitingPlane && !work.moving && scene.datums.click(event, name)) return
    else if (datum.quick) void work.fixQuick()
    else if (name && (work.moving || work.awaitingPlane)) takePlane(name)
    else if (!name) work.picks = []
    else work.picks = more ? toggled(work.picks, name) : [name]
  }

  /** The plane that a sketch waits for: one that is moved, or one that is begun. */
  /** While a form is made: a region of its sketch where those are being chosen, otherwise whatever is there. */
  function pickForForm(event: PointerEvent, name: string): void {
    const layer = form.choosing && form.sketch ? scene.layers.get(form.sketch) : undefined
    const region = layer && scene.stage ? layer.regionAt(scene.stage.ray(event)) : ''
    if (region) void form.pick(region, 'regions')
    else if (name && form.places && work.isFlatFace(name))
      void form.place(name, scene.datums.ray(event), scene.stage?.perPixel() ?? 1)
    else if (name) void form.pick(name)
  }

  /** Takes back what was begun by a press: nothing is drawn or picked where it ends. */
  function cancel(): void {
    const was = down
    down = null
    scene.datums.drop()
    if (work.sketch && was?.dragging) void work.input('dragEnd')
  }

  /** A right click that does not turn the view lists what lies under the pointer. */
  function listUnder(event: PointerEvent): void {
    const was = rightDown
    rightDown = null
    if (was && !moved(event, was)) list(event)
  }

  /** Lists what lies under the pointer; in a sketch there is nothing under anything. */
  function list(event: PointerEvent): void {
    if (work.sketch) return
    const { datums, bodies } = scene
    const box = scene.host()!.getBoundingClientRect()
    const all = [datums.near(event), ...(bodies?.pickAll(event) ?? []), datums.pick(event)]
    const names = [...new Set(all)].filter(Boolean)
    sight = datums.ray(event)
    look.under = names.length > 0 ? { x: event.clientX - box.left, y: event.clientY - box.top, names } : null
  }

  /** Takes one of what is listed. */
  function takeUnder(name: string, more: boolean): void {
    look.under = null
    choose(name, more, sight)
  }

  /** Constraints and sizes are picked by their marks. */
  function pickRule(id: string, event: MouseEvent): void {
    if (work.tool !== 'select') return
    work.picks = event.shiftKey || event.ctrlKey ? toggled(work.picks, id) : [id]
  }

  return { taken, onMove, onDown, onUp, cancel, list, takeUnder, pickRule }
}
