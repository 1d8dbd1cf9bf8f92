import type { StepView } from '../api/client'
import type { StepState } from '../api/live'

/** Kinds of steps that the Datum bench makes and edits. */
export const DATUMS = ['plane', 'axis', 'point', 'frame', 'curve']

/** Kinds of steps that are drawn by themselves and can be hidden. */
export const DRAWN = [...DATUMS, 'sketch', 'mesh']

/** Whether a step makes or changes bodies. */
export const isSolid = (step: StepView): boolean => step.kind === 'import' || step.form

export interface Row {
  step: StepView
  /** Named where a group begins here. */
  begins: string | null
}

/** The rows that a search leaves; a group begins where its first step stands. */
export function sheetRows(steps: readonly StepView[], search: string): Row[] {
  const wanted = search.trim().toLowerCase()
  const found = (s: StepView): boolean =>
    [s.name, s.kind, s.summary, String(s.number)].some((t) => t.toLowerCase().includes(wanted))
  const all = steps.filter((s) => !wanted || found(s))
  return all.map((step, i) => ({
    step,
    begins: step.group && all[i - 1]?.group !== step.group ? step.group : null,
  }))
}

/** A body of an imported file. */
export interface BodyIn {
  number: number
  name: string
  colour: string
  taken: boolean
}

/** The bodies of an imported file that holds several. */
export function bodiesIn(s: StepView): BodyIn[] {
  if (s.step.kind !== 'import') return []
  const {
    bodies = [],
    colours = [],
    leftOut = [],
  } = s.step as {
    bodies?: string[]
    colours?: string[]
    leftOut?: string[]
  }
  return bodies.map((name, i) => ({
    number: i + 1,
    name: name || `body ${i + 1}`,
    colour: colours[i] ?? '',
    taken: !leftOut.includes(`${i + 1}`),
  }))
}

/** Steps that stand on one, directly or through others. */
export function standingOn(steps: readonly StepView[], id: string): StepView[] {
  const found = new Set([id])
  for (const s of steps) if (s.parents.some((p) => found.has(p))) found.add(s.id)
  found.delete(id)
  return steps.filter((s) => found.has(s.id))
}

/** The step that one comes to stand behind when it is moved by one row: null for the start, undefined where it cannot go. */
export function behind(steps: readonly StepView[], id: string, by: -1 | 1): string | null | undefined {
  const at = steps.findIndex((s) => s.id === id)
  if (by < 0) return at < 1 ? undefined : (steps[at - 2]?.id ?? null)
  return steps[at + 1]?.id
}

/** Whether a step is hidden as it stands; a sketch is unless it is asked for. */
export const isHidden = (s: StepView): boolean =>
  s.hidden === true || (s.kind === 'sketch' && s.hidden !== false)

/** What is edited in the row itself; the limits of readings have their table. */
export const mainSize = (s: StepView): StepView['sizes'][number] | undefined =>
  s.sketch || s.kind === 'reading' ? undefined : s.sizes[0]

/** Whether the name has the room of the main size as well; of a reading it shares it with the value. */
export const wide = (s: StepView): boolean => s.sketch != null || s.sizes.length === 0 || s.kind === 'reading'

/** What is worth knowing of a step that was built. */
export const noteOf = (state: StepState | undefined): string =>
  state?.state === 'built' ? state.message : ''

/** How a step stands, in a word or by its value. */
export function standing(s: StepView, state: StepState | undefined): { text: string; bad: boolean } {
  if (s.suppressed) return { text: 'left out', bad: false }
  if (!state) return { text: '…', bad: false }
  if (state.state === 'failed') return { text: 'fails', bad: true }
  if (state.state === 'waiting') return { text: 'waits', bad: true }
  if (state.state === 'left') return { text: 'not built', bad: false }
  if (state.reading) return { text: state.reading, bad: state.verdict === 'fail' }
  if (s.sketch) return { text: s.sketch.freedoms === 0 ? 'set' : `${s.sketch.freedoms} free`, bad: false }
  return { text: '', bad: false }
}
