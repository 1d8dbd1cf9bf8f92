import { defineStore } from 'pinia'
import { computed, ref, watch } from 'vue'
import type { PartSnapshot } from '../api/client'
import type { RebuiltMessage } from '../api/live'
import { usePart } from './part'

/** What a step of the guide is about, how it can be done, and what on the screen is to be pressed next. */
export interface GuideStep {
  title: string
  /** One way; any other counts as well. */
  how: string
  keys: string
  /** What is pointed at, the first that is there. */
  at: string[]
  /** Whether the part shows that it was done, in whichever way. */
  done(seen: Seen): boolean
}

/** What the guide looks at. */
export interface Seen {
  part: PartSnapshot
  built: RebuiltMessage | null
  /** Whether the part was handed over as a file. */
  saved: boolean
}

const sketches = (part: PartSnapshot): NonNullable<PartSnapshot['steps'][number]['sketch']>[] =>
  part.steps.flatMap((s) => (s.sketch ? [s.sketch] : []))
const lines = (part: PartSnapshot): number =>
  Math.max(0, ...sketches(part).map((s) => s.entities.filter((e) => e.kind === 'line').length))
const bodies = (seen: Seen): number => seen.built?.bodies.filter((b) => !b.reference).length ?? 0

export const STEPS: readonly GuideStep[] = [
  {
    title: 'Draw a rectangle about the origin',
    how: 'Take the centred rectangle, click on the origin, then where a corner is to be.',
    keys: 'd  m',
    at: ['[data-tool=rectangle-centre]', '[data-bench=Draw]'],
    done: ({ part, built }) => lines(part) >= 4 || (built?.bodies.length ?? 0) > 0,
  },
  {
    title: 'Say how large it is',
    how: 'Type the width, Tab, the height, Enter while you draw; or take Dimension and click on its sides. The line below says what can still move.',
    keys: 's  d',
    at: ['[data-testid=prompt] input', '[data-tool=dimension]', '[data-bench=Size]'],
    done: ({ part, built }) =>
      (built?.bodies.length ?? 0) > 0 ||
      sketches(part).some((s) => s.dimensions.filter((d) => d.value).length >= 2),
  },
  {
    title: 'Put a hole into it',
    how: 'Draw a circle within the rectangle and give it a diameter; or drill it later, into the body.',
    keys: 'd  c',
    at: ['[data-tool=circle]', '[data-tool=hole]', '[data-bench=Draw]'],
    done: ({ part, built }) =>
      sketches(part).some((s) => s.entities.some((e) => e.kind === 'circle')) ||
      (built?.bodies ?? []).some((b) => b.surfaces.includes('cylinder')),
  },
  {
    title: 'Make it a body',
    how: 'Extrude the outline: type how thick, then accept.',
    keys: 'f  e',
    at: ['[data-testid=form-accept]', '[data-tool=extrude]', '[data-bench=Form]'],
    done: (seen) => bodies(seen) > 0,
  },
  {
    title: 'Place a plane, an axis or a point',
    how: 'Pick a face: what it determines is offered at the right. Press an offer, or take Plane and say how it stands.',
    keys: 'a  p',
    at: ['[data-testid=datum-accept]', '[data-tool=plane]', '[data-bench=Datum]'],
    done: ({ part }) => part.steps.some((s) => ['plane', 'axis', 'point', 'frame', 'curve'].includes(s.kind)),
  },
  {
    title: 'Measure it, and keep what you read',
    how: 'Pick two faces: their distance is among the offers; or take Volume. What is kept stays live.',
    keys: 'g  e',
    at: ['[data-tool=volume]', '[data-tool=measure]', '[data-bench=Gauge]'],
    done: ({ part }) => part.steps.some((s) => s.kind === 'reading'),
  },
  {
    title: 'Hand it over',
    how: 'Files, Export: choose STEP and save it.',
    keys: '',
    at: ['[data-testid=export-write]', '[data-testid=export]', '[data-testid=files]'],
    done: ({ saved }) => saved,
  },
]

const KEY = 'guide'

/** A start with the user's own first part: it waits for each deed, however it is done; it can be left and taken up. */
export const useGuide = defineStore('guide', () => {
  const part = usePart()
  const on = ref(localStorage.getItem(KEY) === 'on')
  const saved = ref(false)
  watch(on, (now) => localStorage.setItem(KEY, now ? 'on' : 'off'))

  const done = computed(() => {
    const snapshot = part.snapshot
    if (!snapshot) return STEPS.map(() => false)
    const seen = { part: snapshot, built: part.built, saved: saved.value }
    return STEPS.map((s) => s.done(seen))
  })
  /** The first that was not done yet; past the last when all are. */
  const at = computed(() => {
    const first = done.value.indexOf(false)
    return first < 0 ? STEPS.length : first
  })

  function begin(): void {
    on.value = true
    saved.value = false
  }

  return { on, saved, done, at, begin }
})
