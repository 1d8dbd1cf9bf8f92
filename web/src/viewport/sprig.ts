/** An end of an axis as it is seen: where on a circle of radius one, how near (-1 to 1), and from where it is looked at when pressed. */
export interface Tip {
  axis: 'x' | 'y' | 'z'
  /** Of the positive end 1, else -1. */
  sign: 1 | -1
  x: number
  y: number
  near: number
  from: [number, number, number]
}

/**
 * The six ends of the world's axes as a camera sees them, the farthest first, so that nearer ones are drawn over them.
 * @param right The camera's x in the world, of length one.
 * @param up Its y.
 * @param back Its z, from what it looks at to the eye.
 */
export function tips(right: number[], up: number[], back: number[]): Tip[] {
  const found: Tip[] = []
  for (const [i, axis] of (['x', 'y', 'z'] as const).entries())
    for (const sign of [1, -1] as const) {
      const from: [number, number, number] = [0, 0, 0]
      from[i] = sign
      found.push({ axis, sign, x: sign * right[i]!, y: -sign * up[i]!, near: sign * back[i]!, from })
    }
  return found.sort((a, b) => a.near - b.near)
}
