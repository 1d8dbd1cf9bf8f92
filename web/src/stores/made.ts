import type { PartSnapshot } from '../api/client'

type StepView = PartSnapshot['steps'][number]

/** The step that a change makes; null where it was not done, or made none. */
export async function stepMade(
  part: { readonly snapshot: PartSnapshot | null },
  change: () => Promise<boolean>,
): Promise<StepView | null> {
  const before = new Set(part.snapshot?.steps.map((s) => s.id))
  if (!(await change())) return null
  return part.snapshot?.steps.find((s) => !before.has(s.id)) ?? null
}
