import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { api, type PartCommand, type ToolView } from '../api/client'
import { MARKS } from '../icons/marks'
import type { AnswerMessage, CurveMessage, InputMessage, WayOutMessage } from '../api/live'
import { useDatum } from './datum'
import { useForm } from './form'
import { stepMade } from './made'
import { usePart } from './part'
import { useOffering } from './offering'
import { useClipboard } from './clipboard'
import { useTaking } from './taking'

/** What the user is doing: the sketch and tool in use, picks, offers, prompt. */
export const useWork = defineStore('work', () => {
  const part = usePart()
  const datum = useDatum()
  const form = useForm()
  /** How the model is looked at: from it to the eye, and as a frame (origin, x to the right, y up). */
  const view = { towards: [0, 0, 1], frame: [0, 0, 0, 1, 0, 0, 0, 1, 0] }
  const tools = ref<ToolView[]>([])
  const bench = ref('Draw')
  const sketch = ref<string | null>(null)
  const tool = ref<string | null>(null)
  const answer = shallowRef<AnswerMessage | null>(null)
  const picks = ref<string[]>([])
  const hover = ref('')
  /** Whether what is drawn becomes construction geometry. */
  const construction = ref(false)
  /** The sketch as something under the pointer would leave it, and what that touches. */
  const foreseen = shallowRef<CurveMessage[]>([])
  const touched = ref<string[]>([])
  /** What could be done instead of what was refused last. */
  const outs = shallowRef<WayOutMessage[]>([])
  /** A tool waiting for a plane to be picked. */
  const awaitingPlane = ref<string | null>(null)
  const pointer = { x: 0, y: 0, reach: 1 }
  /** The sketch that waits for another plane. */
  const moving = ref<string | null>(null)
  /** How much that changes what keys mean is still being answered: inputs other than moves, and what is done about a key. */
  const underWay = ref(0)
  /** Does something after the keys that were typed ahead. */
  const after = shallowRef<(act: () => Promise<void> | void) => void>((act) => void act())
  let waiting: InputMessage | null = null
  let busy: Promise<void> = Promise.resolve()

  const sketchView = computed(() => part.snapshot?.steps.find((s) => s.id === sketch.value)?.sketch ?? null)
  const { taking, apart, takingPrompt, seen, takeSeen, take } = useTaking(sketch, sketchView, picks)
  const freedoms = computed(() => (sketchView.value?.entities.length ? sketchView.value.freedoms : null))

  const { offers, asked, press, send, removePicked } = useOffering({
    sketch,
    bench,
    picks,
    answer,
    touched,
    outs,
    view,
    quiet,
    enterSketch,
  })
  const { copy, paste } = useClipboard(sketch, picks, pointer, send)

  async function loadTools(): Promise<void> {
    if (tools.value.length > 0) return
    const { data } = await api.GET('/api/tools')
    tools.value = data ?? []
    for (const tool of tools.value) {
      MARKS[tool.name] = tool.icon
    }
  }

  async function enterSketch(id: string, next = 'select'): Promise<void> {
    form.close()
    awaitingPlane.value = null
    taking.value = null
    datum.close()
    sketch.value = id
    picks.value = []
    await startTool(next)
  }

  function leaveSketch(): void {
    sketch.value = null
    taking.value = null
    tool.value = null
    answer.value = null
    picks.value = []
  }

  /** Makes a sketch on a plane or face and draws there. */
  async function sketchOn(reference: string, next = 'select'): Promise<void> {
    awaitingPlane.value = null
    const step = {
      kind: 'sketch' as const,
      id: '',
      number: 0,
      name: '',
      on: reference,
      sketch: { entities: [], constraints: [], dimensions: [], shapes: [] },
    }
    const made = await stepMade(
      part,
      async () => !(await part.send({ command: 'add-step', step } as PartCommand)),
    )
    if (made) await enterSketch(made.id, next)
  }

  /** Moves the waiting sketch to a plane. */
  async function moveTo(reference: string): Promise<void> {
    const step = part.snapshot?.steps.find((s) => s.id === moving.value)
    moving.value = null
    if (!step) return
    const { turn, shiftX, shiftY } = step.step as { turn?: string; shiftX?: string; shiftY?: string }
    await part.send({
      command: 'place-sketch',
      step: step.id,
      on: reference,
      turn,
      shiftX,
      shiftY,
    } as PartCommand)
  }

  /** Takes up a sketch tool, choosing a plane first where no sketch is open. */
  async function chooseTool(name: string): Promise<void> {
    if (sketch.value) return startTool(name)
    if (datum.quick) return fixQuick(name)
    const plane = picks.value.length === 1 && isPlane(picks.value[0]!) ? picks.value[0]! : null
    const none = !part.snapshot?.steps.some((s) => s.kind === 'sketch')
    if (plane || none) return sketchOn(plane ?? datum.active ?? 'world/xy', name)
    awaitingPlane.value = name
    form.close()
  }

  function isPlane(name: string): boolean {
    if (['world', 'world/xy', 'world/yz', 'world/xz'].includes(name)) return true
    if (part.snapshot?.steps.some((s) => s.id === name && ['plane', 'frame'].includes(s.kind))) return true
    return isFlatFace(name)
  }

  /** Whether a name is that of a flat face of a body. */
  function isFlatFace(name: string): boolean {
    return (part.built?.bodies ?? []).some((b) => b.surfaces[b.faces.indexOf(name)] === 'plane')
  }

  /** Takes up a tool, after what is under way. */
  function startTool(name: string): Promise<void> {
    const begun = busy.then(() => begin(name))
    busy = begun.catch(() => undefined)
    return counted(begun)
  }

  async function begin(name: string): Promise<void> {
    const live = part.live()
    if (!sketch.value || !live) return
    tool.value = name
    part.notice = null
    const before = picks.value
    picks.value = []
    quiet()
    const first = await live.startTool(sketch.value, name, before)
    if (first.revision > (part.snapshot?.revision ?? 0)) await part.refresh()
    if (first.picks) picks.value = first.picks
    answer.value = first
    outs.value = first.outs
  }

  /** Takes back whatever was only shown. */
  function quiet(): void {
    apart.value = null
    outs.value = []
    foreseen.value = []
    touched.value = []
    asked.value = null
  }

  /** What the pointer does where it is now. */
  function message(kind: InputMessage['kind'], extra: Partial<InputMessage>): InputMessage {
    const { x, y, reach } = pointer
    return { kind, x, y, reach, suppress: false, extend: false, construction: construction.value, ...extra }
  }

  /** Sends an input. Moves are coalesced: only the newest waits while one is under way. */
  function input(kind: InputMessage['kind'], extra: Partial<InputMessage> = {}): Promise<void> {
    const now = message(kind, extra)
    if (kind === 'move' || kind === 'drag') {
      const idle = waiting === null
      waiting = now
      if (!idle) return busy
      busy = busy.then(async () => {
        const next = waiting
        waiting = null
        if (next) await handOver(next)
      })
      return busy
    }
    busy = busy.then(() => handOver(now))
    return counted(busy)
  }

  /** Keys wait until this is done. */
  function counted<T>(done: Promise<T>): Promise<T> {
    underWay.value++
    return done.finally(() => underWay.value--)
  }

  /** Sends a click; where nothing of the sketch is under it, asks about what of the model is seen there. Whether
   *  anything is, shows only once the moves before it are answered. */
  function click(
    extra: Partial<InputMessage>,
    beyond: { name: string; ray: number[] } | null,
  ): Promise<void> {
    const now = message('click', extra)
    busy = busy.then(() =>
      beyond && !hover.value ? seen(beyond.name, beyond.ray, now).catch(interrupted) : handOver(now),
    )
    return counted(busy)
  }

  /** Resolves when everything sent so far has been answered. */
  const idle = (): Promise<void> => busy

  async function handOver(message: InputMessage): Promise<void> {
    const live = part.live()
    if (!live || !tool.value) return
    try {
      const next = await live.input(message)
      // A refusal stays readable until something else is done than moving.
      const moved = message.kind === 'move'
      if (moved && answer.value?.refusal && !next.refusal) next.refusal = answer.value.refusal
      if (!moved) {
        quiet()
        outs.value = next.outs
        part.notice = null
      }
      if (next.picks) picks.value = next.picks
      hover.value = next.hover
      const stale = next.revision > (part.snapshot?.revision ?? 0)
      if (stale) await part.refresh()
      // What a change did besides stays readable; what one would do goes with the pointer.
      if (stale && !moved && next.note) part.notice = next.note
      answer.value = next
      if (next.leave) {
        if (tool.value === 'select') leaveSketch()
        else await begin('select')
      }
    } catch {
      interrupted()
    }
  }

  function interrupted(): void {
    part.notice = 'The link to the server was interrupted; the last input was not used.'
  }

  /** Fixes the quick plane where it lies and draws on it. */
  async function fixQuick(next = 'line'): Promise<void> {
    const id = await keepQuick()
    if (!id) return
    bench.value = 'Draw'
    await sketchOn(id, next)
  }

  /** Keeps the quick plane as a datum; answers its id. */
  async function keepQuick(): Promise<string | null> {
    const command = datum.quick?.answer.command
    const was = datum.quick
    datum.close()
    if (!command) {
      part.notice = was?.answer.prompt ?? null
      return null
    }
    const made = await stepMade(part, async () => {
      const refused = await part.send(command)
      if (!refused) picks.value = []
      return !refused
    })
    return made?.id ?? null
  }

  async function startTaking(how: string): Promise<void> {
    await startTool('select')
    taking.value = how
    bench.value = 'Draw'
  }

  /** Takes up a form with what is picked; in a sketch, with that sketch. */
  async function startForm(kind: string): Promise<void> {
    const with_ = sketch.value ? [sketch.value] : [...picks.value]
    leaveSketch()
    datum.close()
    awaitingPlane.value = null
    bench.value = 'Form'
    await form.begin(kind, with_)
  }

  return {
    tools,
    bench,
    underWay,
    after,
    counted,
    sketch,
    tool,
    answer,
    picks,
    hover,
    offers,
    awaitingPlane,
    pointer,
    sketchView,
    freedoms,
    loadTools,
    enterSketch,
    leaveSketch,
    sketchOn,
    chooseTool,
    startTool,
    isPlane,
    isFlatFace,
    input,
    click,
    construction,
    foreseen,
    touched,
    outs,
    asked,
    quiet,
    send,
    removePicked,
    copy,
    paste,
    idle,
    press,
    view,
    moving,
    moveTo,
    taking,
    takingPrompt,
    take,
    apart,
    startTaking,
    takeSeen,
    fixQuick,
    keepQuick,
    startForm,
  }
})
