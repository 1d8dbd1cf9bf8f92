import type { PartListing } from '../api/client'

export const ORDERS = {
  changed: 'changed last',
  name: 'name',
  steps: 'most steps',
  failing: 'failing first',
} as const
export type Order = keyof typeof ORDERS

/** The parts that a search and a tag leave, in an order. Every word that is searched for is in the name or begins a tag. */
export function listed(
  parts: readonly PartListing[],
  search: string,
  tag: string | null,
  order: Order,
): PartListing[] {
  const words = search.toLowerCase().split(/\s+/).filter(Boolean)
  const fits = (p: PartListing): boolean =>
    (tag === null || p.tags.some((t) => same(t, tag))) &&
    words.every((w) => p.name.toLowerCase().includes(w) || p.tags.some((t) => t.toLowerCase().startsWith(w)))
  const by: Record<Order, (a: PartListing, b: PartListing) => number> = {
    changed: (a, b) => b.changed.localeCompare(a.changed),
    name: (a, b) => a.name.localeCompare(b.name, undefined, { numeric: true }),
    steps: (a, b) => b.steps - a.steps,
    failing: (a, b) => b.failing - a.failing,
  }
  return parts.filter(fits).sort((a, b) => by[order](a, b) || by.changed(a, b))
}

/** Every tag once, in the order of the alphabet, as it is written first. */
export function tagsOf(parts: readonly PartListing[]): string[] {
  const known = new Map<string, string>()
  for (const t of parts.flatMap((p) => p.tags)) if (!known.has(t.toLowerCase())) known.set(t.toLowerCase(), t)
  return [...known.values()].sort((a, b) => a.localeCompare(b))
}

const same = (a: string, b: string): boolean => a.toLowerCase() === b.toLowerCase()
