/** The colours of what is free in a sketch, by how many ways it can still move: none, one, two, more. */
export const TEMPER = ['steel', 'bronze', 'copper', 'amber'] as const

/** The temper class of a number of freedoms. */
export function temper(freedoms: number): (typeof TEMPER)[number] {
  return TEMPER[Math.min(3, freedoms)]!
}
