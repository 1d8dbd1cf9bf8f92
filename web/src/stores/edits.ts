import type { DimensionView, PartCommand } from '../api/client'

/** The command that changes a sketch; `what` says it in the list of undo. */
export function editSketch(step: string | null, what: string, edit: object | null | undefined): PartCommand {
  return { command: 'edit-sketch', step, what, edit } as unknown as PartCommand
}

/** The same command for one dimension: its formula (null for a reference) and where its text is put (null: by itself). */
export function resize(
  step: string | null,
  what: string,
  d: DimensionView,
  value: string | null,
  textAt: [number, number] | null = null,
): PartCommand {
  return editSketch(step, what, { size: [{ id: d.id, kind: d.kind, of: d.of, value, textAt }] })
}
