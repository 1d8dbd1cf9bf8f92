import type * as THREE from 'three'

const MOST = 200
const known = new Map<string, THREE.Material>()

/** One material for each look, made once and kept: a material that is thrown away takes its shader program along, and the next
 * like it has to be linked anew. Whoever changes a material takes one of their own instead. */
export function kept<M extends THREE.Material>(look: string, make: () => M): M {
  const found = known.get(look)
  if (found) {
    // The one used last goes to the end.
    known.delete(look)
    known.set(look, found)
    return found as M
  }
  const made = make()
  made.userData.kept = true
  known.set(look, made)
  if (known.size > MOST) forget()
  return made
}

/** Frees a material, unless it is kept for the next that looks like it. */
export function release(material: THREE.Material): void {
  if (!material.userData.kept) material.dispose()
}

/** Dashes follow the scale of the view, so looks come and go: the one unused for longest is let go. It may still be shown; then
 * it is only compiled once more. */
function forget(): void {
  const [look, material] = known.entries().next().value!
  known.delete(look)
  material.dispose()
}
