const KEY = 'offers-taken'
/** Kinds of offers that are remembered, and how often one counts at most: what was taken lately counts as much as what was taken always. */
const MOST_KINDS = 60
const MOST_TIMES = 20

function read(): Record<string, number> {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(KEY) ?? '{}')
    return kept && typeof kept === 'object' ? (kept as Record<string, number>) : {}
  } catch {
    return {}
  }
}

/** Notes that an offer was taken. */
export function took(id: string): void {
  const times = new Map(Object.entries(read()))
  const now = (Number(times.get(id)) || 0) + 1
  // Set anew, it stands last: what was not taken for longest is what falls out.
  times.delete(id)
  times.set(id, now)
  const all = [...times].slice(-MOST_KINDS)
  // Once one has come to the most, all count half: another habit can come up.
  const half = now >= MOST_TIMES
  localStorage.setItem(KEY, JSON.stringify(Object.fromEntries(all.map(([k, n]) => [k, half ? n / 2 : n]))))
}

/** Offers as they came, but within a group those that this user takes oftenest first. */
export function learned<T extends { id: string; group: string }>(offers: readonly T[]): T[] {
  const times = read()
  const often = (o: T): number => Number(times[o.id]) || 0
  const groups = [...new Set(offers.map((o) => o.group))]
  return groups.flatMap((g) => offers.filter((o) => o.group === g).sort((a, b) => often(b) - often(a)))
}
