import type { BodyMessage } from './live'

/** Bodies as they are now: those that come by their keys alone are as they were. Null where one is not known. */
export function withGeometry(now: BodyMessage[], before: readonly BodyMessage[]): BodyMessage[] | null {
  const known = new Map(before.map((b) => [b.key, b]))
  const whole = now.map((b) => (b.same ? known.get(b.key) : b))
  return whole.every((b) => b !== undefined)
    ? whole.map((b, i) => ({ ...b, name: now[i]!.name, colour: now[i]!.colour }))
    : null
}
