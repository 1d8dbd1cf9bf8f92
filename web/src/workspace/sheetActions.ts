import type { PartCommand, StepView } from '../api/client'
import { useAsking } from '../stores/asking'
import { FROM_ABOVE, useChoice } from '../stores/choice'
import { useDatum } from '../stores/datum'
import { useForm } from '../stores/form'
import { useGauge } from '../stores/gauge'
import { useLook } from '../stores/look'
import { usePart } from '../stores/part'
import { useWork } from '../stores/work'
import { DATUMS, DRAWN, behind, bodiesIn, isHidden, isSolid, standingOn, type BodyIn } from './sheet'
import { MESH_UNITS } from '../stores/meshFiles'

/** What the rows of the build sheet ask of their list. */
export interface SheetRows {
  toggle(id: string): void
  open(id: string): void
  rename(id: string): void
  group(step: StepView): void
  replace(step: StepView): void
}

/** What can be done with the steps of the build sheet. */
export function useSheetActions(rows: SheetRows) {
  const part = usePart()
  const work = useWork()
  const datum = useDatum()
  const form = useForm()
  const gauge = useGauge()
  const asking = useAsking()
  const { wantsPlane, takePlane } = useChoice()
  const look = useLook()

  const send = (command: object): Promise<unknown> => part.send(command as PartCommand)

  /** Takes a row as a pick where a bench asks for one; answers whether it did. */
  function pick(step: StepView): boolean {
    if (work.sketch) return false
    if (wantsPlane() && work.isPlane(step.id)) {
      takePlane(step.id)
      return true
    }
    const bodies = part.built?.bodies ?? []
    if (gauge.open) {
      // A form's row stands for the body that it began, or for the only one there is.
      const name = isSolid(step) && bodies.length === 1 ? bodies[0]!.name : step.id
      void gauge.pick(name, false)
    } else if (form.open && form.answer?.draft.step.id !== step.id) void form.pick(step.id)
    else if (datum.open && datum.answer?.draft.step !== step.id) {
      const name = isSolid(step) ? bodies[0]?.name : step.kind === 'reading' ? undefined : step.id
      if (name) void datum.pick(name, FROM_ABOVE)
    } else return false
    return true
  }

  function edit(step: StepView): void {
    if (pick(step)) return
    if (step.kind === 'sketch') void work.enterSketch(step.id)
    else if (step.form) {
      work.leaveSketch()
      datum.close()
      work.bench = 'Form'
      void form.edit(step.id)
    } else if (DATUMS.includes(step.kind)) {
      work.leaveSketch()
      form.close()
      work.bench = 'Datum'
      void datum.edit(step.id)
    } else rows.toggle(step.id)
  }

  /** Gives a sketch a turn and a shift within its plane, to be edited among its sizes. */
  function place(s: StepView): void {
    const none = `0 ${part.snapshot?.units ?? 'mm'}`
    const { on } = s.step as { on: string }
    rows.open(s.id)
    void send({ command: 'place-sketch', step: s.id, on, turn: '0 deg', shiftX: none, shiftY: none })
  }

  /** Shows what a step hangs on, and what hangs on it. */
  function hangs(s: StepView): void {
    asking.why = { step: s.id, name: '' }
    asking.begin('why')
    look.card = 'ask'
  }

  function move(s: StepView, by: -1 | 1): void {
    const after = behind(part.snapshot?.steps ?? [], s.id, by)
    if (after !== undefined) void send({ command: 'move-step', step: s.id, after })
  }

  async function rename(step: StepView, name: string): Promise<void> {
    if (name && name !== step.name) await send({ command: 'rename-step', step: step.id, name })
  }

  function remove(s: StepView, anyway: boolean): void {
    if (work.sketch === s.id) work.leaveSketch()
    void send({ command: 'remove-step', step: s.id, anyway })
  }

  const group = (s: StepView, name: string | null): Promise<unknown> =>
    send({ command: 'group-steps', steps: [s.id], group: name?.trim() || null })

  const mend = (s: StepView, instead: string): Promise<unknown> =>
    send({ command: 'mend-reference', step: s.id, lost: part.states.get(s.id)?.lost ?? '', instead })

  const stopBelow = (below: number | null): Promise<unknown> => send({ command: 'set-stop-line', below })

  /** Takes a body of an imported file in, or leaves it out; what is refused stays as it was. */
  async function leaveOut(step: StepView, body: BodyIn, event: Event): Promise<void> {
    const box = event.target as HTMLInputElement
    await send({ command: 'leave-out-body', step: step.id, number: body.number, out: !box.checked })
    box.checked = bodiesIn(part.snapshot?.steps.find((s) => s.id === step.id) ?? step).some(
      (b) => b.number === body.number && b.taken,
    )
  }

  const showKind = (kind: string, shown: boolean): Promise<unknown> =>
    send({ command: 'show-kind', kind, shown })

  function choices(s: StepView): { label: string; run(): void }[] {
    const hanging = standingOn(part.snapshot?.steps ?? [], s.id).length
    const only = <T>(when: boolean, ...those: T[]): T[] => (when ? those : [])
    const hidden = isHidden(s)
    const suppress = { command: 'suppress-step', step: s.id, suppressed: !s.suppressed }
    return [
      { label: 'Edit', run: () => edit(s) },
      { label: 'Rename', run: () => rows.rename(s.id) },
      ...only(DRAWN.includes(s.kind), {
        label: hidden ? 'Show' : 'Hide',
        run: () => void send({ command: 'show-step', step: s.id, shown: hidden }),
      }),
      ...only(
        s.kind === 'sketch',
        { label: 'Move to another plane', run: () => (work.moving = s.id) },
        { label: 'Turn and shift its axes', run: () => place(s) },
        { label: 'Pick it, for copies in space', run: () => (work.picks = [...work.picks, s.id]) },
      ),
      ...only(s.kind === 'sketch' && !!(s.step as { like?: string }).like, {
        label: 'Make it a sketch of its own',
        run: () => void send({ command: 'own-sketch', step: s.id }),
      }),
      ...only(s.kind === 'frame', { label: 'Work in this frame', run: () => datum.workIn(s.id) }),
      {
        label: s.suppressed ? 'Build again' : hanging ? `Suppress, with ${hanging} on it` : 'Suppress',
        run: () => void send(suppress),
      },
      ...only(s.kind === 'import' || s.kind === 'mesh', {
        label: 'Put another file in its place',
        run: () => rows.replace(s),
      }),
      ...MESH_UNITS.filter((u) => s.kind === 'mesh' && (s.step as { unit?: string }).unit !== u.symbol).map(
        (u) => ({
          label: `Its numbers are ${u.words.toLowerCase()}`,
          run: () => void send({ command: 'set-mesh-unit', step: s.id, unit: u.symbol }),
        }),
      ),
      { label: 'What hangs on it', run: () => hangs(s) },
      { label: 'Move up', run: () => move(s, -1) },
      { label: 'Move down', run: () => move(s, 1) },
      { label: 'Duplicate', run: () => void send({ command: 'duplicate-step', step: s.id }) },
      s.group
        ? { label: `Take out of ${s.group}`, run: () => void group(s, null) }
        : { label: 'Put into a group', run: () => rows.group(s) },
      { label: 'Insert below', run: () => void stopBelow(s.number) },
      { label: 'Remove', run: () => remove(s, false) },
      ...only(hanging > 0, { label: `Remove, ${hanging} then wait`, run: () => remove(s, true) }),
    ]
  }

  return { edit, rename, group, mend, stopBelow, showKind, leaveOut, choices }
}
