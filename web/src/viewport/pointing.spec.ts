import * as THREE from 'three'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { SketchPlane } from '../stores/plane'
import type { Scene } from './scene'

/** The stores, as far as pointing asks of them. */
const work = {
  sketch: null as string | null,
  tool: 'select',
  taking: null as string | null,
  hover: '',
  picks: [] as string[],
  pointer: { x: 0, y: 0, reach: 0 },
  view: { towards: [0, 0, 1] },
  awaitingPlane: null as string | null,
  moving: null as string | null,
  input: vi.fn(),
  click: vi.fn(),
  after: (act: () => void) => act(),
  take: vi.fn(),
  fixQuick: vi.fn(),
  sketchOn: vi.fn(),
  moveTo: vi.fn(),
  isPlane: (name: string) => name.endsWith('top'),
}
const live = { edgeOn: vi.fn(async () => 'Seen edge-on.') }
const part = { notice: null as string | null, live: () => live }
const datum = { open: false, quick: null as object | null, pick: vi.fn() }
const form = { open: false, choosing: false, sketch: null as string | null, pick: vi.fn() }
const gauge = { open: false, pick: vi.fn() }
const look = { under: null as { x: number; y: number; names: string[] } | null }
vi.mock('../stores/work', () => ({ useWork: () => work }))
vi.mock('../stores/part', () => ({ usePart: () => part }))
vi.mock('../stores/datum', () => ({ useDatum: () => datum }))
vi.mock('../stores/form', () => ({ useForm: () => form }))
vi.mock('../stores/gauge', () => ({ useGauge: () => gauge }))
vi.mock('../stores/look', () => ({ useLook: () => look }))
const { usePointing } = await import('./pointing')

/** What lies where the pointer is: on bodies, by depth, and of datums. One pixel is a millimetre, seen from above. */
const there = { bodies: [] as string[], near: '', datum: '', grip: false, dropped: false, takes: false }
let edgeOn = false
const plane = new SketchPlane([0, 0, 0, 1, 0, 0, 0, 1, 0])
const scene = {
  host: () => ({ getBoundingClientRect: () => ({ left: 100, top: 50 }) }),
  stage: {
    perPixel: () => 0.5,
    ray: (e: { clientX: number; clientY: number }) =>
      new THREE.Ray(
        new THREE.Vector3(e.clientX, e.clientY, 100),
        edgeOn ? new THREE.Vector3(1, 0, 0) : new THREE.Vector3(0, 0, -1),
      ),
  },
  bodies: {
    pick: () => there.bodies[0] ?? '',
    pickAll: () => there.bodies,
    depth: () => 1,
  },
  layers: new Map([['profile', { regionAt: () => 'region-1' }]]),
  datums: {
    near: () => there.near,
    pick: () => there.datum,
    ray: (e: { clientX: number; clientY: number }) => [e.clientX, e.clientY, 100, 0, 0, -1],
    drag: () => there.grip,
    grab: () => there.grip,
    drop: () => there.dropped,
    click: () => there.takes,
  },
  active: {
    get value() {
      return work.sketch ? plane : null
    },
  },
} as unknown as Scene

const event = (x: number, y: number, more: Partial<PointerEvent> = {}): PointerEvent =>
  ({ clientX: x, clientY: y, button: 0, buttons: 0, ...more }) as PointerEvent
let pointing: ReturnType<typeof usePointing>
/** A press and a release, the second where it is said. */
function click(x: number, y: number, more: Partial<PointerEvent> = {}, to: [number, number] = [x, y]): void {
  pointing.onDown(event(x, y, more))
  pointing.onUp(event(...to, more))
}

beforeEach(() => {
  vi.clearAllMocks()
  edgeOn = false
  Object.assign(there, { bodies: [], near: '', datum: '', grip: false, dropped: false, takes: false })
  Object.assign(work, {
    sketch: null,
    tool: 'select',
    taking: null,
    hover: '',
    picks: [],
    awaitingPlane: null,
    moving: null,
  })
  Object.assign(datum, { open: false, quick: null })
  Object.assign(form, { open: false, choosing: false, sketch: null })
  Object.assign(gauge, { open: false })
  part.notice = null
  look.under = null
  pointing = usePointing(scene)
})

describe('picking from the model', () => {
  it('takes what is there, adds with shift, and lets go of it over nothing', () => {
    there.bodies = ['e/top', 'e/bottom']
    click(10, 10)
    expect(work.picks).toEqual(['e/top'])
    there.bodies = ['e/side']
    click(10, 10, { shiftKey: true })
    expect(work.picks).toEqual(['e/top', 'e/side'])
    click(10, 10, { ctrlKey: true })
    expect(work.picks).toEqual(['e/top'])
    there.bodies = []
    click(10, 10)
    expect(work.picks).toEqual([])
  })

  it('takes points and lines of datums before faces, and planes of datums only beside the model', () => {
    Object.assign(there, { near: 'axis', bodies: ['e/top'], datum: 'world/xy' })
    click(1, 1)
    expect(work.picks).toEqual(['axis'])
    there.near = ''
    click(1, 1)
    expect(work.picks).toEqual(['e/top'])
    there.bodies = []
    click(1, 1)
    expect(work.picks).toEqual(['world/xy'])
  })

  it('picks nothing where the press was a turn of the view', () => {
    there.bodies = ['e/top']
    click(10, 10, {}, [30, 10])
    expect(work.picks).toEqual([])
  })

  it('shows what would be picked while no button is held', () => {
    there.bodies = ['e/top']
    pointing.onMove(event(1, 1))
    expect(work.hover).toBe('e/top')
    there.bodies = ['e/side']
    pointing.onMove(event(1, 1, { buttons: 1 }))
    expect(work.hover).toBe('e/top')
  })

  it('leaves picks alone where a datum takes the click', () => {
    there.takes = true
    there.bodies = ['e/top']
    click(1, 1)
    expect(work.picks).toEqual([])
  })

  it('gives a quick plane its place', () => {
    datum.quick = {}
    click(1, 1)
    expect(work.fixQuick).toHaveBeenCalledOnce()
  })
})

describe('a sketch that waits for a plane', () => {
  it('is begun on a flat thing and says so where it is not flat', () => {
    work.awaitingPlane = 'line'
    there.bodies = ['e/side']
    click(1, 1)
    expect(part.notice).toBe('That is not planar; pick a plane or a planar face.')
    expect(work.sketchOn).not.toHaveBeenCalled()
    there.bodies = ['e/top']
    click(1, 1)
    expect(work.sketchOn).toHaveBeenCalledWith('e/top', 'line')
  })

  it('prefers planes of datums to faces, and can be moved to another', () => {
    work.moving = 'profile'
    Object.assign(there, { datum: 'tilted-top', bodies: ['e/side'] })
    click(1, 1)
    expect(work.moveTo).toHaveBeenCalledWith('tilted-top')
  })
})

describe('drawing', () => {
  beforeEach(() => {
    work.sketch = 'profile'
  })

  it('sends moves in the coordinates of the sketch, with the reach of the pointer', () => {
    work.tool = 'line'
    pointing.onMove(event(12, 34, { altKey: true }))
    expect(work.input).toHaveBeenCalledWith('move', { suppress: true })
    expect(work.pointer).toMatchObject({ x: 12, y: 34, reach: 4.5 })
  })

  it('sends nothing where the plane is seen edge-on, and says why', async () => {
    edgeOn = true
    pointing.onMove(event(1, 1))
    await Promise.resolve()
    await Promise.resolve()
    expect(work.input).not.toHaveBeenCalled()
    expect(part.notice).toBe('Seen edge-on.')
  })

  it('begins a drag where the press was, once it has gone far enough', () => {
    pointing.onDown(event(10, 10))
    pointing.onMove(event(12, 10))
    expect(work.input).toHaveBeenLastCalledWith('move', { suppress: undefined })
    pointing.onMove(event(20, 10))
    expect(work.input.mock.calls.map((c) => c[0])).toEqual(['move', 'dragStart', 'drag'])
    expect(work.input.mock.calls[1]![1]).toEqual({ x: 10, y: 10 })
    pointing.onUp(event(22, 10))
    expect(work.input).toHaveBeenLastCalledWith('dragEnd', { suppress: undefined, extend: undefined })
    expect(work.click).not.toHaveBeenCalled()
  })

  it('drags with the pointer tool alone', () => {
    work.tool = 'line'
    pointing.onDown(event(10, 10))
    pointing.onMove(event(40, 10))
    pointing.onUp(event(40, 10))
    expect(work.input.mock.calls.map((c) => c[0])).toEqual(['move'])
    expect(work.click).toHaveBeenCalledOnce()
  })

  it('tells what of the model lies beyond a click where things are picked, and only there', () => {
    there.bodies = ['e/top']
    click(5, 6, { shiftKey: true })
    expect(work.click).toHaveBeenLastCalledWith(
      { suppress: undefined, extend: true, x: work.pointer.x, y: work.pointer.y, reach: work.pointer.reach },
      { name: 'e/top', ray: [5, 6, 100, 0, 0, -1] },
    )
    work.tool = 'tie-parallel'
    click(5, 6)
    expect(work.click.mock.lastCall![1]).toMatchObject({ name: 'e/top' })
    work.tool = 'circle'
    click(5, 6)
    expect(work.click.mock.lastCall![1]).toBeNull()
    Object.assign(work, { tool: 'select' })
    there.bodies = []
    click(5, 6)
    expect(work.click.mock.lastCall![1]).toBeNull()
  })

  it('takes from the model what is there while that is asked for', () => {
    work.taking = 'copy'
    there.bodies = ['e/top']
    pointing.onMove(event(1, 1))
    expect(pointing.taken.value).toBe('e/top')
    click(1, 1)
    expect(work.take).toHaveBeenCalledWith('e/top')
    there.bodies = []
    click(1, 1)
    expect(work.take).toHaveBeenCalledOnce()
  })

  it('picks constraints and sizes by their marks with the pointer tool', () => {
    pointing.pickRule('d1', event(0, 0) as MouseEvent)
    pointing.pickRule('d2', event(0, 0, { shiftKey: true }) as MouseEvent)
    expect(work.picks).toEqual(['d1', 'd2'])
    work.tool = 'line'
    pointing.pickRule('d3', event(0, 0) as MouseEvent)
    expect(work.picks).toEqual(['d1', 'd2'])
  })
})

describe('benches that ask', () => {
  it('gives a form what is there, or a region of its sketch while those are chosen', () => {
    form.open = true
    there.bodies = ['e/top']
    click(1, 1)
    expect(form.pick).toHaveBeenLastCalledWith('e/top')
    Object.assign(form, { choosing: true, sketch: 'profile' })
    click(1, 1)
    expect(form.pick).toHaveBeenLastCalledWith('region-1', 'regions')
  })

  it('gives the gauge what is there and nothing over nothing', () => {
    gauge.open = true
    click(1, 1)
    expect(gauge.pick).not.toHaveBeenCalled()
    there.bodies = ['e/top']
    click(1, 1, { shiftKey: true })
    expect(gauge.pick).toHaveBeenCalledWith('e/top', true)
  })
})

describe('what lies under the pointer', () => {
  const rightClick = (x: number, y: number, to: [number, number] = [x, y]): void =>
    click(x, y, { button: 2 }, to)

  it('is listed by depth, each once', () => {
    Object.assign(there, { near: 'axis', bodies: ['e/top', 'axis', 'e/bottom'], datum: 'world/xy' })
    rightClick(130, 90)
    expect(look.under).toEqual({ x: 30, y: 40, names: ['axis', 'e/top', 'e/bottom', 'world/xy'] })
    rightClick(130, 90, [180, 90])
    expect(look.under).toBeNull()
  })

  it('is not listed over nothing or in a sketch', () => {
    rightClick(130, 90)
    expect(look.under).toBeNull()
    there.bodies = ['e/top']
    work.sketch = 'profile'
    rightClick(130, 90)
    expect(look.under).toBeNull()
  })

  it('goes to whoever asks; a datum hears where it was seen', () => {
    there.bodies = ['e/top', 'e/bottom']
    rightClick(130, 90)
    datum.open = true
    pointing.takeUnder('e/bottom', false)
    expect(datum.pick).toHaveBeenCalledWith('e/bottom', [130, 90, 100, 0, 0, -1])
    expect(look.under).toBeNull()
    datum.open = false
    gauge.open = true
    pointing.takeUnder('e/bottom', true)
    expect(gauge.pick).toHaveBeenCalledWith('e/bottom', true)
    gauge.open = false
    form.open = true
    pointing.takeUnder('e/bottom', false)
    expect(form.pick).toHaveBeenCalledWith('e/bottom')
    form.open = false
    pointing.takeUnder('e/bottom', false)
    pointing.takeUnder('e/top', true)
    expect(work.picks).toEqual(['e/bottom', 'e/top'])
  })
})

describe('a press that is taken back', () => {
  it('draws and picks nothing where it ends', () => {
    work.sketch = 's1'
    work.tool = 'line'
    pointing.onDown(event(10, 10))
    pointing.cancel()
    pointing.onUp(event(10, 10))
    expect(work.click).not.toHaveBeenCalled()
    work.sketch = null
    pointing.onDown(event(10, 10))
    pointing.cancel()
    there.bodies = ['a/top']
    pointing.onUp(event(10, 10))
    expect(work.picks).toEqual([])
  })

  it('ends a drag that was begun', () => {
    work.sketch = 's1'
    work.tool = 'select'
    pointing.onDown(event(10, 10))
    pointing.onMove(event(40, 10, { buttons: 1 }))
    pointing.cancel()
    expect(work.input.mock.calls.map((c) => c[0] as string)).toEqual(['dragStart', 'drag', 'dragEnd'])
  })

  it('lists what lies there where a finger rests, but not in a sketch', () => {
    there.bodies = ['a/top']
    pointing.list(event(110, 60))
    expect(look.under).toEqual({ x: 10, y: 10, names: ['a/top'] })
    look.under = null
    work.sketch = 's1'
    pointing.list(event(110, 60))
    expect(look.under).toBeNull()
  })
})
